import { useCallback, useEffect, useRef, useState } from "react";
import { type Pictures, usePicture } from "../../live/pictures";
import { type Place, type Size, sizeOf } from "../../live/zoom";
import { arrowWay } from "../../shared/arrows";
import { followPointer } from "../../shared/followPointer";
import type { Hand, Point } from "./useHand";

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

/** Lies over the sheet while the hand works on it: shows its trail at once, and sends each stroke. */
export function PaintLayer({ hand, pictures, area, place, aspect, pxPerMm }: PaintLayerProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const ring = useRef<HTMLDivElement>(null);
  const last = useRef<Point | null>(null);
  const frame = useRef<number | null>(null);
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
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
    trail([points[0]!, ...points], 1);
    followPointer(event, {
      move: (to) => {
        const from = points.length;
        // Every place that the pointer was at, not only where it is now.
        const all = to.getCoalescedEvents?.() ?? [];
        for (const each of all.length > 0 ? all : [to]) points.push(pointAt(each));
        trail(points, from);
        soon(points);
      },
      end: (_, isCancelled) => {
        if (frame.current !== null) cancelAnimationFrame(frame.current);
        frame.current = null;
        if (isCancelled) {
          wipe();
          hand.trace(null);
        } else if (brush.by !== "area" || points.length > 2) make(points);
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
        if (brush.by !== "area") make([point]);
        else setCorners([...corners, point]);
      },
      Enter: () => {
        if (corners.length > 2) make(corners);
        setCorners([]);
      },
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
      aria-label="Hand work: arrows move a cross, Space sets a dab or a corner, Enter closes an area"
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
      {brush.by === "brush" && (
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
