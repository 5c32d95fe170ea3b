import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Sheet } from "../../api/client";
import { Pictures } from "../../live/pictures";
import { PaintLayer } from "./PaintLayer";
import { type Brush, type Hand, withHand } from "./useHand";

afterEach(cleanup);

const area = { width: 400, height: 300 };

function layer(brush: Partial<Brush> = {}) {
  const [paint, setBrush, trace] = [vi.fn(), vi.fn(), vi.fn()];
  const whole = { by: "brush", sizeMm: 10, hardness: 0.5, strength: 1, hasPressure: true };
  const hand = {
    brush: { ...whole, ...brush },
    verb: "hide",
    paint,
    setBrush,
    trace,
  } as unknown as Hand;
  const shown = (of: Hand) => (
    <PaintLayer
      hand={of}
      pictures={new Pictures()}
      area={area}
      place={{ edge: 400, x: 0, y: 0 }}
      aspect={4 / 3}
      pxPerMm={2}
    />
  );
  const { rerender } = render(shown(hand));
  const element = screen.getByRole("application");
  element.setPointerCapture = () => {};
  const change = (by: Brush["by"]) =>
    rerender(shown({ ...hand, brush: { ...hand.brush, by } } as Hand));
  return { paint, setBrush, trace, element, change };
}

test("by keys a cross is moved and sets a dab", () => {
  const { paint, element } = layer();

  fireEvent.keyDown(element, { key: "ArrowRight" });
  fireEvent.keyDown(element, { key: "ArrowUp", shiftKey: true });
  fireEvent.keyDown(element, { key: " " });

  const [[point]] = paint.mock.lastCall! as [[number[]]];
  expect(point!.map((each) => Math.round(each * 100) / 100)).toEqual([0.51, 0.45, 1]);
});

test("an area is gone round corner by corner and closed by Enter", () => {
  const { paint, element } = layer({ by: "area" });

  for (const key of [" ", "ArrowRight", " ", "ArrowDown", " "]) fireEvent.keyDown(element, { key });
  expect(paint).not.toHaveBeenCalled();
  fireEvent.keyDown(element, { key: "Enter" });

  expect(paint.mock.lastCall![0]).toHaveLength(3);
  fireEvent.keyDown(element, { key: "Enter" });
  expect(paint).toHaveBeenCalledOnce();
});

function press(element: HTMLElement, x: number, y: number) {
  fireEvent.pointerDown(element, { button: 0, clientX: x, clientY: y });
  fireEvent.pointerUp(element, { clientX: x, clientY: y });
}

test("an area is pressed corner by corner and closed where it began", () => {
  const { paint, element } = layer({ by: "area" });

  for (const [x, y] of [
    [100, 100],
    [200, 100],
    [200, 200],
  ] as const)
    press(element, x, y);
  expect(paint).not.toHaveBeenCalled();
  press(element, 103, 102);

  expect(paint.mock.lastCall![0]).toEqual([
    [0.25, 1 / 3, 1],
    [0.5, 1 / 3, 1],
    [0.5, 2 / 3, 1],
  ]);
});

test("an area that is gone round freely ends where it began, and goes on from corners", () => {
  const { paint, element } = layer({ by: "area" });

  press(element, 300, 100);
  fireEvent.pointerDown(element, { button: 0, clientX: 100, clientY: 100 });
  for (const [clientX, clientY] of [
    [100, 200],
    [200, 200],
    [101, 101],
  ] as const)
    fireEvent.pointerMove(element, { clientX, clientY });
  fireEvent.pointerUp(element, { clientX: 101, clientY: 101 });

  expect(paint.mock.lastCall![0]).toHaveLength(5);
});

