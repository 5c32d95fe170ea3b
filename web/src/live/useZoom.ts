import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { followPointer } from "../shared/followPointer";
import { followFingers } from "../shared/followFingers";
import { fitted, held, type Place, type Size, sizeOf, zoomed } from "./zoom";

const WHEEL_STEP = 0.0016;
const KEY_STEP = 1.4;

/**
 * Zoom and pan of the sheet in its area: wheel about the pointer, drag, keys, fit, 1:1. With two
 * panes the area is the half of the element, and both show the same part.
 */
export function useZoom(aspect: number, exportEdge: number, panes: number) {
  const [element, setElement] = useState<HTMLElement | null>(null);
  const [room, setRoom] = useState<Size>({ width: 0, height: 0 });
  const area = useMemo(
    () => ({ width: Math.floor(room.width / panes), height: room.height }),
    [room, panes],
  );
  const [chosen, setChosen] = useState<Place | null>(null);

  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setRoom({ width: entry.contentRect.width, height: entry.contentRect.height });
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
  /** Show the sheet with its long edge so many CSS pixels long, smaller than its bed or larger. */
  const showAt = useCallback((edge: number) => {
    const now = latest.current;
    const middle = { x: now.area.width / 2, y: now.area.height / 2 };
    setChosen(zoomed(now.place, edge, middle, now.area, now.aspect, true));
  }, []);
  const closer = useCallback(() => zoomTo(latest.current.place.edge * KEY_STEP), [zoomTo]);
  const farther = useCallback(() => zoomTo(latest.current.place.edge / KEY_STEP), [zoomTo]);

  /** Show a part of the sheet (shares 0..1) as large as it goes, up to the export's pixels. */
  const showRegion = useCallback(([left, top, right, bottom]: [number, number, number, number]) => {
    const now = latest.current;
    const unit = sizeOf(1, now.aspect);
    const byWidth = now.area.width / ((right - left) * unit.width);
    const byHeight = now.area.height / ((bottom - top) * unit.height);
    const least = fitted(now.area, now.aspect).edge;
    const edge = Math.max(least, Math.min(0.9 * Math.min(byWidth, byHeight), 4 * least));
    const size = sizeOf(edge, now.aspect);
    const x = now.area.width / 2 - ((left + right) / 2) * size.width;
    const y = now.area.height / 2 - ((top + bottom) / 2) * size.height;
    setChosen(held({ edge, x, y }, now.area, now.aspect));
  }, []);

  /** Move the sheet by shares of what shows of it. */
  const panBy = useCallback((right: number, down: number) => {
    const { place: from, area: pane, aspect: shape } = latest.current;
    if (from.edge <= fitted(pane, shape).edge * 1.001) return;
    const x = from.x - right * pane.width;
    const y = from.y - down * pane.height;
    setChosen(held({ ...from, x, y }, pane, shape));
  }, []);
  /** Arrows move the sheet that has the focus, plus and minus bring it closer or farther. */
  const keyed = useCallback(
    (event: React.KeyboardEvent<HTMLElement>) => {
      if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) {
        return;
      }
      const step = event.shiftKey ? 0.5 : 0.125;
      const acts: Record<string, () => void> = {
        ArrowLeft: () => panBy(-step, 0),
        ArrowRight: () => panBy(step, 0),
        ArrowUp: () => panBy(0, -step),
        ArrowDown: () => panBy(0, step),
        "+": closer,
        "-": farther,
        Home: fit,
      };
      const act = acts[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    },
    [panBy, closer, farther, fit],
  );

  useEffect(() => {
    if (!element) return;
    // React's wheel listeners are passive; the page must not scroll under the sheet.
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const { width } = latest.current.area;
      const point = { x: (event.clientX - box.left) % width, y: event.clientY - box.top };
      zoomTo(latest.current.place.edge * Math.exp(-event.deltaY * WHEEL_STEP), point);
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [element, zoomTo]);

  useEffect(() => {
    if (!element) return;
    return followFingers(element, () => {
      const { edge } = latest.current.place;
      const box = element.getBoundingClientRect();
      const { width } = latest.current.area;
      return (times, x, y) => zoomTo(edge * times, { x: (x - box.left) % width, y: y - box.top });
    });
  }, [element, zoomTo]);

  const drag = useCallback((event: React.PointerEvent<HTMLElement>) => {
    // The middle button moves the sheet also where the first one does something else.
    if (event.button !== 0 && event.button !== 1) return;
    const { place: from, area: pane, aspect: shape } = latest.current;
    const start = { x: event.clientX, y: event.clientY };
    followPointer(event, {
      move: (at) => {
        const [x, y] = [from.x + at.clientX - start.x, from.y + at.clientY - start.y];
        if (from.edge <= fitted(pane, shape).edge * 1.001) return;
        setChosen(held({ ...from, x, y }, pane, shape));
      },
    });
  }, []);

  return {
    setElement,
    area,
    place,
    isFit: chosen === null,
    fit,
    oneToOne,
    showAt,
    closer,
    farther,
    showRegion,
    drag,
    keyed,
  };
}
