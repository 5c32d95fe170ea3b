import { expect, test } from "vitest";
import type { DialSpec } from "../../api/client";
import { cellsFor, nearest, spotRegion, stripValues } from "./strip";

const spec = { low: 0.1, high: 2, step: 0.05 } as DialSpec;

test("values go evenly from end to end of the track, on the dial's own steps", () => {
  const values = stripValues(spec, 0.55, 5, false);

  expect(values).toHaveLength(5);
  expect(values[0]).toBe(0.1);
  expect(values.at(-1)).toBe(2);
  expect(values).toContain(0.55);
  for (const value of values) {
    const steps = (value - spec.low) / spec.step;
    expect(Math.abs(steps - Math.round(steps))).toBeLessThan(1e-6);
  }
});

test("values close by stay round the present one and within the track", () => {
  const middle = stripValues(spec, 1, 9, true);
  expect(Math.min(...middle)).toBeGreaterThan(0.7);
  expect(Math.max(...middle)).toBeLessThan(1.3);

  const atEnd = stripValues(spec, 2, 5, true);
  expect(Math.max(...atEnd)).toBe(2);
});

test("a dial with few steps has no value twice", () => {
  const values = stripValues({ low: 1, high: 3, step: 1 } as DialSpec, 2, 9, false);

  expect(values).toEqual([1, 2, 3]);
});

test("the present value is marked by the nearest one", () => {
  expect(nearest([0.1, 0.5, 0.9], 0.6)).toBe(1);
});

test("cells fill the area about as square as they come", () => {
  expect(cellsFor(9, { width: 830, height: 710 })).toEqual({ columns: 3, rows: 3 });
  const wide = cellsFor(5, { width: 1600, height: 400 });
  expect(wide.columns * wide.rows).toBeGreaterThanOrEqual(5);
  expect(wide.rows).toBeLessThanOrEqual(2);
});

test("a spot at the edge is held on the sheet, and a large one shows all of it", () => {
  expect(spotRegion({ x: 0, y: 1 }, 0.2, 0.4)).toEqual([0, 0.6, 0.2, 1]);
  expect(spotRegion({ x: 0.5, y: 0.5 }, 3, 2)).toEqual([0, 0, 1, 1]);
});
