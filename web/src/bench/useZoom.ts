import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { fitted, held, type Place, type Size, zoomed } from "./zoom";

const WHEEL_STEP = 0.0016;
const KEY_STEP = 1.4;

/** Zoom and pan of the sheet in its area: wheel about the pointer, drag, keys, fit, 1:1. */
export function useZoom(aspect: number, exportEdge: number) {
  const [element, setElement] = useState<HTMLElement | null>(null);
  const [area, setArea] = useState<Size>({ width: 0, height: 0 });
  const [chosen, setChosen] = useState<Place | null>(null);

  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setArea({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);

  const place = useMemo(
    () => (chosen ? held(chosen, area, aspect) : fitted(area, aspect)),
    [chosen, area, aspect],
  );
  const latest = useRef({ place, area, aspect });
  useEffect(() => {
    latest.current = { place, area, aspect };
  }, [place, area, aspect]);

  const zoomTo = useCallback((edge: number, point?: { x: number; y: number }) => {
    const now = latest.current;
    const middle = { x: now.area.width / 2, y: now.area.height / 2 };
    const next = zoomed(now.place, edge, point ?? middle, now.area, now.aspect);
    const least = fitted(now.area, now.aspect).edge;
    setChosen(next.edge <= least * 1.001 ? null : next);
  }, []);

  const fit = useCallback(() => setChosen(null), []);
  const oneToOne = useCallback(
    () => zoomTo(exportEdge / window.devicePixelRatio),
    [zoomTo, exportEdge],
  );
  const closer = useCallback(() => zoomTo(latest.current.place.edge * KEY_STEP), [zoomTo]);
  const farther = useCallback(() => zoomTo(latest.current.place.edge / KEY_STEP), [zoomTo]);

  useEffect(() => {
    if (!element) return;
    // React's wheel listeners are passive; the page must not scroll under the sheet.
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const point = { x: event.clientX - box.left, y: event.clientY - box.top };
      zoomTo(latest.current.place.edge * Math.exp(-event.deltaY * WHEEL_STEP), point);
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [element, zoomTo]);

  const drag = useCallback((event: React.PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    const { place: from, area: room, aspect: shape } = latest.current;
    const surface = event.currentTarget;
    const start = { x: event.clientX, y: event.clientY };
    surface.setPointerCapture(event.pointerId);
    const move = (at: PointerEvent) => {
      const moved = { ...from, x: from.x + at.clientX - start.x, y: from.y + at.clientY - start.y };
      if (from.edge > fitted(room, shape).edge * 1.001) setChosen(held(moved, room, shape));
    };
    const end = () => {
      surface.removeEventListener("pointermove", move);
      surface.removeEventListener("pointerup", end);
      surface.removeEventListener("pointercancel", end);
    };
    surface.addEventListener("pointermove", move);
    surface.addEventListener("pointerup", end);
    surface.addEventListener("pointercancel", end);
  }, []);

  return { setElement, area, place, isFit: chosen === null, fit, oneToOne, closer, farther, drag };
}
