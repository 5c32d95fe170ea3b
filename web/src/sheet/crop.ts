import type { PhotoRecord, Sheet } from "../api/client";

/** Pixels of the part of the photo that the sheet shows. */
export function croppedSize(photo: PhotoRecord, sheet: Sheet) {
  const { crop } = sheet;
  const turned = crop.quarter_turns % 2 === 1;
  const width = turned ? photo.height : photo.width;
  const height = turned ? photo.width : photo.height;
  return {
    width: Math.max(1, Math.round(crop.right * width) - Math.round(crop.left * width)),
    height: Math.max(1, Math.round(crop.bottom * height) - Math.round(crop.top * height)),
  };
}
