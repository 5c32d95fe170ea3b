import type { Act, ChangedShape, ChangedShapes, Shapes } from "../api/client";

/** A shape as it is now; what it was traced as, joined or not, by the numbers of those. */
export interface Shape {
  of: readonly number[];
  plate: string;
  white: boolean;
  colour: string;
  area: number;
  box: readonly number[];
  path: string;
  /** It leaves so; bare paper and what is hidden or deleted does not. */
  prints: boolean;
  hidden: boolean;
  /** It is there, and can be chosen. */
  isThere: boolean;
  isChanged: boolean;
  joined: boolean;
  cuts: boolean;
  order: readonly number[];
}

/** All shapes of a tracing as they are changed, first what lies beneath. */
export function shapesOf(traced: Shapes, changed: ChangedShapes | null): Shape[] {
  const plates = new Map(traced.plates.map((plate, number) => [plate.id, number]));
  const otherwise = new Set(changed?.shapes.flatMap((each) => each.of) ?? []);
  const found: Shape[] = (changed?.shapes ?? []).map(asShape);
  traced.shapes.forEach((each, number) => {
    if (otherwise.has(number)) return;
    found.push({
      ...each,
      of: [number],
      prints: !each.white,
      hidden: false,
      isThere: true,
      isChanged: false,
      joined: false,
      cuts: false,
      order: [plates.get(each.plate) ?? 0, 0, each.lot, 0],
    });
  });
  return found.sort((one, other) => inOrder(one.order, other.order));
}

function asShape(each: ChangedShape): Shape {
  const isBare = each.white && !each.prints && !each.hidden;
  return { ...each, isThere: each.prints || isBare, isChanged: true };
}

function inOrder(one: readonly number[], other: readonly number[]): number {
  for (let k = 0; k < Math.min(one.length, other.length); k += 1) {
    if (one[k] !== other[k]) return one[k]! - other[k]!;
  }
  return one.length - other.length;
}

/** Shapes as they will most likely be once something is done to them. */
export function expected(shapes: readonly Shape[], act: Act): readonly Shape[] {
  const { verb, colour } = act;
  const of = new Set(act.shapes);
  const change: Partial<Shape> | null =
    verb === "colour" && colour
      ? { colour, prints: true, isThere: true, isChanged: true }
      : verb === "hide" || verb === "delete"
        ? { prints: false, isThere: false, hidden: verb === "hide" }
        : null;
  return change
    ? shapes.map((each) => (isAmong(each, of) ? { ...each, ...change } : each))
    : shapes;
}

/** Shapes in the order that one meets them from above: inks, then the bare paper between them. */
export function fromAbove(shapes: readonly Shape[]): Shape[] {
  const there = shapes.filter((each) => each.isThere).reverse();
  return [...there.filter((each) => each.prints), ...there.filter((each) => !each.prints)];
}

/** Whether one of the shapes that another is made of is among some. */
export const isAmong = (shape: Shape, chosen: { has: (number: number) => boolean }) =>
  shape.of.some((number) => chosen.has(number));

/** Those that are like some: of one of their colours, inks like inks and paper like paper. */
export function ofLikeColour(shapes: readonly Shape[], like: readonly Shape[]): Shape[] {
  const known = new Set(like.map(kind));
  return shapes.filter((each) => each.isThere && known.has(kind(each)));
}

const kind = (shape: Shape) => (shape.prints ? shape.colour : `bare paper of ${shape.plate}`);

/** How much larger or smaller one may be that is of like size. */
const LIKE_SIZE = 1.5;

/** Those that are about as large as some, inks like inks and paper like paper. */
export function ofLikeSize(shapes: readonly Shape[], like: readonly Shape[]): Shape[] {
  return shapes.filter(
    (each) =>
      each.isThere &&
      like.some(
        (other) =>
          other.prints === each.prints &&
          each.area <= other.area * LIKE_SIZE &&
          each.area >= other.area / LIKE_SIZE,
      ),
  );
}

/** Those of ink, or of paper, that are smaller than an area, mm². */
export function smallerThan(shapes: readonly Shape[], area: number, prints: boolean): Shape[] {
  return shapes.filter((each) => each.isThere && each.prints === prints && each.area < area);
}

/** The next shape from the upper left to the lower right after one, or the one before. */
export function nextShape(shapes: readonly Shape[], from: Shape | undefined, by: 1 | -1) {
  const there = shapes.filter((each) => each.isThere).sort(inRows);
  if (there.length === 0) return undefined;
  const at = from ? there.findIndex((each) => each.of[0] === from.of[0]) : -1;
  const start = at < 0 && by < 0 ? 0 : at;
  return there[(start + by + there.length) % there.length];
}

function inRows(one: Shape, other: Shape): number {
  return one.box[1]! - other.box[1]! || one.box[0]! - other.box[0]! || one.of[0]! - other.of[0]!;
}

/** Sizes by which shapes are counted, mm²: below each, and the rest. */
const SIZES = [0.1, 1, 10, 100];

export interface Lot {
  colour: string;
  prints: boolean;
  words: string;
  shapes: Shape[];
}

/** How many there are of each colour and size, the large ones first. */
export function countedLots(shapes: readonly Shape[]): Lot[] {
  const lots = new Map<string, Lot>();
  for (const shape of shapes) {
    if (!shape.isThere) continue;
    const size = SIZES.findIndex((most) => shape.area < most);
    const [low, most] = size < 0 ? [SIZES.at(-1), undefined] : [SIZES[size - 1] ?? 0, SIZES[size]];
    const words = most === undefined ? `${low} mm² and more` : `${low} to ${most} mm²`;
    const key = `${shape.prints} ${shape.prints ? shape.colour : ""} ${words}`;
    const lot = lots.get(key) ?? { colour: shape.colour, prints: shape.prints, words, shapes: [] };
    lot.shapes.push(shape);
    lots.set(key, lot);
  }
  return [...lots.values()].sort(
    (one, other) =>
      Number(other.prints) - Number(one.prints) ||
      one.colour.localeCompare(other.colour) ||
      other.shapes[0]!.area - one.shapes[0]!.area,
  );
}

/** The box round some shapes, mm; null for none. */
export function boxRound(shapes: readonly Shape[]) {
  if (shapes.length === 0) return null;
  const [left, top, right, bottom] = [0, 1, 2, 3].map((side) =>
    shapes.reduce(
      (found, each) =>
        side < 2 ? Math.min(found, each.box[side]!) : Math.max(found, each.box[side]!),
      side < 2 ? Infinity : -Infinity,
    ),
  ) as [number, number, number, number];
  return { left, top, right, bottom };
}
