import { act, renderHook } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import {
  onceRested,
  Pictures,
  useAsked,
  useCount,
  usePicture,
  useRefusals,
  useSuggestions,
} from "./pictures";
import { drawn } from "./pictures.testing";

afterEach(() => void vi.useRealTimers());

function picture(view: string, suggestions: Record<string, number> | null = null, draft = false) {
  return drawn({ view, suggestions, draft });
}

test("what shows one view is drawn again for that view alone", () => {
  const pictures = new Pictures();
  let times = 0;
  const { result } = renderHook(() => {
    times += 1;
    return usePicture(pictures, "main");
  });
  const first = picture("main");

  act(() => pictures.put(first));
  expect(result.current).toBe(first);
  const before = times;
  act(() => pictures.put(picture("run-draw")));
  expect(times).toBe(before);
});

test("an ask has the next number, and forgets what the last one refused", () => {
  const pictures = new Pictures();
  const { result } = renderHook(() => [useAsked(pictures), useRefusals(pictures).size]);

  act(() => pictures.refuse("look-stipple", { why: "Too many dots.", later: false }));
  expect(result.current).toEqual([0, 1]);
  act(() => void pictures.ask());
  expect(result.current).toEqual([1, 0]);
});

test("a picture that comes after all takes the place of its refusal", () => {
  const pictures = new Pictures();
  const { result } = renderHook(() => [...useRefusals(pictures).keys()]);
  const later = { why: "Being made ready.", later: true };

  act(() => pictures.refuse("look-pencil", later));
  act(() => pictures.refuse("look-stipple", later));
  act(() => pictures.put(picture("look-pencil", {})));

  expect(result.current).toEqual(["look-stipple"]);
});

test("a draft that was held up does not lie over the picture it is a draft of", () => {
  const pictures = new Pictures();
  const settled = picture("main");

  pictures.put(settled);
  pictures.put(picture("main", undefined, true));
  expect(pictures.get("main")).toBe(settled);
  const next = picture("main", undefined, true);
  next.answer.ask = 2;
  pictures.put(next);

  expect(pictures.get("main")).toBe(next);
});

test("equal suggestions are the same object, so that nothing is drawn again for them", () => {
  const pictures = new Pictures();
  let times = 0;
  const { result } = renderHook(() => {
    times += 1;
    return useSuggestions(pictures);
  });

  act(() => pictures.put(picture("main", { "draw.level": 0.4 })));
  expect(result.current).toEqual({ "draw.level": 0.4 });
  const before = times;
  act(() => pictures.put(picture("main", { "draw.level": 0.4 })));
  expect(times).toBe(before);
});

test("a draft leaves the suggestions that there are", () => {
  const pictures = new Pictures();
  const { result } = renderHook(() => useSuggestions(pictures));

  act(() => pictures.put(picture("main", { "draw.level": 0.4 })));
  act(() => pictures.put(picture("main", {}, true)));
  expect(result.current).toEqual({ "draw.level": 0.4 });
});

test("pictures are counted as they come, and no more after the page has gone", () => {
  const pictures = new Pictures();
  const { result, unmount } = renderHook(() => useCount(pictures, ["a", "b"]));

  act(() => pictures.put(picture("a")));
  act(() => pictures.put(picture("c")));
  expect(result.current).toBe(1);
  unmount();
  pictures.put(picture("b"));
  expect(result.current).toBe(1);
});

test("what may wait begins once the newest ask has been drawn, not as a draft, and rested", () => {
  vi.useFakeTimers();
  const pictures = new Pictures();
  const then = vi.fn();
  const begin = () => onceRested(pictures, "main", 1000, then);
  begin();
  vi.advanceTimersByTime(5000);
  const ask = pictures.ask();
  pictures.put(drawn({ ask, draft: true }));
  pictures.put(drawn({ ask, view: "run-draw" }));
  vi.advanceTimersByTime(5000);
  pictures.put(drawn({ ask }));
  vi.advanceTimersByTime(900);
  pictures.put(drawn({ ask: pictures.ask() }));
  vi.advanceTimersByTime(900);
  expect(then).not.toHaveBeenCalled();
  vi.advanceTimersByTime(100);
  expect(then).toHaveBeenCalledOnce();

  begin()();
  vi.advanceTimersByTime(5000);
  pictures.put(drawn({ ask: pictures.ask() }));
  vi.advanceTimersByTime(5000);
  expect(then).toHaveBeenCalledOnce();
});
