import { useMemo, useState } from "react";
import type { Sheet } from "../../api/client";
import { usePhotos } from "../../api/queries";
import { newGesture } from "../../shared/gesture";
import { asPicture, paperSize, turnedSize } from "../../sheet/paper";
import { asMain, backFrom } from "../../sheet/sources";
import type { Choosing } from "../choosing/useChoosing";
import type { TheBench } from "../theBench";
import {
  type Bounds,
  type CropWay,
  levelled,
  quarterTurned,
  ratioOf,
  type Shape,
  shaped,
  WHOLE_PHOTO,
  withCrop,
} from "./crops";

/** The crop while it is worked on: its frame over the whole photo, and what becomes of it. */
export function useCropping(bench: TheBench, choosing: Choosing) {
  const { work } = bench;
  const { plate } = choosing;
  const photos = usePhotos(plate.source.kind === "photo");
  // What another photo of the sheet comes to is worked out as if it were the sheet's own.
  const sheet = useMemo(
    () => asMain(bench.sheet, plate, paperSize(bench.photo, bench.sheet)),
    [bench.sheet, bench.photo, plate],
  );
  const photo =
    photos.data?.find((each) => each.id === sheet.picture.photo && plate.source.kind === "photo") ??
    bench.photo;
  const change = (next: Sheet, words: string) =>
    work.change(backFrom(bench.sheet, plate, next), words, newGesture());
  const [bounds, setBounds] = useState<Bounds | null>(null);
  const [shape, setShape] = useState<Shape>("free");
  const [way, setWay] = useState<CropWay>("trim");
  const [isLevelling, setLevelling] = useState(false);
  const { crop } = sheet.picture;
  const isOn = bounds !== null && choosing.step === "photo";
  const turned = turnedSize(photo, crop);
  const aspect = turned.width / turned.height;

  function begin() {
    const { left, top, right, bottom } = crop;
    setBounds({ left, top, right, bottom });
    setShape("free");
  }

  function leave() {
    setBounds(null);
    setLevelling(false);
  }

  /** The ratio of a shape in shares of the photo; null where it is free. */
  function ratio(of: Shape = shape): number | null {
    if (!bounds) return null;
    const isUpright =
      (bounds.right - bounds.left) * turned.width < (bounds.bottom - bounds.top) * turned.height;
    const found = ratioOf(of, sheet, photo, isUpright);
    return found === null ? null : found / aspect;
  }

  function take() {
    if (!bounds) return;
    const words = way === "trim" ? "Photo: cropped, paper trimmed" : "Photo: cropped to fill";
    change(withCrop(sheet, photo, bounds, way), words);
    leave();
  }

  // The whole photo upright on a paper of its own shape, as long as it is cropped.
  const shown = useMemo(() => {
    if (!isOn) return null;
    const picture = { ...sheet.picture, crop: { ...sheet.picture.crop, ...WHOLE_PHOTO } };
    const position = { ...picture.position, x: null, y: null, width: null, turn: 0 };
    return {
      ...sheet,
      picture: { ...picture, position: { ...position, mirrored: false, as_drawn: 1 } },
      paper: asPicture(sheet.paper, 200),
    };
  }, [isOn, sheet]);

  return {
    isOn,
    /** The photo that is cropped: the sheet's, or the plate's own. */
    photo,
    begin,
    leave,
    take,
    bounds,
    setBounds,
    shape,
    choose: (next: Shape) => {
      setShape(next);
      const wanted = ratio(next);
      if (bounds && wanted !== null) setBounds(shaped(bounds, wanted));
    },
    ratio: ratio(),
    way,
    setWay,
    turn: (by: 1 | -1) => {
      const next = quarterTurned(sheet, by);
      change(next, "Photo: a quarter turn");
      if (bounds) setBounds(next.picture.crop);
    },
    isLevelling,
    setLevelling,
    /** Straighten by a line that should be level or upright, in pixels of the screen. */
    level: (x: number, y: number) => {
      setLevelling(false);
      const straighten = levelled(crop.straighten, x, y);
      const picture = { ...sheet.picture, crop: { ...crop, straighten } };
      change({ ...sheet, picture }, `Photo: straighten ${straighten}°`);
    },
    shown,
  };
}

export type Cropping = ReturnType<typeof useCropping>;
