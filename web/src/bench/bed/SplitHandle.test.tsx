import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { SplitHandle } from "./SplitHandle";

afterEach(cleanup);

function handle(at: number) {
  const onMove = vi.fn();
  const area = { width: 800, height: 600 };
  render(<SplitHandle area={area} at={at} words="Photo" onMove={onMove} />);
  return { onMove, slider: screen.getByRole("slider") };
}

test("the handle stands at its share of the bed and says so", () => {
  const { slider } = handle(0.25);

  expect(slider.style.left).toBe("200px");
  expect(slider.getAttribute("aria-valuenow")).toBe("25");
  expect(slider.textContent).toBe("drawingPhoto");
});

test("arrows move it, other keys do not", () => {
  const { onMove, slider } = handle(0.5);

  fireEvent.keyDown(slider, { key: "ArrowLeft" });
  expect(onMove.mock.lastCall![0]).toBeCloseTo(0.48);
  fireEvent.keyDown(slider, { key: "ArrowRight" });
  expect(onMove.mock.lastCall![0]).toBeCloseTo(0.52);
  fireEvent.keyDown(slider, { key: "x" });
  expect(onMove).toHaveBeenCalledTimes(2);
});

test.each([
  [0.02, "ArrowLeft", 0.02],
  [0.98, "ArrowRight", 0.98],
])("from %f it goes no farther out", (at, key, most) => {
  const { onMove, slider } = handle(at);

  fireEvent.keyDown(slider, { key });

  expect(onMove.mock.lastCall![0]).toBeCloseTo(most);
});
