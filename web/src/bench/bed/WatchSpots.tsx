import { Form } from "react-bootstrap";
import type { Sheet, WatchSpot } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { SmallProof } from "../../live/SmallProof";
import type { Pictures } from "../../live/pictures";
import { shifted, withSpotAt } from "../../sheet/watch";
import { type Place, sizeOf } from "./zoom";
import { leavingKeys } from "../../shared/leavingKeys";

export const SPOT_PANEL = { width: 132, height: 96 };
const STEP = 0.01;

interface WatchSpotsProps {
  sheet: Sheet;
  place: Place;
  aspect: number;
  pictures: Pictures;
  offersEyes: boolean;
  magnified: (spot: WatchSpot) => number;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

/** Details that stay magnified at the edge of the sheet, and where they are on it. */
export function WatchSpots(props: WatchSpotsProps) {
  const { sheet, place, aspect, pictures } = props;
  const size = sizeOf(place.edge, aspect);

  function set(number: number, spot: WatchSpot | null, what: string) {
    props.onChange(withSpotAt(sheet, number, spot), `Watch spot: ${what}`, newGesture());
  }

  function turn(event: React.KeyboardEvent, number: number, spot: WatchSpot) {
    if (event.target !== event.currentTarget) return;
    const step = event.shiftKey ? STEP * 4 : STEP;
    const moves: Record<string, [number, number, number]> = {
      ArrowLeft: [-step, 0, 1],
      ArrowRight: [step, 0, 1],
      ArrowUp: [0, -step, 1],
      ArrowDown: [0, step, 1],
      "+": [0, 0, 0.85],
      "-": [0, 0, 1 / 0.85],
    };
    const move = moves[event.key];
    if (move) {
      event.preventDefault();
      event.stopPropagation();
      set(number, shifted(spot, ...move), "move");
    } else if (event.key === "Delete") {
      set(number, null, "take away");
    }
  }

  return (
    <>
      {sheet.watch.map((spot, number) => (
        <div
          key={`outline-${number}`}
          className="spot-outline"
          aria-hidden="true"
          style={{
            left: place.x + spot.left * size.width,
            top: place.y + spot.top * size.height,
            width: (spot.right - spot.left) * size.width,
            height: (spot.bottom - spot.top) * size.height,
          }}
        >
          <span>{number + 1}</span>
        </div>
      ))}
      <div className="spots">
        {sheet.watch.map((spot, number) => (
          <section
            key={`panel-${number}`}
            className="spot"
            tabIndex={0}
            aria-label={`Watch spot ${spot.name || number + 1}. Arrows move it, plus and minus size it, Delete takes it away.`}
            onPointerDown={(event) => event.stopPropagation()}
            onKeyDown={(event) => turn(event, number, spot)}
          >
            <span className="spot-picture" style={SPOT_PANEL}>
              <SmallProof className="spot-proof" pictures={pictures} id={`watch-${number}`} />
            </span>
            <div className="spot-line">
              <input
                aria-label={`Name of watch spot ${number + 1}`}
                placeholder={`spot ${number + 1}`}
                defaultValue={spot.name}
                key={spot.name}
                maxLength={60}
                onBlur={(event) => {
                  const name = event.currentTarget.value.trim();
                  if (name !== spot.name) set(number, { ...spot, name }, `name ${name}`);
                }}
                onKeyDown={leavingKeys}
              />
              <span>{props.magnified(spot).toFixed(1)}×</span>
              <button
                type="button"
                aria-label={`Take watch spot ${spot.name || number + 1} away`}
                onClick={() => set(number, null, "take away")}
              >
                ×
              </button>
            </div>
            {props.offersEyes && (
              <Form.Check
                id={`eye-${number}`}
                className="spot-eye"
                label="whites stay white"
                title="The suggested level is set so that the whites of eyes here stay open"
                checked={spot.is_eye}
                onChange={(event) =>
                  set(number, { ...spot, is_eye: event.currentTarget.checked }, "whites of eyes")
                }
              />
            )}
          </section>
        ))}
      </div>
    </>
  );
}
