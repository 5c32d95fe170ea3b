import { expect, test } from "vitest";
import type { Sheet } from "../api/client";
import { magnified, shifted, spotOf, withSpot, withSpotAt } from "./watch";

const spot = { name: "eye", left: 0.4, top: 0.2, right: 0.6, bottom: 0.4, is_eye: false };

test("a drag in any direction is a spot on the sheet; a click is none", () => {
  expect(spotOf({ x: 0.5, y: 0.9 }, { x: 0.3, y: 1.4 })).toMatchObject({
    left: 0.3,
    right: 0.5,
    top: 0.9,
    bottom: 1,
  });
  expect(spotOf({ x: 0.5, y: 0.5 }, { x: 0.502, y: 0.5 })).toBeNull();
});

test("a spot moves and grows about its middle and stays on the sheet", () => {
  const moved = shifted(spot, 0.1, 0, 1);
  expect(moved.left).toBeCloseTo(0.5);
  expect(moved.right).toBeCloseTo(0.7);

  const grown = shifted(spot, 0, 0, 2);
  expect([grown.left, grown.right]).toEqual([expect.closeTo(0.3), expect.closeTo(0.7)]);

  const held = shifted(spot, 5, -5, 1);
  expect(held.right).toBeCloseTo(1);
  expect(held.top).toBeCloseTo(0);
});

test("a sheet takes four spots and gives them up one by one", () => {
  let sheet = { watch: [] } as unknown as Sheet;
  for (let k = 0; k < 4; k += 1) sheet = withSpot(sheet, { ...spot, name: `${k}` });
  expect(sheet.watch.map((each) => each.name)).toEqual(["0", "1", "2", "3"]);

  const fewer = withSpotAt(sheet, 1, null);
  expect(fewer.watch.map((each) => each.name)).toEqual(["0", "2", "3"]);
});

test("a spot fills its panel whatever the shape of the sheet", () => {
  const panel = { width: 132, height: 96 };
  // A fifth of a sheet 4:3 wide is 132 px when the sheet is 660 px wide; its height fits then too.
  const wide = magnified({ ...spot, bottom: 0.3 }, panel, 4 / 3, 100);
  expect(wide).toMatchObject({ edge: expect.closeTo(660), times: expect.closeTo(6.6) });
  expect(wide.region).toEqual([0.4, 0.2, 0.6, 0.3].map((side) => expect.closeTo(side)));
  // On a tall sheet the long edge is the height.
  expect(magnified({ ...spot, top: 0.2, bottom: 0.25 }, panel, 3 / 4, 100).edge).toBeCloseTo(880);
});

test("a spot never shows less than twice as large as on the bed: its middle then fills the panel", () => {
  const face = { ...spot, left: 0.1, right: 0.9, top: 0.1, bottom: 0.9 };
  const panel = { width: 200, height: 150 };

  const { edge, region, times } = magnified(face, panel, 4 / 3, 800);

  expect([edge, times]).toEqual([1600, 2]);
  expect(region.map((side) => side * 1600)).toEqual(
    // The sheet is 1,600 by 1,200 then.
    [700, 600 * (4 / 3) - 100, 900, 600 * (4 / 3) + 100].map((side) => expect.closeTo(side)),
  );
});
