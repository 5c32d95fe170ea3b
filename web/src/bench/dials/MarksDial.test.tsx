import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { MarksDial } from "./MarksDial";

afterEach(cleanup);

function dial(more: Partial<Parameters<typeof MarksDial>[0]> = {}) {
  const onWish = vi.fn();
  const props = { marks: 12_345, sizedBy: "Dot", many: 100_000, isBusy: false, onWish, ...more };
  render(<MarksDial {...props} />);
  return { onWish, field: screen.getByLabelText("Number of marks, typed") as HTMLInputElement };
}

test("it says how many there are, and a typed number is wished once", () => {
  const { onWish, field } = dial();

  expect(field.value).toBe("12,345");
  fireEvent.change(field, { target: { value: "20 000" } });
  fireEvent.blur(field);
  fireEvent.focus(field);
  fireEvent.blur(field);
  expect(onWish.mock.calls).toEqual([[20_000]]);
});

test.each(["0", "many", "-5"])("what is no number of marks is refused: %j", (text) => {
  const { onWish, field } = dial();

  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);

  expect(onWish).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toContain("There are 12,345 now.");
});

test("while the slider is dragged nothing is asked; once it is let go, once", () => {
  const { onWish } = dial();
  const slider = screen.getByRole("slider");

  fireEvent.change(slider, { target: { value: "4.2" } });
  fireEvent.change(slider, { target: { value: "4.5" } });
  expect(onWish).not.toHaveBeenCalled();
  fireEvent.pointerUp(slider);

  expect(onWish.mock.calls).toEqual([[31_600]]);
});

test("until it is known how many there are it cannot be turned", () => {
  dial({ marks: undefined });

  expect((screen.getByRole("slider") as HTMLInputElement).disabled).toBe(true);
});
