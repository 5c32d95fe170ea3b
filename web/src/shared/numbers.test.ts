import { expect, test } from "vitest";
import type { DialSpec } from "../api/client";
import { formatted, percent, placeOnTrack } from "./numbers";

const spec = { low: 0, high: 10, step: 0.05 } as DialSpec;

test("a value shows as many digits as its step", () => {
  expect(formatted(spec, 1.2)).toBe("1.20");
  expect(formatted({ ...spec, step: 1 }, 7)).toBe("7");
});

test("a value beyond the track stands at its end", () => {
  expect([-5, 5, 50].map((value) => placeOnTrack(spec, value))).toEqual([0, 0.5, 1]);
});

test("small shares keep a digit", () => {
  expect([0.034, 0.34].map(percent)).toEqual(["3.4 %", "34 %"]);
});
