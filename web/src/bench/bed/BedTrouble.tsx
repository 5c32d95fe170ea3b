import { Button } from "react-bootstrap";
import { StaleWays } from "../../shared/StaleWays";
import { Trouble } from "../../shared/Trouble";
import type { Saving } from "../../sheet/useSheet";

interface BedTroubleProps {
  saving: Saving;
  sentence: string;
  connected: boolean;
  isElsewhere: boolean;
  onWorkHere: () => void;
  onCopy: () => void;
  onLoad: () => void;
  onTakeOver: () => void;
}

/** What stands in the way of the work, and the ways on. */
export function BedTrouble(props: BedTroubleProps) {
  const shown = sentenceOf(props);
  if (!shown) return null;
  return (
    <div className="bed-trouble" onPointerDown={(event) => event.stopPropagation()}>
      <Trouble sentence={shown}>
        {props.isElsewhere && (
          <span className="bed-ways">
            <Button size="sm" variant="plain" onClick={props.onWorkHere}>
              Work here instead
            </Button>
            <Button size="sm" variant="plain" onClick={props.onCopy}>
              Open a copy
            </Button>
          </span>
        )}
        {!props.isElsewhere && props.saving === "stale" && (
          <span className="bed-ways">
            <StaleWays onLoad={props.onLoad} onTakeOver={props.onTakeOver} />
            <Button size="sm" variant="plain" onClick={props.onCopy}>
              Open mine as a copy
            </Button>
          </span>
        )}
      </Trouble>
    </div>
  );
}

function sentenceOf(props: BedTroubleProps): string {
  if (props.isElsewhere) {
    return "This sheet is open in another tab, where the work goes on. Nothing is changed from here.";
  }
  if (props.saving === "stale") return props.sentence;
  if (!props.connected) {
    return (
      "Flinz does not answer at the moment. The last picture and your changes are kept here; " +
      "this page goes on by itself as soon as it is back."
    );
  }
  return props.sentence;
}
