import { expect, test } from "vitest";
import { dialSpec } from "./dialSpec.testing";
import type { DialSpec } from "../api/client";
import {
  formatted,
  percent,
  placeOnTrack,
  typedValue,
  inMm,
  mmOfOne,
  valueInWords,
} from "./numbers";

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

test.each([
  ["12", 12],
  ["1,5", 1.5],
  ["2 cm", 20],
  ["1in", 25.4],
  ['0.5"', 12.7],
  ["72pt", 25.4],
  ["3 mm", 3],
  ["-4", -4],
])("a length is typed in any unit: %j", (text, mm) => {
  expect(typedValue(dialSpec("nib", { unit: "mm" }), text)).toBeCloseTo(mm);
});

test.each(["", "thick", "3 px", "1 2", "4 furlongs", "mm"])(
  "what is no length is none: %j",
  (text) => {
    expect(typedValue(dialSpec("nib", { unit: "mm" }), text)).toBeNull();
  },
);

test("shares may be typed as per cent, and an angle has its own unit alone", () => {
  expect(typedValue(dialSpec("opacity", { unit: "" }), "40 %")).toBeCloseTo(0.4);
  expect(typedValue(dialSpec("angle", { unit: "°" }), "40°")).toBe(40);
  expect(typedValue(dialSpec("angle", { unit: "°" }), "4 cm")).toBeNull();
});

test("a multiple is shown in mm, by what it is of and what else multiplies it", () => {
  const of = { only_for: { texture: ["brick", "wove"] }, mm_of_one: { brick: 15, wove: 1.7 } };
  const grain = dialSpec("grain", { ...of, unit: "×", minimum: 0.1, step: 0.05 });
  const depth = dialSpec("depth", { ...of, unit: "×", mm_times: "grain" });

  expect(mmOfOne(grain, { texture: "brick", grain: 2 })).toBe(15);
  expect(mmOfOne(depth, { texture: "brick", grain: 2 })).toBe(30);
  expect(mmOfOne(grain, { texture: "smooth" })).toBeNull();
  expect(mmOfOne(dialSpec("nib"), {})).toBeNull();
  expect(inMm(grain, 15)).toMatchObject({ unit: "mm", minimum: 1.5, high: 150 });
  expect(inMm(grain, null)).toBe(grain);
  // Once may well be a millimetre.
  expect(inMm(grain, 1)).toMatchObject({ unit: "mm", minimum: 0.1, high: 10 });
  expect(valueInWords(grain, 2, { texture: "brick" })).toBe("30.0 mm");
  expect(valueInWords(grain, 2, { texture: "smooth" })).toBe("2.00 ×");
});
