import { describe, expect, test } from "vitest";
import { fitted, held, sizeOf, visibleRegion, zoomed } from "./zoom";

const AREA = { width: 836, height: 712 };

describe("fitted", () => {
  test.each([4 / 3, 3 / 4, 40, 1 / 40])("shows the whole sheet of aspect %d", (aspect) => {
    const place = fitted(AREA, aspect);
    expect(visibleRegion(place, AREA, aspect)).toEqual([0, 0, 1, 1]);
  });
});

describe("zoomed", () => {
  test("holds the point under the pointer still", () => {
    const before = fitted(AREA, 4 / 3);
    const point = { x: 300, y: 400 };
    const after = zoomed(before, before.edge * 3, point, AREA, 4 / 3);
    expect((point.x - after.x) / after.edge).toBeCloseTo((point.x - before.x) / before.edge);
    expect((point.y - after.y) / after.edge).toBeCloseTo((point.y - before.y) / before.edge);
  });

  test("never goes farther away than the whole sheet", () => {
    const fit = fitted(AREA, 4 / 3);
    expect(zoomed(fit, 1, { x: 0, y: 0 }, AREA, 4 / 3).edge).toBe(fit.edge);
  });
});

describe("held", () => {
  test("keeps some of the sheet in sight", () => {
    const place = held({ edge: 4000, x: 9000, y: -9000 }, AREA, 1);
    const [left, top, right, bottom] = visibleRegion(place, AREA, 1);
    expect(right - left).toBeGreaterThan(0.15);
    expect(bottom - top).toBeGreaterThan(0.15);
  });
});

test("the long edge is the longer one", () => {
  expect(sizeOf(100, 2)).toEqual({ width: 100, height: 50 });
  expect(sizeOf(100, 0.5)).toEqual({ width: 50, height: 100 });
});
