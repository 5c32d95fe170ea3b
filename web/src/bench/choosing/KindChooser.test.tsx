import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { KindSpec } from "../../api/client";
import { KindChooser } from "./KindChooser";
import { Pictures } from "../../live/pictures";

const kinds = [
  { name: "median", label: "Median", purpose: "Specks go", dials: [] },
  { name: "smear", label: "Smear", purpose: "Dragged one way", dials: [] },
] as unknown as KindSpec[];

afterEach(cleanup);

test("every kind is offered by its name, and the chosen one is marked", () => {
  render(<KindChooser kinds={kinds} chosen="smear" label="Way to smooth" onChoose={vi.fn()} />);

  const pressed = screen.getAllByRole("button").map((b) => b.getAttribute("aria-pressed"));
  expect(screen.getByRole("group", { name: "Way to smooth" })).toBeTruthy();
  expect(pressed).toEqual(["false", "true"]);
});

test("choosing another kind tells which; choosing the same one does nothing", () => {
  const onChoose = vi.fn();
  render(<KindChooser kinds={kinds} chosen="smear" label="Way to smooth" onChoose={onChoose} />);

  fireEvent.click(screen.getByText("Smear"));
  expect(onChoose).not.toHaveBeenCalled();
  fireEvent.click(screen.getByText("Median"));
  expect(onChoose).toHaveBeenCalledExactlyOnceWith(kinds[0]);
});

test("small drawings are shown where there are any", () => {
  const { container } = render(
    <KindChooser
      kinds={kinds}
      chosen="median"
      label="Look"
      pictures={new Pictures()}
      onChoose={vi.fn()}
    />,
  );

  expect(container.querySelectorAll(".small-proof").length).toBe(2);
});

test.each([
  [false, "About 9,000,000 dots; the limit is less.", "too many marks at this size"],
  [true, "Stipple is being made ready for this machine.", "being made ready"],
])("a kind that cannot be drawn here says so, and why", (later, why, words) => {
  const refusals = new Map([[`look-${kinds[0]!.name}`, { why, later }]]);
  const { container } = render(
    <KindChooser
      kinds={kinds}
      chosen="median"
      label="Look"
      pictures={new Pictures()}
      refusals={refusals}
      onChoose={vi.fn()}
    />,
  );

  expect(container.querySelectorAll(".small-proof").length).toBe(1);
  expect(screen.getByTitle(why)).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
});
