import type { Pull } from "../../api/client";

/** The ring as it is drawn: red at the top, hues clockwise; further out is lighter. */
export const RING = { size: 176, middle: 88, level: 62, swing: 22 };
const REACH = 60;
/** Nearer to the level than this a point rests on it. */
const RESTS = 0.04;
/** Points this near to a picked hue are that hue's. */
const SAME_DEG = 18;

/** Hue and pull at a place of the drawn ring. */
export function placeOf(x: number, y: number): { hue: number; pull: number } {
  const [right, up] = [x - RING.middle, RING.middle - y];
  const hue = ((Math.atan2(right, up) * 180) / Math.PI + 360) % 360;
  const pull = held((Math.hypot(right, up) - RING.level) / RING.swing);
  return { hue: Math.round(hue), pull: Math.abs(pull) < RESTS ? 0 : round(pull) };
}

/** Where a point stands on the drawn ring. */
export function angleOf({ hue, pull }: Pull): [number, number] {
  const radius = RING.level + RING.swing * pull;
  const angle = (hue * Math.PI) / 180;
  return [RING.middle + radius * Math.sin(angle), RING.middle - radius * Math.cos(angle)];
}

/** A new point at a place. */
export function added(place: { hue: number; pull: number }): Pull {
  return { hue: place.hue % 360, pull: place.pull, reach: REACH };
}

/** The points with a hue pulled by so much more; the nearest one that is as good as there is moved. */
export function pulledAt(points: Pull[], hue: number, by: number, most: number): Pull[] | null {
  const at = points.findIndex((each) => away(each.hue, hue) <= SAME_DEG);
  if (at >= 0) return points.with(at, { ...points[at]!, pull: round(held(points[at]!.pull + by)) });
  if (points.length >= most) return null;
  return [...points, { hue: Math.round(hue) % 360, pull: round(held(by)), reach: REACH }];
}

/** A point after a key; undefined for keys that do nothing to it. */
export function turned(point: Pull, key: string, isFar: boolean): Pull | undefined {
  const by = isFar ? 5 : 1;
  switch (key) {
    case "ArrowUp":
      return { ...point, pull: round(held(point.pull + 0.02 * by)) };
    case "ArrowDown":
      return { ...point, pull: round(held(point.pull - 0.02 * by)) };
    case "ArrowRight":
      return { ...point, hue: (point.hue + 2 * by) % 360 };
    case "ArrowLeft":
      return { ...point, hue: (point.hue - 2 * by + 360) % 360 };
    case "+":
      return { ...point, reach: Math.min(180, point.reach + 5) };
    case "-":
      return { ...point, reach: Math.max(10, point.reach - 5) };
    default:
      return undefined;
  }
}

const NAMES = [
  "red",
  "orange",
  "yellow",
  "lime",
  "green",
  "sea green",
  "cyan",
  "sky blue",
  "blue",
  "violet",
  "magenta",
  "rose",
];

/** What a hue is called. */
export function hueName(hue: number): string {
  return NAMES[Math.round(hue / 30) % 12]!;
}

function away(one: number, other: number): number {
  return Math.abs(((one - other + 540) % 360) - 180);
}

function held(pull: number): number {
  return Math.min(1, Math.max(-1, pull));
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}
