import type { Catalogue } from "../../api/client";
import type { DialRef, Step } from "../../sheet/stages";
import type { Place } from "../../live/zoom";
import { focusDial } from "../dials/dialFocus";
import { Highlights } from "./Highlights";
import { type Judging, spotsOf } from "./useJudging";

interface JudgedSheetProps {
  catalogue: Catalogue;
  judging: Judging;
  place: Place;
  aspect: number;
  onJump: (region: [number, number, number, number]) => void;
  onStep: (step: Step) => void;
  /** Open what is lost at a place of the sheet. */
  onOpen: (x: number, y: number) => void;
}

/** What is shown on the sheet of its judgement, with the ways to the dials that help. */
export function JudgedSheet({ catalogue, judging, onStep, ...where }: JudgedSheetProps) {
  const { highlight, setHighlight, reports, lost } = judging;
  if (!highlight) return null;

  function toDial(ref: DialRef) {
    setHighlight(null);
    onStep(ref.step);
    // The dial is there once the page has drawn the stage.
    window.setTimeout(() => focusDial(ref), 0);
  }

  return (
    <Highlights
      {...where}
      catalogue={catalogue}
      highlight={highlight}
      spots={reports ? spotsOf(reports, highlight) : []}
      isKnown={highlight === "lost" ? lost !== undefined : reports !== undefined}
      lostMap={lost?.map}
      lostPlaces={(lost?.places ?? []).map((each) => [
        each.left,
        each.top,
        each.right,
        each.bottom,
      ])}
      onDial={toDial}
      onLeave={() => setHighlight(null)}
    />
  );
}
