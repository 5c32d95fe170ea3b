import { useEffect, useRef, useState } from "react";
import type { Lying, Plate, Sheet } from "../../api/client";
import { type Pictures, useLying } from "../../live/pictures";
import { boxOf, type Place } from "../../live/zoom";
import { arrowWay } from "../../shared/arrows";
import { followPointer } from "../../shared/followPointer";
import { newGesture } from "../../shared/gesture";
import { plateLabel } from "../../sheet/plates";
import { canStretch, movedBy, positionOf, scaled, withPosition } from "../../sheet/sources";
import { guidesOf, pulled, snapped } from "./snapping";
import { WordsField } from "./WordsField";

interface PlaceLayerProps {
  sheet: Sheet;
  plate: Plate;
  pictures: Pictures;
  place: Place;
  aspect: number;
  sizeMm: { width: number; height: number };
  /** Whether what is made larger keeps the drawing as it is, marks and all. */
  asDrawn: boolean;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

const SNAP_PX = 6;
const [NARROWEST_PX, WIDEST_PX, BENEATH_PX] = [160, 340, 10];
const [STEP_MM, FAR_MM, FINE_MM] = [1, 10, 0.1];
const TURN_STEP = 15;
const CORNERS = [
  { x: -1, y: -1, name: "upper left" },
  { x: 1, y: -1, name: "upper right" },
  { x: 1, y: 1, name: "lower right" },
  { x: -1, y: 1, name: "lower left" },
] as const;
const SIDES = [
  { x: 0, y: -1, name: "upper" },
  { x: 1, y: 0, name: "right" },
  { x: 0, y: 1, name: "lower" },
  { x: -1, y: 0, name: "left" },
] as const;

const mm = (value: number) => Number(value.toFixed(2));

/** Where words are typed: beneath what lies turned, as wide as it is within reason, CSS pixels. */
function beneath(lying: Lying, box: { left: number; top: number }, pxPerMm: number) {
  const turn = (lying.turn * Math.PI) / 180;
  const reach = Math.abs(lying.width * Math.sin(turn)) + Math.abs(lying.height * Math.cos(turn));
  const width = Math.min(WIDEST_PX, Math.max(NARROWEST_PX, lying.width * pxPerMm));
  return {
    left: box.left + lying.x * pxPerMm - width / 2,
    top: box.top + (lying.y + reach / 2) * pxPerMm + BENEATH_PX,
    width,
  };
}

/** What the chosen plate is drawn from, as a box on the sheet: moved, scaled and turned by hand. */
export function PlaceLayer(props: PlaceLayerProps) {
  const { sheet, plate, pictures, place, aspect, sizeMm, asDrawn, onChange } = props;
  const lain = useLying(pictures);
  const [moving, setMoving] = useState<Lying | null>(null);
  const [met, setMet] = useState<{ x: number[]; y: number[] }>({ x: [], y: [] });
  const [typed, setTyped] = useState("");
  const isHeld = useRef(false);
  const layer = useRef<HTMLDivElement>(null);
  const found = lain.find((each) => each.plate === plate.id);
  // Where the hand put it is shown until the sheet has been drawn so.
  useEffect(() => {
    if (!isHeld.current) setMoving(null);
  }, [lain]);
  const lying = moving?.plate === plate.id ? moving : found;
  if (!lying || !positionOf(sheet, plate)) return null;
  const box = boxOf(place, aspect);
  const pxPerMm = box.width / sizeMm.width;
  const label = plateLabel(sheet, plate.id);
  const isLettering = plate.source.kind === "lettering";
  const margin = sheet.paper.size === "own" ? sheet.paper.margin : 0;
  const guides = guidesOf(
    { ...sizeMm, margin },
    lain.filter((each) => each.plate !== plate.id && sheet.plates.some((p) => p.id === each.plate)),
  );

  function at(event: { clientX: number; clientY: number }) {
    const bounds = layer.current!.getBoundingClientRect();
    return {
      x: (event.clientX - bounds.left - box.left) / pxPerMm,
      y: (event.clientY - bounds.top - box.top) / pxPerMm,
    };
  }

  function put(next: Lying, start: Lying, from: Lying[], words: string, gesture: string) {
    setMoving(next);
    const others = from.map((each) => (each.plate === plate.id ? start : each));
    const by = { x: next.x - start.x, y: next.y - start.y };
    onChange(movedBy(sheet, plate, others, by), words, gesture);
  }

  function follow(event: React.PointerEvent, act: (to: PointerEvent, gesture: string) => void) {
    if (event.button !== 0) return;
    event.stopPropagation();
    const gesture = newGesture();
    isHeld.current = true;
    followPointer(event, {
      move: (to) => act(to, gesture),
      end: () => {
        isHeld.current = false;
        setMet({ x: [], y: [] });
      },
    });
  }

  function move(event: React.PointerEvent<HTMLButtonElement>) {
    const [start, begun] = [lying!, lain];
    const from = at(event);
    follow(event, (to, gesture) => {
      const now = at(to);
      const free = { ...start, x: start.x + now.x - from.x, y: start.y + now.y - from.y };
      const held = to.altKey ? { ...free, met: { x: [], y: [] } } : snapped(free, guides, near);
      setMet(held.met);
      const words = plate.gathered ? `Set ${plate.gathered}: moved` : `${label}: moved`;
      put({ ...start, x: held.x, y: held.y }, start, begun, words, gesture);
    });
  }

  function pull(event: React.PointerEvent, handle: { x: -1 | 0 | 1; y: -1 | 0 | 1 }) {
    const [start, begun] = [lying!, sheet];
    const own = begun.plates.find((each) => each.id === plate.id)!;
    follow(event, (to, gesture) => {
      const { across, down, x, y } = pulled(start, handle, at(to));
      const next = { ...start, x, y, width: start.width * across, height: start.height * down };
      setMoving(next);
      const sized = scaled(begun, own, start, { across, down }, asDrawn);
      const grown = sized.plates.find((each) => each.id === plate.id)!;
      const laid = withPosition(sized, grown, { x: mm(x), y: mm(y) });
      onChange(laid, `${label}: made ${across * down > 1 ? "larger" : "smaller"}`, gesture);
    });
  }

  function turn(event: React.PointerEvent) {
    const start = lying!;
    follow(event, (to, gesture) => {
      const now = at(to);
      const angle = (Math.atan2(-(now.y - start.y), now.x - start.x) * 180) / Math.PI - 90;
      const step = to.shiftKey ? TURN_STEP : 0.5;
      const turned = Math.round((((angle + 540) % 360) - 180) / step) * step;
      turnTo(turned, gesture);
    });
  }

  function turnTo(degrees: number, gesture: string) {
    const held = Number((((degrees + 540) % 360) - 180).toFixed(1));
    setMoving({ ...lying!, turn: held });
    onChange(withPosition(sheet, plate, { turn: held }), `${label}: turned`, gesture);
  }

  function keyed(event: React.KeyboardEvent) {
    if (event.key === "Enter" && isLettering) {
      event.preventDefault();
      event.stopPropagation();
      setTyped(plate.id);
      return;
    }
    const way = arrowWay(event, event.altKey ? FINE_MM : STEP_MM, FAR_MM);
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const next = { ...lying!, x: lying!.x + way.x, y: lying!.y + way.y };
    put(next, lying!, lain, `${label}: moved`, newGesture());
  }

  function handleKeyed(event: React.KeyboardEvent, handle: { x: -1 | 0 | 1; y: -1 | 0 | 1 }) {
    const way = arrowWay(event, 0.01, 0.1);
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const by = 1 + (way.x || -way.y);
    const grown = { across: handle.x === 0 ? 1 : by, down: handle.y === 0 ? 1 : by };
    onChange(
      scaled(sheet, plate, lying!, grown, asDrawn),
      `${label}: made ${by > 1 ? "larger" : "smaller"}`,
      newGesture(),
    );
  }

  const near = SNAP_PX / pxPerMm;
  const style = {
    left: box.left + lying.x * pxPerMm,
    top: box.top + lying.y * pxPerMm,
    width: Math.max(8, lying.width * pxPerMm),
    height: Math.max(8, lying.height * pxPerMm),
    transform: `translate(-50%, -50%) rotate(${-lying.turn}deg)`,
  };
  const handles = canStretch(plate.source) && !asDrawn ? [...CORNERS, ...SIDES] : CORNERS;
  return (
    <div className="place-layer" ref={layer}>
      {met.x.map((x) => (
        <i
          key={`x${x}`}
          className="place-guide"
          style={{ left: box.left + x * pxPerMm, width: 1 }}
        />
      ))}
      {met.y.map((y) => (
        <i
          key={`y${y}`}
          className="place-guide"
          style={{ top: box.top + y * pxPerMm, height: 1 }}
        />
      ))}
      <div className="place-box" style={style}>
        <button
          type="button"
          className="place-body"
          aria-label={`${label}: arrows move it by 1 mm, with Shift by 10, with Alt by a tenth${isLettering ? "; Enter types" : ""}`}
          title={isLettering ? "Press twice to type" : undefined}
          onPointerDown={move}
          onKeyDown={keyed}
          onDoubleClick={() => isLettering && setTyped(plate.id)}
        />
        {handles.map((handle) => (
          <button
            key={handle.name}
            type="button"
            className="place-handle"
            aria-label={`Size at the ${handle.name} ${handle.x && handle.y ? "corner" : "side"}`}
            style={{ left: `${50 + handle.x * 50}%`, top: `${50 + handle.y * 50}%` }}
            onPointerDown={(event) => pull(event, handle)}
            onKeyDown={(event) => handleKeyed(event, handle)}
          />
        ))}
        <button
          type="button"
          className="place-turn"
          aria-label="Turn: arrows by 1 degree, with Shift by 15"
          title="Turn; Shift holds to 15°"
          onPointerDown={turn}
          onKeyDown={(event) => {
            const way = arrowWay(event, 1, TURN_STEP);
            if (!way) return;
            event.preventDefault();
            event.stopPropagation();
            turnTo(lying.turn - (way.x || way.y), newGesture());
          }}
        />
      </div>
      {typed === plate.id && (
        <div className="place-words" style={beneath(lying, box, pxPerMm)}>
          <WordsField
            sheet={sheet}
            plate={plate}
            label={`Words on the sheet: ${label}`}
            rows={2}
            onChange={onChange}
            onLeave={() => setTyped("")}
          />
        </div>
      )}
    </div>
  );
}
