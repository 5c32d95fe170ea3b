import { arrowWay } from "../shared/arrows";
import { followPointer } from "../shared/followPointer";
import { boxRound, type Shape } from "./shapes";
import { scaled, turned, type Way } from "./ways";

interface ChosenBoxProps {
  chosen: readonly Shape[];
  /** Where the sheet lies, in pixels. */
  box: { left: number; top: number };
  pxPerMm: number;
  isMoving: boolean;
  at: (event: { clientX: number; clientY: number }) => [number, number];
  /** It is being taken there. */
  onWay: (way: Way | null) => void;
  /** It is to stay there. */
  onLay: (way: Way) => void;
}

const CORNERS = [
  { x: 0, y: 0, name: "upper left" },
  { x: 1, y: 0, name: "upper right" },
  { x: 1, y: 1, name: "lower right" },
  { x: 0, y: 1, name: "lower left" },
] as const;
const TURN_STEP = 15;
/** Handles on a smaller box would hide what is in it. */
const ROOM_PX = 40;
const [LEAST, MOST] = [0.02, 50];

/** The box round chosen shapes, with what sizes and turns them. */
export function ChosenBox({ chosen, box, pxPerMm, isMoving, at, onWay, onLay }: ChosenBoxProps) {
  const round = boxRound(chosen);
  if (!round || isMoving) return null;
  const { left, top, right, bottom } = round;
  const isRoomy = Math.max(right - left, bottom - top) * pxPerMm > ROOM_PX;
  const middle = { x: (left + right) / 2, y: (top + bottom) / 2 };

  function follow(event: React.PointerEvent, wayTo: (to: PointerEvent) => Way) {
    if (event.button !== 0) return;
    event.stopPropagation();
    // The box goes while it is turned; the sheet follows the pointer.
    const bed = event.currentTarget.closest(".bed")!;
    followPointer(
      event,
      {
        move: (to) => onWay(wayTo(to)),
        end: (to, isCancelled) => (isCancelled ? onWay(null) : onLay(wayTo(to))),
      },
      bed,
    );
  }

  function size(event: React.PointerEvent, corner: (typeof CORNERS)[number]) {
    const about = { x: corner.x ? left : right, y: corner.y ? top : bottom };
    const from = at(event);
    const far = Math.max(1e-3, Math.hypot(from[0] - about.x, from[1] - about.y));
    follow(event, (to) => {
      const now = at(to);
      // Along the line from the corner that stays.
      const along =
        ((now[0] - about.x) * (from[0] - about.x) + (now[1] - about.y) * (from[1] - about.y)) /
        far ** 2;
      return scaled(Math.min(MOST, Math.max(LEAST, along)), about);
    });
  }

  function turn(event: React.PointerEvent) {
    const angle = (to: { clientX: number; clientY: number }) => {
      const [x, y] = at(to);
      return (Math.atan2(-(y - middle.y), x - middle.x) * 180) / Math.PI;
    };
    const from = angle(event);
    follow(event, (to) => {
      const step = to.shiftKey ? TURN_STEP : 0.5;
      return turned(Math.round((angle(to) - from) / step) * step, middle);
    });
  }

  function keyed(event: React.KeyboardEvent, way: (by: { x: number; y: number }) => Way) {
    const by = arrowWay(event, 1, TURN_STEP);
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    onLay(way(by));
  }

  return (
    <div
      className="chosen-box"
      style={{
        left: box.left + left * pxPerMm,
        top: box.top + top * pxPerMm,
        width: (right - left) * pxPerMm,
        height: (bottom - top) * pxPerMm,
      }}
    >
      {isRoomy &&
        CORNERS.map((corner) => (
          <button
            key={corner.name}
            type="button"
            className="place-handle"
            aria-label={`Size at the ${corner.name} corner: arrows by 1 %, with Shift by 15`}
            style={{ left: `${corner.x * 100}%`, top: `${corner.y * 100}%` }}
            onPointerDown={(event) => size(event, corner)}
            onKeyDown={(event) => keyed(event, (by) => scaled(1 + (by.x || -by.y) / 100, middle))}
          />
        ))}
      <button
        type="button"
        className="place-turn"
        aria-label="Turn: arrows by 1 degree, with Shift by 15"
        title="Turn; Shift holds to 15°"
        onPointerDown={turn}
        onKeyDown={(event) => keyed(event, (by) => turned(-(by.x || by.y), middle))}
      />
    </div>
  );
}
