import { expect, test } from "vitest";
import type { Lying, Plate, Sheet } from "../api/client";
import { positionOf, scaled, sourceWords, withPosition } from "./sources";

const position = { x: null, y: null, width: null, turn: 0, mirrored: false, as_drawn: 1 };
const lying: Lying = { plate: "p", x: 50, y: 40, width: 20, height: 10, turn: 0, missing: [] };

function sheetOf(source: unknown, paper: unknown = { size: "own", margin: 0 }) {
  const plate = { id: "p", source } as Plate;
  const picture = { photo: "a", position };
  return { sheet: { plates: [plate], picture, paper } as unknown as Sheet, plate };
}

const block = (dials = {}) => ({
  kind: "block",
  block: { figure: "rectangle", width: 80, height: 60, ...dials },
  position,
});

test("a figure is made larger by its own size, and lengths stay", () => {
  const { sheet, plate } = sheetOf(block());

  const changed = scaled(sheet, plate, lying, { across: 2, down: 0.5 }, false);

  expect(changed.plates[0]!.source).toMatchObject({ block: { width: 160, height: 30 }, position });
});

test("made larger as drawn, it keeps its size and takes a factor", () => {
  const { sheet, plate } = sheetOf(block());

  const changed = scaled(sheet, plate, lying, { across: 2, down: 2 }, true);

  expect(changed.plates[0]!.source).toMatchObject({
    block: { width: 80 },
    position: { as_drawn: 2 },
  });
});

test("words are made larger by their size and the width at which they wrap", () => {
  const lettering = { words: "Fair", size: 10, points: 40, wrap: 60 };
  const { sheet, plate } = sheetOf({ kind: "lettering", lettering, position });

  const changed = scaled(sheet, plate, lying, { across: 1.5, down: 1.5 }, false);

  expect(changed.plates[0]!.source).toMatchObject({
    lettering: { size: 15, points: 60, wrap: 90 },
  });
});

test("another photo is laid by its own picture, the sheet's by the sheet's", () => {
  const other = sheetOf({ kind: "photo", picture: { photo: "b", position } });
  const own = sheetOf({ kind: "picture" });

  const moved = withPosition(other.sheet, other.plate, { x: 5 });
  expect(moved.plates[0]!.source).toMatchObject({ picture: { position: { x: 5 } } });
  expect(moved.picture.position.x).toBeNull();
  expect(withPosition(own.sheet, own.plate, { x: 5 }).picture.position.x).toBe(5);
});

test("what lies where something else is cannot be laid", () => {
  const asPicture = { size: "as-picture" };
  for (const [source, paper] of [
    [{ kind: "beneath" }],
    [{ kind: "copier", wear: {} }],
    [block({ figure: "border" })],
    [block({ figure: "cutout" })],
    [{ kind: "picture" }, asPicture],
  ] as const) {
    const { sheet, plate } = sheetOf(source, paper);
    expect(positionOf(sheet, plate)).toBeNull();
  }
});

test("words are told by their first line", () => {
  const lettering = { words: "Harvest Fair\nSunday" };

  expect(sourceWords(sheetOf({ kind: "lettering", lettering }).plate)).toBe("“Harvest Fair”");
});
