import { useEffect, useMemo, useRef, useState } from "react";
import type { Act, Beneath, Shapes } from "../api/client";
import { useZoom } from "../live/useZoom";
import { boxOf } from "../live/zoom";
import { arrowWay } from "../shared/arrows";
import { followPointer, isFarFrom } from "../shared/followPointer";
import { newGesture } from "../shared/gesture";
import { useKey } from "../shared/keys";
import { ZoomButtons } from "../shared/ZoomButtons";
import { Board, type Look, type Scene } from "./Board";
import { ChosenBox } from "./ChosenBox";
import { isWithin, pathOf } from "./paths";
import { fromAbove, type Shape } from "./shapes";
import { moved, type Way } from "./ways";

interface ShapeBedProps {
  traced: Shapes;
  shapes: readonly Shape[];
  beneath: readonly Beneath[];
  chosen: readonly Shape[];
  dropsPaper: boolean;
  isGathering: boolean;
  onChoose: (shapes: readonly Shape[], isAdded: boolean) => void;
  onAct: (act: Act, gesture?: string) => Promise<unknown>;
}

const [STEP_MM, FAR_MM, FINE_MM] = [1, 10, 0.1];
/** Pixels of the file to a mm: one to one shows about 300 to the inch. */
const PX_PER_MM = 12;
const NO_LINE: readonly [number, number][] = [];

/** The sheet as shapes: pressed to be chosen, gone round, and dragged to where they shall be. */
export function ShapeBed(props: ShapeBedProps) {
  const { traced, shapes, beneath, chosen, dropsPaper, isGathering, onChoose, onAct } = props;
  const aspect = traced.width / traced.height;
  const exportEdge = Math.round(Math.max(traced.width, traced.height) * PX_PER_MM);
  const { area, place, isFit, setElement, ...zoom } = useZoom(aspect, exportEdge, 1);
  const canvas = useRef<HTMLCanvasElement>(null);
  const board = useRef<Board | null>(null);
  const [way, setWay] = useState<Way | null>(null);
  const held = useRef("");
  const [round, setRound] = useState<readonly [number, number][]>(NO_LINE);
  const loose = useImage(traced.loose ?? null);
  const scene: Scene = useMemo(
    () => ({
      width: traced.width,
      height: traced.height,
      paper: dropsPaper ? null : traced.paper,
      beneath,
      loose,
      shapes,
    }),
    [traced, dropsPaper, beneath, loose, shapes],
  );
  const above = useMemo(() => fromAbove(shapes), [shapes]);
  // What was taken elsewhere is shown there until it is drawn so.
  const [settled, setSettled] = useState(shapes);
  if (settled !== shapes) {
    setSettled(shapes);
    if (way) setWay(null);
  }
  const look: Look = useMemo(
    () => ({ place, area, chosen, way, round }),
    [place, area, chosen, way, round],
  );
  useEffect(() => {
    const made = new Board(canvas.current!);
    board.current = made;
    return () => made.close();
  }, []);
  useEffect(() => {
    if (area.width > 0) board.current?.show(scene, look);
  }, [scene, look, area]);
  useKey("fit", zoom.fit);
  useKey("exportPixels", zoom.oneToOne);
  useKey("closer", zoom.closer);
  useKey("farther", zoom.farther);

  const box = boxOf(place, aspect);
  const pxPerMm = box.width / traced.width;

  function at(event: { clientX: number; clientY: number }): [number, number] {
    const bounds = canvas.current!.getBoundingClientRect();
    return [
      (event.clientX - bounds.left - box.left) / pxPerMm,
      (event.clientY - bounds.top - box.top) / pxPerMm,
    ];
  }

  /** The shapes at a place, from above. */
  function hit(x: number, y: number): Shape[] {
    const draw = canvas.current!.getContext("2d")!;
    draw.setTransform(1, 0, 0, 1, 0, 0);
    return above.filter((each) => {
      const [left, top, right, bottom] = each.box as [number, number, number, number];
      const isNear = x >= left && x <= right && y >= top && y <= bottom;
      return isNear && draw.isPointInPath(pathOf(each), x, y);
    });
  }

  function pressed(event: React.PointerEvent<HTMLElement>) {
    if (event.target !== canvas.current && event.target !== event.currentTarget) return;
    if (event.button === 1 || event.ctrlKey) {
      zoom.drag(event);
      return;
    }
    if (event.button !== 0) return;
    const from = at(event);
    const here = hit(...from);
    const known = new Set(chosen);
    const isAdded = event.shiftKey || isGathering;
    const isTaken = !isAdded && here.some((each) => known.has(each));
    const line: [number, number][] = [from];
    let isFar = false;
    followPointer(event, {
      move: (to) => {
        isFar ||= isFarFrom(event, to);
        if (!isFar) return;
        const now = at(to);
        if (isTaken) {
          setWay(moved({ x: now[0] - from[0], y: now[1] - from[1] }));
        } else {
          line.push(now);
          setRound([...line]);
        }
      },
      end: (to, isCancelled) => {
        setRound(NO_LINE);
        if (isCancelled) {
          setWay(null);
        } else if (!isFar) {
          const last = here.findIndex((each) => known.has(each));
          const next = isAdded ? here[0] : here[(last + 1) % Math.max(1, here.length)];
          onChoose(next ? [next] : [], isAdded);
        } else if (isTaken) {
          const now = at(to);
          lay(moved({ x: now[0] - from[0], y: now[1] - from[1] }));
        } else {
          onChoose(
            shapes.filter((each) => each.isThere && isWithin(each, line)),
            isAdded,
          );
        }
      },
    });
  }

  function lay(where: Way, gesture = newGesture()) {
    void onAct({ verb: "lay", way: where }, gesture).then(() => setWay(null));
  }

  function keyed(event: React.KeyboardEvent<HTMLElement>) {
    const by = arrowWay(event, event.altKey ? FINE_MM : STEP_MM, FAR_MM);
    if (by && chosen.length > 0 && event.target === event.currentTarget) {
      event.preventDefault();
      // A key that is held is one step.
      if (!event.repeat) held.current = newGesture();
      lay(moved(by), held.current);
      return;
    }
    zoom.keyed(event);
  }

  return (
    <div
      className="bed shape-bed"
      ref={setElement}
      role="group"
      tabIndex={0}
      aria-label="The sheet as shapes: J goes from one to the next, arrows move what is chosen, or the sheet where nothing is"
      data-area="the shapes"
      data-shapes={shapes.length}
      onPointerDown={pressed}
      onKeyDown={keyed}
    >
      <canvas ref={canvas} aria-hidden="true" style={{ width: area.width, height: area.height }} />
      <ChosenBox
        chosen={chosen}
        box={box}
        pxPerMm={pxPerMm}
        isMoving={way !== null}
        at={at}
        onWay={setWay}
        onLay={lay}
      />
      <ZoomButtons
        isFit={isFit}
        percent={(place.edge * 100) / exportEdge}
        onFit={zoom.fit}
        onCloser={zoom.closer}
        onFarther={zoom.farther}
      />
    </div>
  );
}

/** A picture from its data, once it is decoded. */
function useImage(data: string | null): HTMLImageElement | null {
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    if (!data) return undefined;
    let isOver = false;
    const made = new Image();
    made.src = data;
    void made.decode().then(() => !isOver && setImage(made));
    return () => {
      isOver = true;
      setImage(null);
    };
  }, [data]);
  return image;
}
