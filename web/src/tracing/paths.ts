import type { Shape } from "./shapes";

const paths = new Map<string, Path2D>();
const ends = new Map<string, [number, number][]>();
const MOST_HELD = 60_000;

/** The outlines of a shape for a canvas, in mm; held by their data. */
export function pathOf(shape: Shape): Path2D {
  return heldIn(paths, shape.path, () => new Path2D(shape.path));
}

/** Where the curves of a shape's outlines end, mm. */
export function endsOf(shape: Shape): [number, number][] {
  return heldIn(ends, shape.path, () => readEnds(shape.path));
}

function heldIn<T>(held: Map<string, T>, key: string, make: () => T): T {
  let found = held.get(key);
  if (found === undefined) {
    if (held.size >= MOST_HELD) held.clear();
    found = make();
    held.set(key, found);
  }
  return found;
}

const WORDS = /([Mclz])([^Mclz]*)/g;
const NUMBERS = /-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?/g;

/** Path data as it is written here: M with a place, c and l with steps from the last one, z. */
function readEnds(data: string): [number, number][] {
  const found: [number, number][] = [];
  let [x, y] = [0, 0];
  for (const [, word, rest] of data.matchAll(WORDS)) {
    const numbers = (rest!.match(NUMBERS) ?? []).map(Number);
    const [right, down] = numbers.slice(-2);
    if (right === undefined || down === undefined) continue;
    [x, y] = word === "M" ? [right, down] : [x + right, y + down];
    found.push([x, y]);
  }
  return found;
}

/** Whether all of a shape lies within a line that was drawn round something, mm. */
export function isWithin(shape: Shape, round: readonly [number, number][]): boolean {
  return endsOf(shape).every(([x, y]) => encloses(round, x, y));
}

/** Whether a closed line goes round a place, by how often a ray from there meets it. */
export function encloses(round: readonly [number, number][], x: number, y: number): boolean {
  let inside = false;
  for (let k = 0, before = round.length - 1; k < round.length; before = k, k += 1) {
    const [[x1, y1], [x2, y2]] = [round[before]!, round[k]!];
    if (y1 > y !== y2 > y && x < x1 + ((y - y1) / (y2 - y1)) * (x2 - x1)) inside = !inside;
  }
  return inside;
}
