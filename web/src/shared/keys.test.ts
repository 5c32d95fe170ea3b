import { fireEvent, renderHook } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { KEYS, type KeyName, useHeldKey, useKey } from "./keys";

test("no two actions share a key, and each has words for the list", () => {
  const names = Object.keys(KEYS) as KeyName[];

  for (const part of ["keys", "shown", "words"] as const) {
    expect(new Set(names.map((name) => KEYS[name][part])).size).toBe(names.length);
  }
});

test("an action follows its key, but not while text is typed", () => {
  const action = vi.fn();
  renderHook(() => useKey("fit", action));
  const field = document.body.appendChild(document.createElement("input"));

  fireEvent.keyDown(document, { key: "w", code: "KeyW" });
  fireEvent.keyUp(document, { key: "w", code: "KeyW" });
  fireEvent.keyDown(field, { key: "w", code: "KeyW" });

  expect(action).toHaveBeenCalledOnce();
  field.remove();
});

test("a held key tells both that it goes down and that it comes up", () => {
  const held = vi.fn();
  renderHook(() => useHeldKey("photo", held));

  fireEvent.keyDown(document, { key: "p", code: "KeyP" });
  fireEvent.keyUp(document, { key: "p", code: "KeyP" });

  expect(held.mock.calls).toEqual([[true], [false]]);
});
