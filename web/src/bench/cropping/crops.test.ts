import { expect, test } from "vitest";
import type { PhotoRecord, Sheet } from "../../api/client";
import { dragged, levelled, movedBy, quarterTurned, shaped, WHOLE_PHOTO, withCrop } from "./crops";

const photo = { width: 2000, height: 1500 } as PhotoRecord;
const crop = { ...WHOLE_PHOTO, quarter_turns: 0, straighten: 0, mirrored: false };
const sheet = {
  paper: { size: "as-picture", long_edge: 200 },
  picture: { crop, position: { x: null, y: null, width: null } },
} as unknown as Sheet;
const PART = { left: 0.2, top: 0.3, right: 0.6, bottom: 0.7 };

test("a handle moves its edges and never past the other ones or off the photo", () => {
  expect(dragged(PART, [1, 0], { x: 0.8, y: 0.1 }, null)).toEqual({ ...PART, right: 0.8 });
  expect(dragged(PART, [-1, -1], { x: -3, y: 2 }, null)).toEqual({
    ...PART,
    left: 0,
    top: expect.closeTo(0.68) as number,
  });
});

test("a shape is kept while a handle is dragged, from the corner that stays", () => {
  const next = dragged(PART, [1, 1], { x: 0.9, y: 0.4 }, 2);

  expect((next.right - next.left) / (next.bottom - next.top)).toBeCloseTo(2);
  expect([next.left, next.top]).toEqual([0.2, 0.3]);
  const above = dragged(PART, [0, -1], { x: 0, y: 0 }, 3);
  expect((above.right - above.left) / (above.bottom - above.top)).toBeCloseTo(3);
  expect(above.left).toBeGreaterThanOrEqual(0);
  expect(above.right).toBeLessThanOrEqual(1);
});

test("a part is moved as far as the photo goes, and shaped about its middle", () => {
  const corner = movedBy(PART, 9, -9);
  expect([corner.left, corner.top, corner.right]).toEqual([expect.closeTo(0.6), 0, 1]);
  const wide = shaped(PART, 2);
  expect((wide.right - wide.left) / (wide.bottom - wide.top)).toBeCloseTo(2);
  expect((wide.left + wide.right) / 2).toBeCloseTo(0.4);
});

test("trimming cuts the paper with the photo; filling keeps the paper", () => {
  const half = { left: 0, top: 0, right: 0.5, bottom: 0.5 };

  expect(withCrop(sheet, photo, half, "trim").paper).toMatchObject({ long_edge: 100 });
  expect(withCrop(sheet, photo, half, "fill").paper).toMatchObject({ long_edge: 200 });
  const own = {
    ...sheet,
    paper: { size: "own", width: 400, height: 400, margin: 0 },
  } as unknown as Sheet;
  expect(withCrop(own, photo, half, "trim").picture.position.width).toBeCloseTo(200);
  expect(withCrop(own, photo, half, "fill").picture.position.width).toBeNull();
});

test("four quarter turns come back to the same part, and one back undoes one", () => {
  const cropped = withCrop(sheet, photo, PART, "fill");
  let turned = cropped;
  for (let k = 0; k < 4; k += 1) turned = quarterTurned(turned, 1);
  expect(turned.picture.crop.quarter_turns).toBe(0);
  expect(turned.picture.crop.left).toBeCloseTo(0.2);
  expect(quarterTurned(quarterTurned(cropped, 1), -1).picture.crop.top).toBeCloseTo(0.3);
});

test("a line that should be level or upright says how far to straighten", () => {
  const by = (degrees: number) => {
    const turn = (degrees * Math.PI) / 180;
    return levelled(0, 100 * Math.cos(turn), -100 * Math.sin(turn));
  };
  expect(by(5)).toBe(-5);
  expect(by(-3)).toBe(3);
  expect(by(94)).toBe(-4);
  expect(by(185)).toBe(-5);
  expect(levelled(12, 100, 20)).toBe(15);
});
