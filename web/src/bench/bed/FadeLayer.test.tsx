import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Plate, Sheet } from "../../api/client";
import { FadeLayer, hasFadeHandles } from "./FadeLayer";

afterEach(cleanup);

const ink = { fade: "straight", fade_x: 0.3, fade_y: 0.5, gone_x: 0.7, gone_y: 0.5 };
const plate = { id: "one", ink, fitted: [] } as unknown as Plate;
const position = { x: null, y: null, width: null, turn: 0, mirrored: false };
const sheet = {
  plates: [plate],
  paper: { size: "as-picture", long_edge: 200 },
  picture: { position },
} as unknown as Sheet;

function shown() {
  const onChange = vi.fn<(sheet: Sheet, words: string, gesture: string) => void>();
  const place = { edge: 400, x: 10, y: 20 };
  render(<FadeLayer sheet={sheet} plate={plate} place={place} aspect={2} onChange={onChange} />);
  return onChange;
}

test("a handle of a fade is moved by keys, with Shift further", () => {
  const onChange = shown();

  fireEvent.keyDown(screen.getByRole("button", { name: /Prints fully/ }), { key: "ArrowRight" });
  expect(onChange.mock.lastCall![0].plates[0]!.ink.fade_x).toBeCloseTo(0.31);
  const gone = screen.getByRole("button", { name: /Gone here/ });
  fireEvent.keyDown(gone, { key: "ArrowUp", shiftKey: true });
  expect(onChange.mock.lastCall![0].plates[0]!.ink.gone_y).toBeCloseTo(0.45);
});

test("a handle is dragged to a place on the sheet", () => {
  const onChange = shown();
  const handle = screen.getByRole("button", { name: /Gone here/ });
  handle.setPointerCapture = () => {};

  fireEvent.pointerDown(handle, { button: 0, clientX: 290, clientY: 120 });
  fireEvent.pointerMove(handle, { clientX: 10 + 400 * 0.9, clientY: 20 + 200 * 0.25 });

  const moved = onChange.mock.lastCall![0].plates[0]!.ink;
  expect([moved.gone_x, moved.gone_y]).toEqual([expect.closeTo(0.9), expect.closeTo(0.25)]);
});

test("there are handles where the picture fills its paper, and a plate fades", () => {
  expect(hasFadeHandles(sheet, plate)).toBe(true);
  const turned = { ...sheet, picture: { ...sheet.picture, position: { ...position, turn: 5 } } };
  expect(hasFadeHandles(turned as Sheet, plate)).toBe(false);
  const even = { ...plate, ink: { ...ink, fade: "none" } } as unknown as Plate;
  expect(hasFadeHandles(sheet, even)).toBe(false);
});
