import { expect, test } from "vitest";
import type { EntryRecord } from "../api/client";
import { counted, drawWords, IDLE, shareDone, timeLeft } from "./words";

function entries(...states: EntryRecord["state"][]): EntryRecord[] {
  return states.map((state, k) => ({
    ...{ photo: "", title: "", caption: "", sheet: 0, name: "", mark: "", trouble: "", seconds: 0 },
    id: k + 1,
    state,
  }));
}

test("what is left out is not counted, and what failed is still to be drawn", () => {
  const found = counted(entries("done", "left-out", "failed", "waiting", "done"));

  expect(found).toEqual({ all: 4, done: 2, failed: 1, left: 2 });
  expect(drawWords(found)).toBe("Go on: 2 files left");
  expect(drawWords(counted(entries("waiting")))).toBe("Draw 1 file");
  expect(drawWords(counted(entries("done", "done")))).toBe("All files are drawn");
});

test("a run's share counts what is under way", () => {
  expect(
    shareDone({ ...IDLE, is_running: true, ended: 2, total: 4, shares: { 3: 0.5, 4: 0.5 } }),
  ).toBe(0.75);
  expect(shareDone(IDLE)).toBe(0);
});

test("time left is told as roughly as it is known", () => {
  expect([0.2, 49, 61, 7300].map(timeLeft)).toEqual([
    "about 1 s left",
    "about 49 s left",
    "about 1 min left",
    "about 2.0 h left",
  ]);
});
