import type { Plate, Sheet } from "../../api/client";
import { boxOf, type Place } from "../../live/zoom";
import { arrowWay } from "../../shared/arrows";
import { followPointer } from "../../shared/followPointer";
import { newGesture } from "../../shared/gesture";
import { withValues } from "../../sheet/stages";

interface FadeLayerProps {
  sheet: Sheet;
  plate: Plate;
  place: Place;
  aspect: number;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

const [STEP, FAR_STEP] = [0.01, 0.05];
const ENDS = [
  { x: "fade_x", y: "fade_y", label: "Prints fully here", sign: "●" },
  { x: "gone_x", y: "gone_y", label: "Gone here", sign: "○" },
] as const;

/** Whether the fade's handles can lie on the sheet: where the picture fills it. */
export function hasFadeHandles(sheet: Sheet, plate: Plate): boolean {
  const { x, y, width, turn, mirrored } = sheet.picture.position;
  const fills = sheet.paper.size === "as-picture" && width === null && x === null && y === null;
  return plate.ink.fade !== "none" && fills && turn === 0 && !mirrored;
}

/** The two ends of a plate's fade, as handles on the sheet. */
export function FadeLayer({ sheet, plate, place, aspect, onChange }: FadeLayerProps) {
  const box = boxOf(place, aspect);

  function put(end: (typeof ENDS)[number], x: number, y: number, gesture: string) {
    const held = (value: number) => Number(Math.min(2, Math.max(-1, value)).toFixed(3));
    const values = { [`ink.${end.x}`]: held(x), [`ink.${end.y}`]: held(y) };
    onChange(withValues(sheet, plate.id, values), `Ink: fade ${end.label.toLowerCase()}`, gesture);
  }

  const [from, to] = ENDS.map((end) => ({
    x: box.left + plate.ink[end.x] * box.width,
    y: box.top + plate.ink[end.y] * box.height,
  })) as [{ x: number; y: number }, { x: number; y: number }];
  const drawn = (
    <>
      {plate.ink.fade === "round" && (
        <circle cx={from.x} cy={from.y} r={Math.hypot(to.x - from.x, to.y - from.y)} />
      )}
      <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
    </>
  );
  return (
    <div className="fade-layer">
      <svg aria-hidden="true">
        <g className="fade-halo">{drawn}</g>
        {drawn}
      </svg>
      {ENDS.map((end, number) => (
        <button
          key={end.x}
          type="button"
          className="fade-handle"
          aria-label={`${end.label}: arrows move it`}
          title={end.label}
          style={{ left: (number === 0 ? from : to).x, top: (number === 0 ? from : to).y }}
          onPointerDown={(event) => {
            event.stopPropagation();
            const gesture = newGesture();
            const layer = event.currentTarget.parentElement!.getBoundingClientRect();
            followPointer(event, {
              move: (at) =>
                put(
                  end,
                  (at.clientX - layer.left - box.left) / box.width,
                  (at.clientY - layer.top - box.top) / box.height,
                  gesture,
                ),
            });
          }}
          onKeyDown={(event) => {
            const way = arrowWay(event, STEP, FAR_STEP);
            if (!way) return;
            event.preventDefault();
            event.stopPropagation();
            put(end, plate.ink[end.x] + way.x, plate.ink[end.y] + way.y, newGesture());
          }}
        >
          {end.sign}
        </button>
      ))}
    </div>
  );
}