test("a line is pressed point by point, shown meanwhile, and ended by a press on its last point", () => {
  const { paint, trace, element } = layer({ by: "points" });

  press(element, 100, 100);
  press(element, 200, 100);
  expect(trace.mock.lastCall![0]).toHaveLength(2);
  press(element, 300, 200);
  fireEvent.keyDown(element, { key: "Backspace" });
  press(element, 250, 250);
  press(element, 250, 250);

  expect(paint.mock.lastCall![0]).toEqual([
    [0.25, 1 / 3, 1],
    [0.5, 1 / 3, 1],
    [0.625, 250 / 300, 1],
  ]);
  expect(paint).toHaveBeenCalledOnce();
});

test("Escape forgets the points, and one alone is no line", () => {
  const { paint, trace, element } = layer({ by: "points" });

  press(element, 100, 100);
  press(element, 200, 100);
  fireEvent.keyDown(element, { key: "Escape" });
  expect(trace).toHaveBeenLastCalledWith(null);
  press(element, 100, 100);
  fireEvent.keyDown(element, { key: "Enter" });

  expect(paint).not.toHaveBeenCalled();
});

test("corners set one way are gone once the hand goes another", () => {
  const { paint, element, change } = layer({ by: "area" });

  for (const x of [100, 150, 200]) press(element, x, 100 + x);
  expect(document.querySelectorAll(".paint-corner")).toHaveLength(3);
  change("brush");

  expect(document.querySelectorAll(".paint-corner, .paint-line")).toHaveLength(0);
  press(element, 50, 50);
  expect(paint.mock.lastCall![0]).toHaveLength(1);
});

test("a stroke is sent once it ends, in shares of the sheet", () => {
  const { paint, element } = layer();

  fireEvent.pointerDown(element, { button: 0, clientX: 100, clientY: 150 });
  fireEvent.pointerMove(element, { clientX: 200, clientY: 150 });
  expect(paint).not.toHaveBeenCalled();
  fireEvent.pointerUp(element, { clientX: 200, clientY: 150 });

  const [points] = paint.mock.lastCall! as [number[][]];
  expect(points).toEqual([
    [0.25, 0.5, 1],
    [0.5, 0.5, 1],
  ]);
});

test("while it is made a stroke is shown once a frame, and forgotten where it is taken away", () => {
  vi.useFakeTimers({ toFake: ["requestAnimationFrame", "cancelAnimationFrame"] });
  const { paint, trace, element } = layer();

  fireEvent.pointerDown(element, { button: 0, clientX: 100, clientY: 150 });
  fireEvent.pointerMove(element, { clientX: 200, clientY: 150 });
  fireEvent.pointerMove(element, { clientX: 300, clientY: 150 });
  expect(trace).not.toHaveBeenCalled();
  vi.advanceTimersToNextFrame();
  expect(trace).toHaveBeenCalledOnce();
  expect(trace.mock.lastCall![0]).toHaveLength(3);
  fireEvent.pointerCancel(element);
  expect(trace.mock.lastCall![0]).toBeNull();
  expect(paint).not.toHaveBeenCalled();
  vi.useRealTimers();
});

test("the wheel with Alt sizes the brush, within its limits", () => {
  const { setBrush, element } = layer({ sizeMm: 199 });

  fireEvent.wheel(element, { deltaY: -500, altKey: true });
  expect(setBrush.mock.lastCall![0]).toEqual({ sizeMm: 200 });
  fireEvent.wheel(element, { deltaY: 500 });
  expect(setBrush).toHaveBeenCalledOnce();
});

test("a plate's hand work is named by stage, and other plates keep theirs", () => {
  const sheet = {
    plates: [
      { id: "one", hand: { tone: "a" } },
      { id: "two", hand: { tone: "b" } },
    ],
  } as unknown as Sheet;

  const more = withHand(sheet, "one", "ink", "c");
  expect(more.plates[0]!.hand).toEqual({ tone: "a", ink: "c" });
  expect(withHand(more, "one", "tone", null).plates[0]!.hand).toEqual({ ink: "c" });
  expect(more.plates[1]).toBe(sheet.plates[1]);
});
