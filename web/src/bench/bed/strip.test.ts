import { expect, test } from "vitest";
import type { DialSpec } from "../../api/client";
import { dialSpec } from "../../shared/dialSpec.testing";
import { catalogueOf } from "../../sheet/catalogue.testing";
import {
  cellsFor,
  cellsOf,
  nearest,
  presentCell,
  spotRegion,
  stripOf,
  stripOfPairs,
  stripValues,
} from "./strip";

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

const catalogue = {
  ...catalogueOf(),
  colours: {
    inks: [{ name: "Pond", colour: "#1f6f66" }],
    papers: [{ name: "White", colour: "#ffffff" }],
    cloths: [{ name: "Navy cloth", colour: "#1e2a44" }],
    pairs: [{ name: "Pond and straw", dark: "#1f6f66", light: "#e3c15a" }],
  },
};
const blend = dialSpec("blend", {
  kind: "choice",
  options: [
    { name: "multiply", label: "Ink over ink", hint: "", also: "multiply" },
    { name: "normal", label: "Covers", hint: "", also: "normal" },
  ],
});

test("a strip lies over choices, over inks, and over papers and cloths, not only over numbers", () => {
  const of = (step: "ink" | "paper", dial: DialSpec) => {
    const strip = stripOf(catalogue, step, dial)!;
    return cellsOf(strip, undefined, {}, 9, false).cells.map(({ words, values }) => [
      words,
      values,
    ]);
  };
  const colour = dialSpec("colour", { kind: "colour" });

  expect(of("ink", blend)).toEqual([
    ["Ink over ink", { "ink.blend": "multiply" }],
    ["Covers", { "ink.blend": "normal" }],
  ]);
  expect(of("ink", colour)).toEqual([["Pond", { "ink.colour": "#1f6f66" }]]);
  expect(of("paper", colour).map(([words]) => words)).toEqual(["White", "Navy cloth"]);
  expect(stripOf(catalogue, "tone", dialSpec("invert", { kind: "switch" }))).toBeNull();
});

test("a pair of inks sets both of its colours at once", () => {
  const [lights] = stripOfPairs(catalogue, "lights").tries!;
  const [paper] = stripOfPairs(catalogue, "paper").tries!;

  expect(lights!.values).toEqual({
    "ink.colouring": "two-colour",
    "ink.colour": "#1f6f66",
    "ink.lights": "#e3c15a",
  });
  expect(paper!.values).toMatchObject({ "ink.colour": "#1f6f66", "paper.colour": "#e3c15a" });
});

test("the cell that is as the sheet is now is known, where there is one", () => {
  const strip = stripOf(catalogue, "ink", blend)!;
  const { cells } = cellsOf(strip, undefined, {}, 9, false);

  expect(presentCell(strip, cells, () => "normal")).toBe(1);
  expect(presentCell(strip, cells, () => "screen")).toBe(-1);
});

test("two dials make a grid of all their values", () => {
  const dial = dialSpec("nib", { low: 0, high: 3, step: 1 });
  const other = dialSpec("flow", { low: 0, high: 3, step: 1 });
  const strip = stripOf(catalogue, "draw", dial)!;

  const { cells, columns } = cellsOf(strip, other, { nib: 1, flow: 2 }, 9, false);

  expect(columns).toBe(4);
  expect(cells).toHaveLength(16);
  expect(cells[5]!.values).toEqual({ "draw.nib": 1, "draw.flow": 1 });
});
