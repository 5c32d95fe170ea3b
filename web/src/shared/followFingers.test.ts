import { expect, test, vi } from "vitest";
import { followFingers } from "./followFingers";

function pointer(name: string, pointerId: number, clientX: number, pointerType = "touch") {
  const event = new MouseEvent(name, { clientX, clientY: 0, bubbles: true, cancelable: true });
  return Object.assign(event, { pointerId, pointerType });
}

test("two fingers spread what is under them, and one or a mouse does not", () => {
  const element = document.createElement("div");
  const spread = vi.fn();
  const end = followFingers(element, () => spread);

  element.dispatchEvent(pointer("pointerdown", 1, 100));
  element.dispatchEvent(pointer("pointermove", 1, 120));
  element.dispatchEvent(pointer("pointerdown", 9, 500, "mouse"));
  expect(spread).not.toHaveBeenCalled();
  element.dispatchEvent(pointer("pointerdown", 2, 220));
  element.dispatchEvent(pointer("pointermove", 2, 320));
  expect(spread.mock.lastCall).toEqual([2, 220, 0]);
  element.dispatchEvent(pointer("pointerup", 2, 320));
  element.dispatchEvent(pointer("pointermove", 1, 0));
  expect(spread).toHaveBeenCalledOnce();
  end();
});

test("the second finger is not heard by what lies over the sheet", () => {
  const [element, over] = [document.createElement("div"), document.createElement("div")];
  element.append(over);
  const painted = vi.fn();
  over.addEventListener("pointerdown", painted);
  followFingers(element, () => vi.fn());

  over.dispatchEvent(pointer("pointerdown", 1, 100));
  over.dispatchEvent(pointer("pointerdown", 2, 200));

  expect(painted).toHaveBeenCalledOnce();
});
