import type { Answer, Plate } from "../../api/client";
import { askForKeys } from "../../shared/keys";
import { percent } from "../../shared/numbers";
import { useRoving } from "../../shared/roving";
import { type Pictures, useAsked, usePicture } from "../../live/pictures";
import { type Judged, JudgedFigures } from "./JudgedFigures";

interface FiguresLineProps extends Judged {
  answer: Answer | undefined;
  isBusy: boolean;
  plate: Plate | undefined;
}

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
  const { answer, isBusy } = props;
  const roving = useRoving<HTMLElement>();
  const figures = answer?.figures;
  const own = figures?.plates.find((each) => each.plate === props.plate?.id);

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
      <JudgedFigures
        limits={props.limits}
        reports={props.reports}
        lostShare={props.lostShare}
        isFresh={props.isFresh}
        highlight={props.highlight}
        onHighlight={props.onHighlight}
      />
      <span className="figures-time">
        {isBusy ? "drawing…" : answer ? `${answer.ms.toFixed(0)} ms` : ""}
      </span>
      <button type="button" className="figures-keys" onClick={askForKeys}>
        <kbd>?</kbd> keys
      </button>
    </footer>
  );
}
