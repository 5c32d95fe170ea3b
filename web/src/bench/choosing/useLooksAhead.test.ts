import { cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Pictures } from "../../live/pictures";
import { drawn } from "../../live/pictures.testing";
import { useLooksAhead } from "./useLooksAhead";

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

function atDraw() {
  const pictures = new Pictures();
  const onWanted = vi.fn<(isWanted: boolean) => void>();
  const hook = renderHook(({ isAtDraw }) => useLooksAhead(pictures, isAtDraw, onWanted), {
    initialProps: { isAtDraw: true },
  });
  return { pictures, onWanted, ...hook };
}

test("looks are drawn ahead once the hand has rested, and never while dials turn", () => {
  const { pictures, onWanted } = atDraw();
  for (let turn = 0; turn < 5; turn += 1) {
    pictures.put(drawn({ ask: pictures.ask() }));
    vi.advanceTimersByTime(3000);
  }
  expect(onWanted).not.toHaveBeenCalled();

  vi.advanceTimersByTime(4000);

  expect(onWanted.mock.calls).toEqual([[true]]);
});

test("away from Draw none are wanted, and back there the hand has to rest again", () => {
  const { pictures, onWanted, rerender } = atDraw();
  pictures.put(drawn({ ask: pictures.ask() }));
  vi.advanceTimersByTime(4000);

  rerender({ isAtDraw: false });
  vi.advanceTimersByTime(9000);
  rerender({ isAtDraw: true });
  vi.advanceTimersByTime(3000);

  expect(onWanted.mock.calls).toEqual([[true], [false]]);
});
