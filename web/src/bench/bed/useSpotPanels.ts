import { useMemo, useState } from "react";
import type { Size } from "../../live/zoom";

/** Where the panel of a watch spot lies on the bed, CSS pixels; its picture's size. */
export interface Panel extends Size {
  x: number;
  y: number;
  /** As high as the bed. */
  isTall: boolean;
}

const USUAL_PX = 176;
const USUAL_SHAPE = 0.75;
/** On a narrow bed they are smaller. */
const USUAL_SHARE = 0.24;
const LEAST = { width: 96, height: 72 };
/** What a panel has round its picture: the frame, the line under it, and the gap to the next. */
const [FRAME, LINE, GAP, EDGE] = [10, 44, 8, 10];
/** A tall panel's share of the bed's width. */
const TALL_SHARE = 0.42;

/** What was asked of a panel; undefined where it is as it comes. */
interface Wish {
  x?: number | undefined;
  y?: number | undefined;
  width?: number | undefined;
  height?: number | undefined;
  isTall?: boolean;
}

/** The panels of the watch spots: below each other at the right, until they are moved or sized. */
export function useSpotPanels(count: number, area: Size) {
  const [wishes, setWishes] = useState<Wish[]>([]);
  const panels = useMemo(() => panelsOf(count, wishes, area), [count, wishes, area]);

  function change(number: number, wish: Wish) {
    setWishes((present) => {
      const next = Array.from(
        { length: Math.max(count, present.length) },
        (_, k) => present[k] ?? {},
      );
      return next.with(number, { ...next[number], ...wish });
    });
  }

  /** A spot that is taken away takes its panel with it; the others stay where they are. */
  function forget(number: number) {
    setWishes((present) => present.toSpliced(number, 1));
  }

  return { panels, change, forget };
}

export type SpotPanels = ReturnType<typeof useSpotPanels>;

/** Where panels lie, held within the bed; small ones beside those that are as high as it. */
export function panelsOf(count: number, wishes: Wish[], area: Size): Panel[] {
  const all = Array.from({ length: count }, (_, k) => wishes[k] ?? {});
  const panels = all.map((wish) => (wish.isTall ? tall(wish, area) : undefined));
  const rights = panels.map((panel) => (panel ? panel.x - GAP : area.width - EDGE));
  const right = Math.min(...rights, area.width - EDGE);
  let top = EDGE;
  return all.map((wish, k) => {
    if (panels[k]) return panels[k];
    const panel = small(wish, area, right, top);
    if (wish.y === undefined) top += panel.height + FRAME + LINE + GAP;
    return panel;
  });
}

function tall(wish: Wish, area: Size): Panel {
  const most = mostOf(area);
  const width = held(wish.width ?? area.width * TALL_SHARE, LEAST.width, most.width);
  const right = area.width - width - FRAME - EDGE;
  return { width, height: most.height, isTall: true, x: held(wish.x ?? right, 0, right), y: EDGE };
}

function small(wish: Wish, area: Size, right: number, top: number): Panel {
  const most = mostOf(area);
  const usual = Math.min(USUAL_PX, area.width * USUAL_SHARE);
  const width = held(wish.width ?? usual, LEAST.width, most.width);
  const height = held(wish.height ?? width * USUAL_SHAPE, LEAST.height, most.height);
  return {
    width,
    height,
    isTall: false,
    x: held(wish.x ?? right - width - FRAME, 0, area.width - width - FRAME),
    y: held(wish.y ?? top, 0, area.height - height - FRAME - LINE),
  };
}

function mostOf(area: Size): Size {
  return {
    width: area.width - 2 * EDGE - FRAME,
    height: area.height - 2 * EDGE - FRAME - LINE,
  };
}

function held(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(value, high));
}
