import { expect, test, vi } from "vitest";
import { followPointer } from "./followPointer";

function pressed() {
  const surface = document.createElement("div");
  surface.setPointerCapture = vi.fn();
  const press = { currentTarget: surface, pointerId: 7 } as unknown as React.PointerEvent<Element>;
  const [move, end] = [vi.fn(), vi.fn()];
  followPointer(press, { move, end });
  return { surface, move, end };
}

test("a pointer is followed until it lets go, and no further", () => {
  const { surface, move, end } = pressed();
  expect(surface.setPointerCapture).toHaveBeenCalledWith(7);
  surface.dispatchEvent(new Event("pointermove"));
  surface.dispatchEvent(new Event("pointerup"));
  surface.dispatchEvent(new Event("pointermove"));
  surface.dispatchEvent(new Event("pointerup"));
  expect(move).toHaveBeenCalledTimes(1);
  expect(end).toHaveBeenCalledTimes(1);
  expect(end).toHaveBeenCalledWith(expect.anything(), false);
});

test("a pointer that is taken away is no longer followed, and that is said", () => {
  const { surface, move, end } = pressed();
  surface.dispatchEvent(new Event("pointercancel"));
  surface.dispatchEvent(new Event("pointermove"));
  expect(move).not.toHaveBeenCalled();
  expect(end).toHaveBeenCalledWith(expect.anything(), true);
});

test("a second finger takes the first one away, a mouse does not", () => {
  const surface = document.createElement("div");
  surface.setPointerCapture = vi.fn();
  const press = { currentTarget: surface, pointerId: 7, pointerType: "touch" };
  const end = vi.fn();
  followPointer(press as unknown as React.PointerEvent<Element>, { move: vi.fn(), end });

  const down = (pointerId: number, pointerType: string) =>
    window.dispatchEvent(Object.assign(new Event("pointerdown"), { pointerId, pointerType }));
  down(9, "mouse");
  expect(end).not.toHaveBeenCalled();
  down(8, "touch");
  expect(end).toHaveBeenCalledWith(expect.anything(), true);
});
