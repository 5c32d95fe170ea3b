import type { Catalogue, PhotoRecord, Sheet } from "../api/client";

/** Pixels of the whole photo, turned and straightened: so much smaller that no corner is bare. */
export function turnedSize(photo: PhotoRecord, crop: Sheet["picture"]["crop"]) {
  const isOnItsSide = crop.quarter_turns % 2 === 1;
  const width = isOnItsSide ? photo.height : photo.width;
  const height = isOnItsSide ? photo.width : photo.height;
  if (!crop.straighten) return { width, height };
  const turn = (Math.abs(crop.straighten) * Math.PI) / 180;
  const larger = Math.cos(turn) + Math.sin(turn) * Math.max(width / height, height / width);
  return {
    width: Math.max(1, Math.floor(width / larger)),
    height: Math.max(1, Math.floor(height / larger)),
  };
}

/** Pixels of the part of the photo that the sheet shows. */
export function croppedSize(photo: PhotoRecord, sheet: Sheet) {
  const { crop } = sheet.picture;
  const { width, height } = turnedSize(photo, crop);
  return {
    width: Math.max(1, Math.round(crop.right * width) - Math.round(crop.left * width)),
    height: Math.max(1, Math.round(crop.bottom * height) - Math.round(crop.top * height)),
  };
}

/** The paper in mm, and how many pixels its long edge has at the photo's own. */
export function paperSize(photo: PhotoRecord, sheet: Sheet) {
  const { paper, picture } = sheet;
  const native = croppedSize(photo, sheet);
  const longest = Math.max(native.width, native.height);
  if (paper.size === "as-picture") {
    const mm = paper.long_edge / longest;
    return { width: mm * native.width, height: mm * native.height, edgePx: longest };
  }
  const { width, height } = paper;
  const pxPerMm = native.width / (picture.position.width ?? fittingWidth(paper, native));
  return { width, height, edgePx: Math.max(1, Math.round(Math.max(width, height) * pxPerMm)) };
}

/** How wide a picture is that fits on a paper of its own size, within the margins, mm. */
export function fittingWidth(
  { width, height, margin }: Extract<Sheet["paper"], { size: "own" }>,
  native: { width: number; height: number },
): number {
  const room = (side: number) => Math.max(1, side - 2 * margin);
  return Math.min(room(width) / native.width, room(height) / native.height) * native.width;
}

function without<T extends object, Name extends keyof T>(all: T, names: Name[]): Omit<T, Name> {
  const kept = Object.entries(all).filter(([name]) => !names.includes(name as Name));
  return Object.fromEntries(kept) as Omit<T, Name>;
}

/** The same paper in the picture's own shape. */
export function asPicture(paper: Sheet["paper"], longEdge: number): Sheet["paper"] {
  if (paper.size === "as-picture") return { ...paper, long_edge: longEdge };
  const same = without(paper, ["width", "height", "margin"]);
  return { ...same, size: "as-picture", long_edge: longEdge };
}

type Cut = Catalogue["cuts"][number];

/** The same paper, cut to a size. */
export function ofCut(paper: Sheet["paper"], cut: Cut, isAcross: boolean): Sheet["paper"] {
  const sides = [cut.width, cut.height].sort((one, other) => one - other) as [number, number];
  const [width, height] = isAcross ? [sides[1], sides[0]] : sides;
  if (paper.size === "own") return { ...paper, width, height };
  return { ...without(paper, ["long_edge"]), size: "own", width, height, margin: 0 };
}

/** The size that a paper is cut to, whichever way it lies; undefined for one of its own. */
export function cutOf(cuts: Cut[], paper: Sheet["paper"]): Cut | undefined {
  if (paper.size !== "own") return undefined;
  const same = (one: number, other: number) => Math.abs(one - other) < 0.05;
  const [short, long] = [paper.width, paper.height].sort((one, other) => one - other);
  return cuts.find((cut) => same(cut.width, short!) && same(cut.height, long!));
}

/** The size of a paper in words. */
export function paperWords(paper: Sheet["paper"]): string {
  return paper.size === "as-picture"
    ? `${paper.long_edge} mm`
    : `${paper.width} × ${paper.height} mm`;
}
