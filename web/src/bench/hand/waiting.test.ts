import { afterEach, expect, test } from "vitest";
import { keepWaiting, takeWaiting, type Waiting } from "./waiting";

afterEach(() => localStorage.clear());

const one = { stroke: { verb: "lighten" }, words: "Tone: lighten, 14 mm" } as unknown as Waiting;

test("strokes that were kept are taken up once, by their own sheet", () => {
  keepWaiting(3, [one]);

  expect(takeWaiting(4)).toEqual([]);
  expect(takeWaiting(3)).toEqual([one]);
  expect(takeWaiting(3)).toEqual([]);
});

test("what is no list of strokes is forgotten", () => {
  localStorage.setItem("flinz-strokes-3", "{");

  expect(takeWaiting(3)).toEqual([]);
  expect(takeWaiting(3)).toEqual([]);
});
