import { useRef, useState } from "react";
import { Form } from "react-bootstrap";
import type { DialSpec, Pull } from "../../api/client";
import { followPointer } from "../../shared/followPointer";
import { newGesture } from "../../shared/gesture";
import { added, angleOf, hueName, placeOf, RING, turned } from "./ring";

interface HueRingProps {
  reference: string;
  spec: DialSpec;
  points: Pull[];
  onChange: (points: Pull[], gesture: string) => void;
  /** Press on the photo at a colour and pull it from there. */
  onPick: () => void;
}

/** Colours taken lighter or darker: points on the ring of hues, pulled outwards or inwards. */
export function HueRing({ reference, spec, points, onChange, onPick }: HueRingProps) {
  const [chosen, choose] = useState(0);
  const ring = useRef<SVGSVGElement>(null);
  const most = spec.maximum;
  const point = points[Math.min(chosen, points.length - 1)];
  const number = Math.min(chosen, points.length - 1);

  function put(at: number, next: Pull, gesture: string) {
    onChange(points.with(at, next), gesture);
  }

  /** Add a point where the ring is pressed, or take hold of one, and drag it. */
  function grab(event: React.PointerEvent<SVGElement>, held?: number) {
    if (event.button !== 0 || (held === undefined && points.length >= most)) return;
    event.preventDefault();
    event.stopPropagation();
    const svg = ring.current!;
    const gesture = newGesture();
    const at = (to: { clientX: number; clientY: number }) => {
      const box = svg.getBoundingClientRect();
      const scale = RING.size / box.width;
      return placeOf((to.clientX - box.left) * scale, (to.clientY - box.top) * scale);
    };
    const start = held === undefined ? added(at(event)) : points[held]!;
    const list = held === undefined ? [...points, start] : points;
    const place = held ?? points.length;
    choose(place);
    if (held === undefined) onChange(list, gesture);
    const move = (to: PointerEvent) => onChange(list.with(place, { ...start, ...at(to) }), gesture);
    followPointer(event, { move }, svg);
  }

  function keyed(event: React.KeyboardEvent, at: number) {
    if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      onChange(points.toSpliced(at, 1), newGesture());
      return;
    }
    const next = turned(points[at]!, event.key, event.shiftKey);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    put(at, next, newGesture());
  }

  return (
    <div className="dial dial-ring" data-dial={reference}>
      <span className="form-label">{spec.label}</span>
      <div className="ring-colours">
        <svg
          ref={ring}
          viewBox={`0 0 ${RING.size} ${RING.size}`}
          aria-label={`${spec.label}: press it to add a colour`}
          role="group"
          onPointerDown={(event) => grab(event)}
        >
          <circle className="ring-level" cx={RING.middle} cy={RING.middle} r={RING.level} />
          {points.map((each, k) => {
            const [x, y] = angleOf(each);
            return (
              <circle
                key={k}
                className="ring-point"
                role="slider"
                tabIndex={0}
                aria-label={`${hueName(each.hue)}, ${each.hue.toFixed(0)}°: arrows up and down pull it, left and right move it`}
                aria-valuemin={-1}
                aria-valuemax={1}
                aria-valuenow={each.pull}
                aria-valuetext={pullWords(each)}
                aria-current={k === number}
                cx={x}
                cy={y}
                r={7}
                style={{ fill: `hsl(${each.hue} 75% 50%)` }}
                onFocus={() => choose(k)}
                onPointerDown={(event) => grab(event, k)}
                onKeyDown={(event) => keyed(event, k)}
              />
            );
          })}
        </svg>
      </div>
      {point ? (
        <div className="ring-words">
          <strong>{hueName(point.hue)}</strong> {pullWords(point)}
          <button type="button" onClick={() => onChange(points.toSpliced(number, 1), newGesture())}>
            take away
          </button>
          <Form.Range
            aria-label={`Reach about ${hueName(point.hue)}, degrees`}
            aria-valuetext={`${point.reach.toFixed(0)} degrees`}
            min={10}
            max={180}
            step={5}
            value={point.reach}
            onChange={(event) =>
              put(number, { ...point, reach: event.currentTarget.valueAsNumber }, `reach-${number}`)
            }
          />
          <span className="soft">reach {point.reach.toFixed(0)}°</span>
        </div>
      ) : (
        <p className="ring-words soft">
          Press the ring at a colour and pull: outwards is lighter, inwards darker.
        </p>
      )}
      <button
        type="button"
        className="btn btn-plain btn-sm"
        disabled={points.length >= most}
        title={points.length >= most ? `A ring has up to ${most} points` : undefined}
        onClick={onPick}
      >
        Pull a colour on the photo
      </button>
    </div>
  );
}

function pullWords({ pull }: Pull): string {
  if (pull === 0) return "as it is";
  return `${pull > 0 ? "lighter" : "darker"} by ${(Math.abs(pull) * 100).toFixed(0)} %`;
}
