import { expect, test } from "vitest";
import type { RecipeRecord } from "../api/client";
import { isSamePen, type Lines, penOf, pensOf } from "./pens";

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
