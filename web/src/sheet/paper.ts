import type { PhotoRecord, Sheet } from "../api/client";

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
  const fitting = Math.min(width / native.width, height / native.height) * native.width;
  const pxPerMm = native.width / (picture.position.width ?? fitting);
  return { width, height, edgePx: Math.max(1, Math.round(Math.max(width, height) * pxPerMm)) };
}

/** The same paper in the picture's own shape. */
export function asPicture(paper: Sheet["paper"], longEdge: number): Sheet["paper"] {
  if (paper.size === "as-picture") return { ...paper, long_edge: longEdge };
  const kept = Object.entries(paper).filter(([name]) => name !== "width" && name !== "height");
  const same = Object.fromEntries(kept) as Omit<typeof paper, "size" | "width" | "height">;
  return { ...same, size: "as-picture", long_edge: longEdge };
}

/** The size of a paper in words. */
export function paperWords(paper: Sheet["paper"]): string {
  return paper.size === "as-picture"
    ? `${paper.long_edge} mm`
    : `${paper.width} × ${paper.height} mm`;
}
