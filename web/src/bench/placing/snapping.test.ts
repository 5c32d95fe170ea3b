import { expect, test } from "vitest";
import type { Lying } from "../../api/client";
import { guidesOf, pulled, reachOf, snapped } from "./snapping";

const lying: Lying = { plate: "a", x: 50, y: 40, width: 20, height: 10, turn: 0, missing: [] };
const paper = { width: 100, height: 80, margin: 5 };

test("what is turned takes up its corners", () => {
  expect(reachOf({ ...lying, turn: 90 }).x).toBeCloseTo(5);
  expect(reachOf({ ...lying, turn: 90 }).y).toBeCloseTo(10);
});

test("an edge near the margin snaps to it, and the other way stays free", () => {
  const found = snapped({ ...lying, x: 15.6, y: 33 }, guidesOf(paper, []), 1);

  expect(found.x).toBeCloseTo(15);
  expect(found.y).toBe(33);
  expect(found.met).toEqual({ x: [5], y: [] });
});

test("a middle snaps to the paper's and to that of others", () => {
  const other = { ...lying, plate: "b", x: 30, y: 60 };
  const guides = guidesOf(paper, [other]);

  expect(snapped({ ...lying, x: 49.5, y: 70 }, guides, 1).x).toBe(50);
  expect(snapped({ ...lying, x: 80, y: 60.4 }, guides, 1).y).toBe(60);
});

test("far from every line nothing snaps", () => {
  const found = snapped({ ...lying, x: 33, y: 27 }, guidesOf(paper, []), 0.5);

  expect([found.x, found.y]).toEqual([33, 27]);
});

test("a corner that is pulled leaves the opposite one where it is", () => {
  const found = pulled(lying, { x: 1, y: 1 }, { x: 80, y: 55 });

  expect(found.across).toBeCloseTo(2);
  expect(found.x - (lying.width * found.across) / 2).toBeCloseTo(40);
  expect(found.y - (lying.height * found.down) / 2).toBeCloseTo(35);
});

test("a side of something turned is pulled along its own way", () => {
  // Turned a quarter, its right side lies above.
  const found = pulled({ ...lying, turn: 90 }, { x: 1, y: 0 }, { x: 50, y: 20 });

  expect(found.across).toBeCloseTo(1.5);
  expect(found.down).toBe(1);
  expect(found.x).toBeCloseTo(50);
  expect(found.y).toBeCloseTo(35);
});

test("nothing is pulled to no size, or over to the other side", () => {
  const found = pulled(lying, { x: 1, y: 0 }, { x: 0, y: 40 });

  expect(found.across).toBeGreaterThan(0);
});
