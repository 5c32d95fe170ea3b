import { Button } from "react-bootstrap";
import type { Answer, Catalogue, Plate, PrintReport } from "../../api/client";
import { askForKeys } from "../../shared/keys";
import { percent } from "../../shared/numbers";
import { Tip } from "../../shared/Tip";
import { useRoving } from "../../shared/roving";
import { type Pictures, useAsked, usePicture } from "../../live/pictures";
import { type Highlight, summarised } from "./useJudging";

type Limits = Catalogue["limits"];

interface FiguresLineProps {
  limits: Limits;
  answer: Answer | undefined;
  isBusy: boolean;
  plate: Plate | undefined;
  reports: PrintReport[] | undefined;
  lostShare: number | undefined;
  /** Whether the slow figures are of the sheet as it is now. */
  isFresh: boolean;
  highlight: Highlight | null;
  onHighlight: (highlight: Highlight | null) => void;
}

const TIPS: Record<Highlight, string> = {
  thin: "The thinnest line on the sheet. Press to see where lines are too thin for a press",
  narrow: "The narrowest gap between inks. Press to see where gaps may fill",
  specks: "Pieces too small to print. Press to see where",
  lost: "Where the photo has detail and the drawing is bare or solid. Press to see it (X)",
};

/** The figures of the main picture, with whether a newer one is awaited. */
export function LiveFigures(
  props: Omit<FiguresLineProps, "answer" | "isBusy"> & { pictures: Pictures },
) {
  const answer = usePicture(props.pictures, "main")?.answer;
  const asked = useAsked(props.pictures);
  const isBusy = (answer?.ask ?? 0) < asked || answer?.draft === true;
  return <FiguresLine {...props} answer={answer} isBusy={isBusy} />;
}

/** What a printer wants to know of the drawing, and how long it took. */
export function FiguresLine(props: FiguresLineProps) {
  const { answer, isBusy, reports } = props;
  const roving = useRoving<HTMLElement>();
  const figures = answer?.figures;
  const own = figures?.plates.find((each) => each.plate === props.plate?.id);
  const summary = reports && summarised(reports);
  const stale = props.isFresh ? "" : " figure-stale";

  function toggle(highlight: Highlight) {
    props.onHighlight(props.highlight === highlight ? null : highlight);
  }

  function link(highlight: Highlight, isBad: boolean, words: React.ReactNode) {
    return (
      <Tip words={TIPS[highlight]} side="top">
        <Button
          variant="link"
          className={`figure-link${stale}${isBad ? " figure-bad" : ""}`}
          aria-pressed={props.highlight === highlight}
          onClick={() => toggle(highlight)}
        >
          {isBad && <span aria-hidden="true">▲ </span>}
          {words}
        </Button>
      </Tip>
    );
  }

  return (
    <footer
      className="figures"
      aria-label="Figures"
      data-area="the figures"
      data-fresh={props.isFresh}
      {...roving}
    >
      {figures && (
        <span>
          ink <strong data-testid="ink">{percent(figures.ink)}</strong>
        </span>
      )}
      {own && figures && (
        <span
          data-testid="plate-ink"
          title="Ink of this plate alone, of the others without it, of all together"
        >
          alone {percent(own.alone)} · without {percent(own.without)}
        </span>
      )}
      {answer?.prints != null && (
        <span title="Share of the sheet on which this plate may print, by its mask">
          prints on <strong data-testid="prints">{percent(answer.prints)}</strong>
        </span>
      )}
      {figures?.marks != null && (
        <span>
          marks <strong data-testid="marks">{figures.marks.toLocaleString("en-GB")}</strong>
        </span>
      )}
      {summary &&
        !summary.isGrey &&
        link(
          "thin",
          summary.thinnest !== null && summary.thinnest < props.limits.thin_mm,
          <>
            thinnest <strong>{width(summary.thinnest, summary.precision)}</strong>
          </>,
        )}
      {summary &&
        !summary.isGrey &&
        link(
          "narrow",
          summary.narrowest !== null && summary.narrowest < props.limits.narrow_mm,
          <>
            gap <strong>{width(summary.narrowest, summary.precision)}</strong>
          </>,
        )}
      {summary &&
        !summary.isGrey &&
        link(
          "specks",
          summary.specks > 0,
          <strong>
            {summary.specks.toLocaleString("en-GB")} {summary.specks === 1 ? "speck" : "specks"}
          </strong>,
        )}
      {summary?.isGrey && (
        <span className={stale} title="A printer screens greys; they have no lines">
          greys
        </span>
      )}
      {props.lostShare !== undefined &&
        link(
          "lost",
          false,
          <>
            lost detail <strong data-testid="lost">{percent(props.lostShare)}</strong>
          </>,
        )}
      <span className="figures-time">
        {isBusy ? "drawing…" : answer ? `${answer.ms.toFixed(0)} ms` : ""}
      </span>
      <button type="button" className="figures-keys" onClick={askForKeys}>
        <kbd>?</kbd> keys
      </button>
    </footer>
  );
}

function width(mm: number | null, precision: number): string {
  if (mm === null) return "none";
  const least = `< ${(precision + 0.005).toFixed(2)} mm`;
  return mm <= precision * 1.05 ? least : `${mm.toFixed(2)} mm`;
}
