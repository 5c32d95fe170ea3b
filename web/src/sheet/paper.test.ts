import { expect, test } from "vitest";
import type { PhotoRecord, Sheet } from "../api/client";
import { asPicture, croppedSize, cutOf, ofCut, paperSize, paperWords } from "./paper";

const photo = { width: 2000, height: 1500 } as PhotoRecord;

function size(crop: Partial<Sheet["picture"]["crop"]>) {
  const whole = { left: 0, top: 0, right: 1, bottom: 1, quarter_turns: 0, ...crop };
  return croppedSize(photo, { picture: { crop: whole } } as unknown as Sheet);
}

test("a whole photo keeps its size, and a quarter turn swaps its sides", () => {
  expect(size({})).toEqual({ width: 2000, height: 1500 });
  expect(size({ quarter_turns: 1 })).toEqual({ width: 1500, height: 2000 });
  expect(size({ quarter_turns: 2 })).toEqual({ width: 2000, height: 1500 });
});

test("a crop is measured in the turned photo and is never empty", () => {
  expect(size({ left: 0.25, right: 0.75, quarter_turns: 3 })).toEqual({
    width: 750,
    height: 2000,
  });
  expect(size({ left: 0.25, top: 0.5, bottom: 5 / 6 })).toEqual({ width: 1500, height: 500 });
  expect(size({ left: 0.5, right: 0.5 }).width).toBe(1);
});

function paper(of: Partial<Sheet["paper"]>, width: number | null = null) {
  const crop = { left: 0, top: 0, right: 1, bottom: 1, quarter_turns: 0 };
  const sheet = { paper: of, picture: { crop, position: { width } } } as unknown as Sheet;
  return { ...paperSize(photo, sheet), words: paperWords(sheet.paper) };
}

test("a paper as the picture has its shape and its pixels", () => {
  expect(paper({ size: "as-picture", long_edge: 200 })).toEqual({
    width: 200,
    height: 150,
    edgePx: 2000,
    words: "200 mm",
  });
});

test("a paper of its own size has as many pixels as the photo has where it lies", () => {
  const own = { size: "own", width: 300, height: 400, margin: 0 } as const;
  // The picture is 300 mm wide where it fits, 100 mm where it is laid so.
  expect(paper(own)).toMatchObject({ width: 300, height: 400, edgePx: 2667 });
  expect(paper({ ...own, margin: 50 })).toMatchObject({ edgePx: 4000 });
  expect(paper(own, 100)).toMatchObject({ edgePx: 8000, words: "300 × 400 mm" });
});

test("a paper of the picture's shape keeps all but its size", () => {
  const own = {
    size: "own",
    width: 300,
    height: 400,
    colour: "#eeeeee",
    texture: "laid",
  } as Sheet["paper"];

  expect(asPicture(own, 200)).toEqual({
    size: "as-picture",
    long_edge: 200,
    colour: "#eeeeee",
    texture: "laid",
  });
});

test("a paper is cut to a size, upright or across, and known by it either way", () => {
  const cuts = [
    { name: "A4", width: 210, height: 297 },
    { name: "Sticker", width: 75, height: 75 },
  ];
  const plain = { size: "as-picture", long_edge: 200, colour: "#eeeeee" } as Sheet["paper"];

  const across = ofCut(plain, cuts[0]!, true);
  expect(across).toEqual({ size: "own", width: 297, height: 210, margin: 0, colour: "#eeeeee" });
  const upright = ofCut({ ...across, margin: 8 } as Sheet["paper"], cuts[0]!, false);
  expect(upright).toMatchObject({ width: 210, height: 297, margin: 8 });
  expect([across, upright].map((each) => cutOf(cuts, each)?.name)).toEqual(["A4", "A4"]);
  expect(cutOf(cuts, plain)).toBeUndefined();
  expect(cutOf(cuts, ofCut(plain, { name: "", width: 210, height: 300 }, false))).toBeUndefined();
});
