import { fireEvent, renderHook } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { askForKeys, KEYS, type KeyName, onKeysAsked, useHeldKey, useKey } from "./keys";

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

test("keys are heard from sliders, and undo from a field that nothing was typed in", () => {
  const [fit, undo] = [vi.fn(), vi.fn()];
  renderHook(() => {
    useKey("fit", fit);
    useKey("undo", undo);
  });
  const [slider, field] = ["range", "text"].map((type) => {
    const input = document.body.appendChild(document.createElement("input"));
    input.type = type;
    return input;
  }) as [HTMLInputElement, HTMLInputElement];

  fireEvent.keyDown(slider, { key: "w", code: "KeyW" });
  fireEvent.keyUp(slider, { key: "w", code: "KeyW" });
  expect(fit).toHaveBeenCalledOnce();
  for (const typed of ["false", "true"]) {
    field.dataset["typed"] = typed;
    fireEvent.keyDown(field, { key: "z", code: "KeyZ", ctrlKey: true });
    fireEvent.keyUp(field, { key: "z", code: "KeyZ", ctrlKey: true });
  }
  expect(undo).toHaveBeenCalledOnce();
  slider.remove();
  field.remove();
});

test("no key acts behind a dialog", () => {
  const action = vi.fn();
  renderHook(() => useKey("leave", action));
  const dialog = document.body.appendChild(document.createElement("div"));
  dialog.setAttribute("role", "dialog");
  dialog.setAttribute("aria-modal", "true");

  fireEvent.keyDown(document, { key: "Escape", code: "Escape" });
  fireEvent.keyUp(document, { key: "Escape", code: "Escape" });
  expect(action).not.toHaveBeenCalled();
  dialog.remove();
  fireEvent.keyDown(document, { key: "Escape", code: "Escape" });
  expect(action).toHaveBeenCalledOnce();
});

test("the list of keys is asked for until nobody listens any more", () => {
  const shown = vi.fn();
  const end = onKeysAsked(shown);

  askForKeys();
  end();
  askForKeys();

  expect(shown).toHaveBeenCalledOnce();
});

test("a held key tells both that it goes down and that it comes up", () => {
  const held = vi.fn();
  renderHook(() => useHeldKey("photo", held));

  fireEvent.keyDown(document, { key: "p", code: "KeyP" });
  fireEvent.keyUp(document, { key: "p", code: "KeyP" });

  expect(held.mock.calls).toEqual([[true], [false]]);
});
