import { useCallback, useEffect, useRef, useState } from "react";
import { type Pictures, usePicture } from "../../live/pictures";
import { type Place, type Size, sizeOf } from "../../live/zoom";
import { arrowWay } from "../../shared/arrows";
import { followPointer, isFarFrom } from "../../shared/followPointer";
import type { Brush, Hand, Point } from "./useHand";

interface PaintLayerProps {
  hand: Hand;
  pictures: Pictures;
  area: Size;
  place: Place;
  aspect: number;
  /** CSS pixels to a mm on the sheet as it shows. */
  pxPerMm: number;
}

const WHEEL_STEP = 0.0012;
const [KEY_STEP, FAR_STEP] = [0.01, 0.05];
const TRAIL = "rgba(31, 111, 102, 0.45)";
/** A press so near to where a line of corners ends is its last. */
const AT_END_PX = 8;
/** What goes corner by corner, and how many of them it has at least. */
const LEAST: Partial<Record<Brush["by"], number>> = { area: 3, points: 2 };

/** Lies over the sheet while the hand works on it: shows its trail at once, and sends each stroke. */
export function PaintLayer({ hand, pictures, area, place, aspect, pxPerMm }: PaintLayerProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const ring = useRef<HTMLDivElement>(null);
  const last = useRef<Point | null>(null);
  const frame = useRef<number | null>(null);
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
  // Corners are those of one way to go.
  const [by, setBy] = useState(hand.brush.by);
  if (by !== hand.brush.by) {
    setBy(hand.brush.by);
    setCorners([]);
  }
  const sheet = sizeOf(place.edge, aspect);
  const { brush } = hand;
  const wide = Math.max(1, brush.sizeMm * pxPerMm);
  const main = usePicture(pictures, "main");

  const wipe = useCallback(() => {
    const pen = canvas.current?.getContext("2d");
    pen?.clearRect(0, 0, area.width, area.height);
  }, [area]);
  // What was trailed is in the picture once a newer one is there.
  useEffect(wipe, [main, wipe]);

  function pointAt(event: {
    clientX: number;
    clientY: number;
    pressure?: number;
    pointerType?: string;
  }): Point {
    const bounds = canvas.current!.getBoundingClientRect();
    const pressure = event.pointerType === "pen" ? (event.pressure ?? 1) : 1;
    return [
      (event.clientX - bounds.left - place.x) / sheet.width,
      (event.clientY - bounds.top - place.y) / sheet.height,
      pressure,
    ];
  }

  const least = LEAST[brush.by];
  const isByCorners = least !== undefined;

  /** Have other corners; a line of points shows as it would be drawn. */
  function setLine(next: Point[]) {
    setCorners(next);
    if (brush.by === "points") hand.trace(next.length > 1 ? next : null);
  }

  /** Make what the corners come to; too few of them are forgotten. */
  function close() {
    if (isByCorners && corners.length >= least) make(corners);
    else hand.trace(null);
    setCorners([]);
  }

  /** Whether a place is where the last corner is, or the first one of an area. */
  function isAtEnd(point: Point): boolean {
    const ends = brush.by === "area" ? [corners[0], corners.at(-1)] : [corners.at(-1)];
    return ends.some(
      (each) =>
        each &&
        Math.hypot((each[0] - point[0]) * sheet.width, (each[1] - point[1]) * sheet.height) <
          AT_END_PX,
    );
  }

  function trail(points: Point[], from: number) {
    const pen = canvas.current?.getContext("2d");
    if (!pen) return;
    pen.strokeStyle = TRAIL;
    pen.lineCap = "round";
    for (let k = Math.max(1, from); k < points.length; k += 1) {
      const [before, now] = [points[k - 1]!, points[k]!];
      pen.lineWidth = brush.by === "area" ? 1.5 : wide * (brush.hasPressure ? now[2] : 1);
      pen.beginPath();
      pen.moveTo(place.x + before[0] * sheet.width, place.y + before[1] * sheet.height);
      pen.lineTo(place.x + now[0] * sheet.width, place.y + now[1] * sheet.height);
      pen.stroke();
    }
  }

  /** Ask for the true picture of a stroke that is being made, once a frame. */
  function soon(points: Point[]) {
    frame.current ??= requestAnimationFrame(() => {
      frame.current = null;
      hand.trace(points);
    });
  }

  function make(points: Point[]) {
    last.current = points.at(-1) ?? null;
    void hand.paint(points);
  }

  function begin(event: React.PointerEvent<HTMLDivElement>) {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.focus({ preventScroll: true });
    const points: Point[] = [pointAt(event)];
    if (event.shiftKey && last.current && brush.by === "brush") points.unshift(last.current);
    if (brush.by === "piece" || brush.by === "alike") return make(points);
    if (isByCorners && isAtEnd(points[0]!)) return close();
    let isFar = false;
    trail([points[0]!, ...points], 1);
    followPointer(event, {
      move: (to) => {
        const from = points.length;
        // Every place that the pointer was at, not only where it is now.
        const all = to.getCoalescedEvents?.() ?? [];
        for (const each of all.length > 0 ? all : [to]) points.push(pointAt(each));
        isFar ||= isFarFrom(event, to);
        // Of points only where the pointer lets go counts.
        if (brush.by === "points") return;
        trail(points, from);
        soon(points);
      },
      end: (to, isCancelled) => {
        if (frame.current !== null) cancelAnimationFrame(frame.current);
        frame.current = null;
        if (isCancelled) {
          wipe();
          hand.trace(null);
        } else if (brush.by === "points" || (isByCorners && !isFar)) {
          setLine([...corners, pointAt(to)]);
        } else if (brush.by === "area") {
          // What was drawn freely goes on from the corners.
          if (corners.length + points.length > 2) make([...corners, ...points]);
          setCorners([]);
        } else make(points);
      },
    });
  }

  function keyed(event: React.KeyboardEvent) {
    const way = arrowWay(event, KEY_STEP, FAR_STEP);
    const now = cross ?? { x: 0.5, y: 0.5 };
    const acts: Record<string, () => void> = {
      " ": () => {
        const point: Point = [now.x, now.y, 1];
        setCross(now);
        if (isByCorners) setLine([...corners, point]);
        else make([point]);
      },
      Enter: close,
      ...(corners.length > 0 && {
        Backspace: () => setLine(corners.slice(0, -1)),
        Escape: () => setLine([]),
      }),
    };
    const move = way && (() => setCross({ x: now.x + way.x, y: now.y + way.y }));
    const act = move ?? acts[event.key];
    if (!act || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  }

  return (
    <div
      className="paint-layer"
      role="application"
      tabIndex={0}
      aria-label="Hand work: arrows move a cross, Space sets a dab or a corner, Enter ends an area or a line of points"
      data-verb={hand.verb}
      onPointerDown={begin}
      onPointerMove={(event) => {
        const bounds = event.currentTarget.getBoundingClientRect();
        const mark = ring.current;
        if (!mark) return;
        mark.style.transform = `translate(${event.clientX - bounds.left - wide / 2}px, ${event.clientY - bounds.top - wide / 2}px)`;
        mark.style.visibility = "visible";
      }}
      onPointerLeave={() => ring.current && (ring.current.style.visibility = "hidden")}
      onWheel={(event) => {
        if (!event.altKey) return;
        event.stopPropagation();
        const sizeMm = brush.sizeMm * Math.exp(-event.deltaY * WHEEL_STEP);
        hand.setBrush({ sizeMm: Math.min(200, Math.max(0.2, sizeMm)) });
      }}
      onKeyDown={keyed}
    >
      <canvas ref={canvas} width={area.width} height={area.height} aria-hidden="true" />
      {(brush.by === "brush" || brush.by === "points") && (
        <div ref={ring} className="brush-ring" style={{ width: wide, height: wide }} />
      )}
      {cross && (
        <div
          className="paint-cross"
          style={{
            left: place.x + cross.x * sheet.width,
            top: place.y + cross.y * sheet.height,
          }}
        />
      )}
      {corners.length > 1 && (
        <svg className="paint-line" aria-hidden="true">
          <polyline
            points={corners
              .map(([x, y]) => `${place.x + x * sheet.width},${place.y + y * sheet.height}`)
              .join(" ")}
          />
        </svg>
      )}
      {corners.map(([x, y], k) => (
        <i
          key={k}
          className="paint-corner"
          style={{ left: place.x + x * sheet.width, top: place.y + y * sheet.height }}
        />
      ))}
    </div>
  );
}
