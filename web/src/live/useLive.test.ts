import { expect, test } from "vitest";
import { rgbaOf } from "./useLive";

test("grey bytes become opaque grey", () => {
  expect([...rgbaOf(new Uint8Array([0, 128, 255]), 3, 1)]).toEqual([
    0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255,
  ]);
});

test("colour bytes keep their order", () => {
  expect([...rgbaOf(new Uint8Array([1, 2, 3, 4, 5, 6]), 2, 3)]).toEqual([
    1, 2, 3, 255, 4, 5, 6, 255,
  ]);
});
