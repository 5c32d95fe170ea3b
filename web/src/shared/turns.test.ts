import { expect, test, vi } from "vitest";
import { takeTurn } from "./turns";

test("three begin at once, the others in their order as those end", () => {
  const begin = [0, 1, 2, 3, 4].map(() => vi.fn());
  const ends = begin.map((each) => takeTurn(each));
  const begun = () => begin.map((each) => each.mock.calls.length);
  expect(begun()).toEqual([1, 1, 1, 0, 0]);

  ends[1]?.();
  ends[1]?.();
  expect(begun()).toEqual([1, 1, 1, 1, 0]);

  ends.reverse().forEach((end) => end());
  expect(begun()).toEqual([1, 1, 1, 1, 0]);
});

test("one that is waited for no longer takes no turn", () => {
  const ends = [0, 1, 2].map(() => takeTurn(() => undefined));
  const [left, next] = [vi.fn(), vi.fn()];
  const leave = takeTurn(left);
  const end = takeTurn(next);

  leave();
  ends[0]?.();

  expect(left).not.toHaveBeenCalled();
  expect(next).toHaveBeenCalledOnce();
  [...ends, end].forEach((each) => each());
});
