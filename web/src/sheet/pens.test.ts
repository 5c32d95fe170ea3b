import { expect, test } from "vitest";
import type { RecipeRecord, Sheet } from "../api/client";
import { type FromLines, isSamePen, type Lines, penOf, pensFor, pensOf, sharingPen } from "./pens";
import { withSource } from "./sources";

const lines = (more: Partial<Lines>) =>
  ({ nib: "round", width: 1, along: "hand", wide: 100, tone: 0, ...more }) as Lines;

function recipe(name: string, ...drawn: (Partial<Lines> | null)[]): RecipeRecord {
  const plates = drawn.map((each, number) => ({
    id: `plate-${number}`,
    name: `line ${number}`,
    source: each ? { kind: "lines", lines: lines(each) } : { kind: "picture" },
  }));
  return { ref: name, recipe: { name, plates } } as unknown as RecipeRecord;
}

test("a pen is what draws a line, wherever it runs and however dark it is", () => {
  expect(isSamePen(penOf(lines({})), penOf(lines({ along: "arc", wide: 20, tone: 0.5 })))).toBe(
    true,
  );
  expect(isSamePen(penOf(lines({})), penOf(lines({ width: 2 })))).toBe(false);
});

test("every plate of lines in the book is a pen by its recipe's name, those alike once", () => {
  const book = [
    recipe("Wreath", { nib: "marks" }),
    recipe("No lines", null),
    recipe("Border", null, { nib: "rope" }, { nib: "chalk", along: "arc" }),
    recipe("Rope again", { nib: "rope", wide: 30 }),
  ];

  const found = pensOf(book);

  expect(found.map(({ name }) => name)).toEqual(["Wreath", "Border: line 1", "Border: line 2"]);
  expect(found[2]!.pen).toEqual({ nib: "chalk", width: 1 });
});

function sheetOf(...drawn: [pen: string, lines: Partial<Lines>][]) {
  const plates = drawn.map(([pen, made], number) => ({
    id: `plate-${number + 1}`,
    follows: "",
    source: { kind: "lines", pen, lines: lines(made) },
  }));
  return { plates } as unknown as Sheet;
}
const sourceOf = (sheet: Sheet, number: number) => sheet.plates[number]!.source as FromLines;

test("a pen that is turned is turned for all lines that share it, and for no others", () => {
  const sheet = sheetOf(["Vine", { tone: 1 }], ["Vine", {}], ["", {}], ["Vine", { width: 5 }]);
  const source = sourceOf(sheet, 1);

  const changed = withSource(sheet, "plate-2", { ...source, lines: lines({ width: 3, wide: 70 }) });

  const widths = [0, 1, 2, 3].map((number) => sourceOf(changed, number).lines.width);
  expect(widths).toEqual([3, 3, 1, 5]);
  // Where it runs and how dark it is stay each line's own.
  expect(sourceOf(changed, 0).lines).toMatchObject({ tone: 1, wide: 100 });
  expect(sharingPen(changed, changed.plates[0]!).map(({ id }) => id)).toEqual(["plate-2"]);
});

test("a pen by another name leaves the lines that shared the former", () => {
  const sheet = sheetOf(["Vine", {}], ["Vine", {}]);
  const taken = { ...sourceOf(sheet, 0), pen: "", lines: lines({ width: 4 }) };

  const changed = withSource(sheet, "plate-1", taken);

  expect(sourceOf(changed, 1).lines.width).toBe(1);
  expect(sharingPen(changed, changed.plates[1]!)).toEqual([]);
});

test("pens of other lines are offered before those of the book, and none of both twice", () => {
  const sheet = sheetOf(["Vine", {}], ["Stem", { width: 2 }], ["Stem", { width: 2 }], ["", {}]);
  const book = [recipe("Stem", { width: 2 }), recipe("Vine", { width: 9 })];

  const offered = pensFor(sheet, sheet.plates[0]!, book).map(({ name, pen }) => [name, pen.width]);

  expect(offered).toEqual([
    ["Stem", 2],
    ["Vine", 9],
  ]);
});
