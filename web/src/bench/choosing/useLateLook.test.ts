import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Plate, Sheet } from "../../api/client";
import { Pictures } from "../../live/pictures";
import { drawn } from "../../live/pictures.testing";
import { useLateLook } from "./useLateLook";

afterEach(cleanup);

const drawn_with = { look: "pencil", softness: 7 };
const early = { plates: [{ id: "one", fitted: [], draw: { look: "pencil", softness: 2 } }] };
const sheet = early as unknown as Sheet;

function chosenEarly() {
  const pictures = new Pictures();
  const onChange = vi.fn<(sheet: Sheet, words: string, gesture: string) => void>();
  const hook = renderHook(({ sheet, plate }) => useLateLook(pictures, sheet, plate, onChange), {
    initialProps: { sheet, plate: "one" },
  });
  const words = "Draw: Pencil";
  hook.result.current({ look: "pencil", plate: "one", sheet, words, gesture: "g1" });
  const put = (look: string) =>
    act(() => pictures.put(drawn({ view: `look-${look}`, drawn_with, fitted: ["draw.softness"] })));
  return { onChange, put, ...hook };
}

test("a look that was chosen early takes its fitted values when they come, as one step", () => {
  const { onChange, put } = chosenEarly();

  put("threshold");
  expect(onChange).not.toHaveBeenCalled();
  put("pencil");
  put("pencil");

  expect(onChange).toHaveBeenCalledOnce();
  const [changed, words, gesture] = onChange.mock.lastCall!;
  const { draw, fitted } = changed.plates[0] as Plate;
  expect({ draw, fitted }).toEqual({ draw: drawn_with, fitted: ["draw.softness"] });
  expect([words, gesture]).toEqual(["Draw: Pencil", "g1"]);
});

test("what was changed meanwhile stays as it was set", () => {
  const { onChange, put, rerender } = chosenEarly();

  rerender({ sheet: { ...sheet, title: "Barnaby" }, plate: "one" });
  put("pencil");
  rerender({ sheet, plate: "one" });
  put("pencil");

  expect(onChange).not.toHaveBeenCalled();
});

test("what the small drawing of another plate was drawn with is not taken", () => {
  const { onChange, put, rerender } = chosenEarly();

  rerender({ sheet, plate: "two" });
  put("pencil");

  expect(onChange).not.toHaveBeenCalled();
});
