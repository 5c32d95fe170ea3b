import type { PhotoRecord, Sheet } from "../../api/client";
import { croppedSize, fittingWidth, paperSize, turnedSize } from "../../sheet/paper";

/** A part of the turned photo, in shares of its width and height. */
export interface Bounds {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export const WHOLE_PHOTO: Bounds = { left: 0, top: 0, right: 1, bottom: 1 };
/** The least width and height of a crop. */
export const LEAST = 0.02;
const MOST_STRAIGHTEN = 15;

/** What a crop does to the paper: it is cut smaller, or filled by the part. */
export type CropWay = "trim" | "fill";

export type Shape = "free" | "photo" | "paper" | "1:1" | "4:5" | "3:2" | "A";
export const SHAPES: [Shape, string][] = [
  ["free", "Free"],
  ["photo", "As the photo"],
  ["paper", "As the paper"],
  ["1:1", "Square"],
  ["4:5", "4 : 5"],
  ["3:2", "3 : 2"],
  ["A", "A series"],
];

/** Width over height of a shape, lying as the crop lies; null where it is free. */
export function ratioOf(shape: Shape, sheet: Sheet, photo: PhotoRecord, isUpright: boolean) {
  const turned = turnedSize(photo, sheet.picture.crop);
  const paper = paperSize(photo, sheet);
  if (shape === "free") return null;
  if (shape === "photo") return turned.width / turned.height;
  if (shape === "paper") return paper.width / paper.height;
  const wide = { "1:1": 1, "4:5": 5 / 4, "3:2": 3 / 2, A: Math.SQRT2 }[shape];
  return isUpright ? 1 / wide : wide;
}

/** The largest part of that ratio (in shares) with the same middle that lies in the photo. */
export function shaped(bounds: Bounds, ratio: number): Bounds {
  const [wide, high] = [bounds.right - bounds.left, bounds.bottom - bounds.top];
  let width = Math.sqrt(wide * high * ratio);
  let height = width / ratio;
  const by = Math.min(1, 1 / width, 1 / height);
  [width, height] = [width * by, height * by];
  const left = (bounds.left + bounds.right - width) / 2;
  const top = (bounds.top + bounds.bottom - height) / 2;
  return movedBy({ left, top, right: left + width, bottom: top + height }, 0, 0);
}

/** The part moved, as far as the photo goes. */
export function movedBy(bounds: Bounds, x: number, y: number): Bounds {
  const by = (low: number, high: number, way: number) => Math.min(1 - high, Math.max(-low, way));
  const [right, down] = [by(bounds.left, bounds.right, x), by(bounds.top, bounds.bottom, y)];
  return {
    left: bounds.left + right,
    top: bounds.top + down,
    right: bounds.right + right,
    bottom: bounds.bottom + down,
  };
}

/** Which edges a handle moves: -1 the left or top one, 1 the right or bottom one, 0 neither. */
export type Handle = [-1 | 0 | 1, -1 | 0 | 1];

export const HANDLES: Handle[] = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
];

/** The part with a handle dragged to a place; ratio (in shares) is kept where there is one. */
export function dragged(
  bounds: Bounds,
  [across, down]: Handle,
  to: { x: number; y: number },
  ratio: number | null,
): Bounds {
  const held = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
  const next = { ...bounds };
  if (across < 0) next.left = held(to.x, 0, bounds.right - LEAST);
  if (across > 0) next.right = held(to.x, bounds.left + LEAST, 1);
  if (down < 0) next.top = held(to.y, 0, bounds.bottom - LEAST);
  if (down > 0) next.bottom = held(to.y, bounds.top + LEAST, 1);
  if (ratio === null) return next;
  let width = next.right - next.left;
  let height = next.bottom - next.top;
  if (across === 0) width = height * ratio;
  else height = width / ratio;
  // From the corner or edge that stays, as large as there is room.
  const room = {
    x: across < 0 ? bounds.right : across > 0 ? 1 - bounds.left : 1,
    y: down < 0 ? bounds.bottom : down > 0 ? 1 - bounds.top : 1,
  };
  const by = Math.min(1, room.x / width, room.y / height);
  [width, height] = [width * by, height * by];
  const middle = { x: (next.left + next.right) / 2, y: (next.top + next.bottom) / 2 };
  const left = across < 0 ? bounds.right - width : across > 0 ? bounds.left : middle.x - width / 2;
  const top = down < 0 ? bounds.bottom - height : down > 0 ? bounds.top : middle.y - height / 2;
  return movedBy({ left, top, right: left + width, bottom: top + height }, 0, 0);
}

/** The sheet with another part of its photo: the paper is trimmed with it, or filled by it. */
export function withCrop(sheet: Sheet, photo: PhotoRecord, bounds: Bounds, way: CropWay): Sheet {
  const picture = { ...sheet.picture, crop: { ...sheet.picture.crop, ...bounds } };
  const next = { ...sheet, picture };
  if (way === "fill") {
    const position = { ...picture.position, width: null, x: null, y: null };
    return { ...next, picture: { ...picture, position } };
  }
  const [before, after] = [croppedSize(photo, sheet), croppedSize(photo, next)];
  const { paper } = sheet;
  if (paper.size === "as-picture") {
    const by = Math.max(after.width, after.height) / Math.max(before.width, before.height);
    const long_edge = Math.min(2000, Math.max(5, Number((paper.long_edge * by).toFixed(2))));
    return { ...next, paper: { ...paper, long_edge } };
  }
  const was = picture.position.width ?? fittingWidth(paper, before);
  const width = Math.max(1, (was * after.width) / before.width);
  return { ...next, picture: { ...picture, position: { ...picture.position, width } } };
}

/** The sheet with its photo a quarter turn further counter-clockwise (1) or clockwise (-1). */
export function quarterTurned(sheet: Sheet, by: 1 | -1): Sheet {
  const { crop } = sheet.picture;
  const { left, top, right, bottom } = crop;
  const turned =
    by === 1
      ? { left: top, top: 1 - right, right: bottom, bottom: 1 - left }
      : { left: 1 - bottom, top: left, right: 1 - top, bottom: right };
  const quarter_turns = (crop.quarter_turns + by + 4) % 4;
  return { ...sheet, picture: { ...sheet.picture, crop: { ...crop, ...turned, quarter_turns } } };
}

/** What to straighten by so that a line (in pixels of the screen) is level, or upright. */
export function levelled(straighten: number, x: number, y: number): number {
  const angle = (Math.atan2(-y, x) * 180) / Math.PI;
  const off = angle - Math.round(angle / 90) * 90;
  const next = Math.min(MOST_STRAIGHTEN, Math.max(-MOST_STRAIGHTEN, straighten - off));
  return Number(next.toFixed(1));
}
