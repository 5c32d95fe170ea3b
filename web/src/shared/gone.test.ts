import { act, renderHook } from "@testing-library/react";
import { expect, test } from "vitest";
import { useGone } from "./gone";

const list = [1, 2, 3, 4];
const words = (all: { item: number; isGone: boolean }[]) =>
  all.map(({ item, isGone }) => (isGone ? `(${item})` : `${item}`)).join(" ");

function gone() {
  return renderHook(() => useGone<number>((item) => item)).result;
}

test("what was taken stands where it was until it is put back", () => {
  const hook = gone();

  act(() => hook.current.took(3, list));
  act(() => hook.current.took(1, [1, 2, 4]));
  expect(words(hook.current.among([2, 4]))).toBe("(1) 2 (3) 4");
  act(() => hook.current.back(3));
  expect(words(hook.current.among([2, 3, 4]))).toBe("(1) 2 3 4");
});

test("what is in the list again is not gone, and a shorter list has room for what is", () => {
  const hook = gone();

  act(() => hook.current.took(4, list));
  expect(words(hook.current.among(list))).toBe("1 2 3 4");
  expect(words(hook.current.among([]))).toBe("(4)");
});
