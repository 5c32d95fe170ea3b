import { expect, test } from "vitest";
import { dialSpec } from "./dialSpec.testing";
import type { DialSpec } from "../api/client";
import { formatted, percent, placeOnTrack, typedValue } from "./numbers";

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
