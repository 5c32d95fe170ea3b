import { Form } from "react-bootstrap";
import type { Sheet, WatchSpot } from "../../api/client";
import { followPointer } from "../../shared/followPointer";
import { newGesture } from "../../shared/gesture";
import { leavingKeys } from "../../shared/leavingKeys";
import { Tip } from "../../shared/Tip";
import { SmallProof } from "../../live/SmallProof";
import type { Pictures } from "../../live/pictures";
import { magnified, shifted, withSpotAt } from "../../sheet/watch";
import { type Place, sizeOf } from "../../live/zoom";
import type { Panel, SpotPanels } from "./useSpotPanels";

const STEP = 0.01;
const PANEL_STEP_PX = 16;

interface WatchSpotsProps {
  sheet: Sheet;
  place: Place;
  aspect: number;
  pictures: Pictures;
  offersEyes: boolean;
  panels: SpotPanels;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

/** Details that stay magnified over the bed, and where they are on the sheet. */
export function WatchSpots(props: WatchSpotsProps) {
  const { sheet, place, aspect, panels } = props;
  const size = sizeOf(place.edge, aspect);

  function set(number: number, spot: WatchSpot | null, what: string) {
    if (spot === null) panels.forget(number);
    props.onChange(withSpotAt(sheet, number, spot), `Watch spot: ${what}`, newGesture());
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
      {sheet.watch.map((spot, number) => {
        const panel = panels.panels[number];
        return (
          panel && (
            <SpotPanel
              key={`panel-${number}`}
              {...props}
              number={number}
              spot={spot}
              panel={panel}
              onSet={(next, what) => set(number, next, what)}
            />
          )
        );
      })}
    </>
  );
}

interface SpotPanelProps extends WatchSpotsProps {
  number: number;
  spot: WatchSpot;
  panel: Panel;
  onSet: (spot: WatchSpot | null, what: string) => void;
}

function SpotPanel(props: SpotPanelProps) {
  const { number, spot, panel, panels, aspect, place, onSet } = props;
  const name = spot.name || String(number + 1);
  const shown = magnified(spot, panel, aspect, place.edge);

  function keyed(event: React.KeyboardEvent) {
    if (event.target !== event.currentTarget) return;
    const act = event.altKey ? ofPanel(event.key, panel) : undefined;
    if (act) {
      panels.change(number, act);
    } else if (event.key === "Delete") {
      onSet(null, "take away");
    } else {
      const move = ofSpot(event.key, event.shiftKey);
      if (!move || event.altKey) return;
      onSet(shifted(spot, ...move), "move");
    }
    event.preventDefault();
    event.stopPropagation();
  }

  /** Follow the pointer from where it took hold, to move the panel or to size it. */
  function grab(event: React.PointerEvent<HTMLElement>, to: (right: number, down: number) => void) {
    if (event.button !== 0 || (event.target as HTMLElement).closest("input, button, label")) return;
    event.preventDefault();
    event.stopPropagation();
    const [x, y] = [event.clientX, event.clientY];
    followPointer(event, { move: (at) => to(at.clientX - x, at.clientY - y) });
  }

  return (
    <section
      className="spot"
      tabIndex={0}
      style={{ left: panel.x, top: panel.y }}
      aria-label={`Watch spot ${name}. Arrows move it on the sheet, plus and minus size it, Delete takes it away; with Alt they move and size this panel.`}
      onPointerDown={(event) => event.stopPropagation()}
      onKeyDown={keyed}
    >
      <span
        className="spot-picture"
        style={{ width: panel.width, height: panel.height }}
        onPointerDown={(event) =>
          grab(event, (right, down) =>
            panels.change(number, { x: panel.x + right, y: panel.y + down }),
          )
        }
      >
        <SmallProof className="spot-proof" pictures={props.pictures} id={`watch-${number}`} />
      </span>
      <div className="spot-line" style={{ width: panel.width }}>
        <input
          aria-label={`Name of watch spot ${number + 1}`}
          placeholder={`spot ${number + 1}`}
          defaultValue={spot.name}
          key={spot.name}
          maxLength={60}
          onBlur={(event) => {
            const typed = event.currentTarget.value.trim();
            if (typed !== spot.name) onSet({ ...spot, name: typed }, `name ${typed}`);
          }}
          onKeyDown={leavingKeys}
        />
        <span>{shown.times.toFixed(1)}×</span>
        <Tip words={panel.isTall ? "Small again" : "As high as the bed"} side="left">
          <button
            type="button"
            aria-pressed={panel.isTall}
            aria-label={`Watch spot ${name} as high as the bed`}
            onClick={() =>
              panels.change(number, { isTall: !panel.isTall, width: undefined, x: undefined })
            }
          >
            ↕
          </button>
        </Tip>
        <Tip words="Take this watch spot away" side="left">
          <button
            type="button"
            aria-label={`Take watch spot ${name} away`}
            onClick={() => onSet(null, "take away")}
          >
            ×
          </button>
        </Tip>
        {props.offersEyes && (
          <Form.Check
            id={`eye-${number}`}
            className="spot-eye"
            label="whites stay white"
            title="The suggested level is set so that the whites of eyes here stay open"
            checked={spot.is_eye}
            onChange={(event) =>
              onSet({ ...spot, is_eye: event.currentTarget.checked }, "whites of eyes")
            }
          />
        )}
      </div>
      <span
        className="spot-corner"
        aria-hidden="true"
        onPointerDown={(event) =>
          grab(event, (right, down) =>
            // The right edge stays; it is drawn out to the left, where there is room.
            panels.change(number, {
              x: panel.x + right,
              width: panel.width - right,
              height: panel.height + down,
            }),
          )
        }
      />
    </section>
  );
}

/** Where a key moves a spot on the sheet, and how it sizes it. */
function ofSpot(key: string, isFar: boolean): [number, number, number] | undefined {
  const step = isFar ? STEP * 4 : STEP;
  const moves: Record<string, [number, number, number]> = {
    ArrowLeft: [-step, 0, 1],
    ArrowRight: [step, 0, 1],
    ArrowUp: [0, -step, 1],
    ArrowDown: [0, step, 1],
    "+": [0, 0, 0.85],
    "-": [0, 0, 1 / 0.85],
  };
  return moves[key];
}

/** What a key does to the panel itself. */
function ofPanel(key: string, panel: Panel) {
  const { x, y, width, height } = panel;
  const acts: Record<string, Partial<Panel>> = {
    ArrowLeft: { x: x - PANEL_STEP_PX },
    ArrowRight: { x: x + PANEL_STEP_PX },
    ArrowUp: { y: y - PANEL_STEP_PX },
    ArrowDown: { y: y + PANEL_STEP_PX },
    "+": { width: width * 1.2, height: height * 1.2, x: x - width * 0.2 },
    "-": { width: width / 1.2, height: height / 1.2, x: x + width - width / 1.2 },
  };
  return acts[key];
}
