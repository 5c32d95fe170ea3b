import { memo } from "react";
import { Button } from "react-bootstrap";
import type { Catalogue, PrintReport } from "../../api/client";
import { percent } from "../../shared/numbers";
import { Tip } from "../../shared/Tip";
import { type Highlight, summarised, type Summary } from "./useJudging";

/** What was found of the whole sheet as it will print. */
export interface Judged {
  limits: Catalogue["limits"];
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

/** The figures that take a while; they are not drawn anew with every picture. */
export const JudgedFigures = memo(function JudgedFigures(props: Judged) {
  const { reports } = props;
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

  /** What a press must hold of lines, gaps and pieces. */
  function held({ thinnest, narrowest, specks, precision }: Summary) {
    return (
      <>
        {link(
          "thin",
          thinnest !== null && thinnest < props.limits.thin_mm,
          <>
            thinnest <strong>{width(thinnest, precision)}</strong>
          </>,
        )}
        {link(
          "narrow",
          narrowest !== null && narrowest < props.limits.narrow_mm,
          <>
            gap <strong>{width(narrowest, precision)}</strong>
          </>,
        )}
        {link(
          "specks",
          specks > 0,
          <strong>
            {specks.toLocaleString("en-GB")} {specks === 1 ? "speck" : "specks"}
          </strong>,
        )}
      </>
    );
  }

  return (
    <>
      {summary?.isGrey ? (
        <span className={stale} title="A printer screens greys; they have no lines">
          greys
        </span>
      ) : (
        summary && held(summary)
      )}
      {props.lostShare !== undefined &&
        link(
          "lost",
          false,
          <>
            lost detail <strong data-testid="lost">{percent(props.lostShare)}</strong>
          </>,
        )}
    </>
  );
});

function width(mm: number | null, precision: number): string {
  if (mm === null) return "none";
  const least = `< ${(precision + 0.005).toFixed(2)} mm`;
  return mm <= precision * 1.05 ? least : `${mm.toFixed(2)} mm`;
}
