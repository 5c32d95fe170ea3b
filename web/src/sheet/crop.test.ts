import { expect, test } from "vitest";
import type { PhotoRecord, Sheet } from "../api/client";
import { croppedSize } from "./crop";

const photo = { width: 2000, height: 1500 } as PhotoRecord;

function size(crop: Partial<Sheet["crop"]>) {
  const whole = { left: 0, top: 0, right: 1, bottom: 1, quarter_turns: 0, ...crop };
  return croppedSize(photo, { crop: whole } as unknown as Sheet);
}

test("a whole photo keeps its size, and a quarter turn swaps its sides", () => {
  expect(size({})).toEqual({ width: 2000, height: 1500 });
  expect(size({ quarter_turns: 1 })).toEqual({ width: 1500, height: 2000 });
  expect(size({ quarter_turns: 2 })).toEqual({ width: 2000, height: 1500 });
});

test("a crop is measured in the turned photo and is never empty", () => {
  expect(size({ left: 0.25, right: 0.75, quarter_turns: 3 })).toEqual({
    width: 750,
    height: 2000,
  });
  expect(size({ left: 0.5, right: 0.5 }).width).toBe(1);
});
