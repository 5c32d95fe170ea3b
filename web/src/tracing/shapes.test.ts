import { expect, test } from "vitest";
import type { ChangedShapes, Shapes } from "../api/client";
import { encloses, endsOf, isWithin } from "./paths";
import {
  countedLots,
  expected,
  fromAbove,
  nextShape,
  ofLikeColour,
  ofLikeSize,
  shapesOf,
  smallerThan,
} from "./shapes";
import { mirrored, moved, scaled, turned, type Way } from "./ways";

const shape = (left: number, area: number, white = false, plate = "a") => ({
  plate,
  lot: white ? 0 : 1,
  white,
  colour: white ? "#ffffff" : "#000000",
  area,
  box: [left, 0, left + 2, 2],
  path: `M${left},0l2,0l0,2l-2,0z`,
});

const traced = {
  width: 80,
  height: 60,
  paper: "#ffffff",
  plates: [{ id: "a", name: "Plate" }],
  shapes: [shape(0, 4000, true), shape(10, 4), shape(20, 5), shape(30, 90)],
  notes: [],
} as unknown as Shapes;

const changed = {
  shapes: [
    {
      ...shape(20, 5),
      of: [2],
      colour: "#ff0000",
      prints: true,
      hidden: false,
      joined: false,
      cuts: false,
      order: [0, -1, 1, 1, 0, 0],
    },
    {
      ...shape(30, 90),
      of: [3],
      prints: false,
      hidden: true,
      joined: false,
      cuts: false,
      order: [0, 0, 1, 1, 1, 0],
    },
  ],
} as unknown as ChangedShapes;

test("changed shapes stand in place of those that they are made of, in the order of printing", () => {
  const shapes = shapesOf(traced, changed);

  expect(shapes.map((each) => each.of)).toEqual([[2], [0], [1], [3]]);
  expect(shapes.map((each) => each.isThere)).toEqual([true, true, true, false]);
});

test("ink is met from above before the paper", () => {
  const above = fromAbove(shapesOf(traced, null));

  expect(above.map((each) => each.of[0])).toEqual([3, 2, 1, 0]);
});

test("shapes are alike by colour and by size, ink like ink", () => {
  const shapes = shapesOf(traced, changed);
  const black = shapes.filter((each) => each.of[0] === 1);

  expect(ofLikeColour(shapes, black).map((each) => each.of[0])).toEqual([1]);
  expect(ofLikeSize(shapes, black).map((each) => each.of[0])).toEqual([2, 1]);
  expect(smallerThan(shapes, 5, true).map((each) => each.of[0])).toEqual([1]);
  expect(smallerThan(shapes, 1e6, false).map((each) => each.of[0])).toEqual([0]);
});

test("one goes from shape to shape in rows, round the sheet", () => {
  const shapes = shapesOf(traced, null);
  const last = shapes.find((each) => each.of[0] === 3);

  expect(nextShape(shapes, undefined, 1)?.of).toEqual([0]);
  expect(nextShape(shapes, last, 1)?.of).toEqual([0]);
  expect(nextShape(shapes, last, -1)?.of).toEqual([2]);
  expect(nextShape([], undefined, 1)).toBeUndefined();
});

test("shapes are counted by colour and size", () => {
  const lots = countedLots(shapesOf(traced, changed));

  expect(lots.map((each) => [each.prints, each.colour, each.words, each.shapes.length])).toEqual([
    [true, "#000000", "1 to 10 mm²", 1],
    [true, "#ff0000", "1 to 10 mm²", 1],
    [false, "#ffffff", "100 mm² and more", 1],
  ]);
});

test("what is done shows before the server has answered", () => {
  const shapes = shapesOf(traced, null);
  const red = expected(shapes, { verb: "colour", shapes: [0], colour: "#ff0000" });
  const none = expected(shapes, { verb: "hide", shapes: [1] });

  expect(red.find((each) => each.of[0] === 0)).toMatchObject({ colour: "#ff0000", prints: true });
  expect(none.find((each) => each.of[0] === 1)).toMatchObject({ isThere: false, hidden: true });
  expect(expected(shapes, { verb: "join", shapes: [1, 2] })).toBe(shapes);
});

test("a shape is within a line that goes round all of it", () => {
  const shapes = shapesOf(traced, null);
  const round: [number, number][] = [
    [9, -1],
    [23, -1],
    [23, 3],
    [9, 3],
  ];

  expect(endsOf(shapes[1]!)).toEqual([
    [10, 0],
    [12, 0],
    [12, 2],
    [10, 2],
  ]);
  expect(shapes.map((each) => isWithin(each, round))).toEqual([false, true, true, false]);
  expect(encloses(round, 15, 1)).toBe(true);
});

test("ways leave their middle where it is", () => {
  const at = (way: Way, x: number, y: number) =>
    [way[0] * x + way[1] * y + way[2], way[3] * x + way[4] * y + way[5]].map((each) =>
      Number(each.toFixed(6)),
    );
  const middle = { x: 3, y: 4 };

  for (const way of [turned(30, middle), scaled(2, middle), mirrored(middle)]) {
    expect(at(way, 3, 4)).toEqual([3, 4]);
  }
  expect(at(turned(90, middle), 4, 4)).toEqual([3, 3]);
  expect(at(scaled(2, middle), 4, 4)).toEqual([5, 4]);
  expect(at(mirrored(middle), 4, 5)).toEqual([2, 5]);
  expect(at(moved({ x: 1, y: -1 }), 0, 0)).toEqual([1, -1]);
});
