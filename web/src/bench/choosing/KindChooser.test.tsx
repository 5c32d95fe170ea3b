import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { KindSpec } from "../../api/client";
import { KindChooser } from "./KindChooser";
import { Pictures } from "../../live/pictures";

const kinds = [
  { name: "median", label: "Median", purpose: "Specks go", dials: [] },
  { name: "smear", label: "Smear", purpose: "Dragged one way", dials: [] },
] as unknown as KindSpec[];

afterEach(cleanup);

function chooser(props: Partial<Parameters<typeof KindChooser>[0]> = {}) {
  const onChoose = vi.fn();
  const all = { kinds, chosen: "median", label: "Look", others: "other looks" };
  const rendered = render(<KindChooser {...all} onChoose={onChoose} {...props} />);
  const row = screen.getByRole("button", { name: /other looks/ });
  return { onChoose, row, open: () => fireEvent.click(row), ...rendered };
}

const isOpen = () => screen.queryByRole("group") !== null;

test("closed it is one row with what is chosen; a press opens it and another closes it", () => {
  const { row, open } = chooser();

  expect(row.textContent).toContain("Median");
  expect(row.getAttribute("aria-expanded")).toBe("false");
  expect(screen.queryByText("Smear")).toBeNull();
  open();
  expect(row.getAttribute("aria-expanded")).toBe("true");
  expect(isOpen()).toBe(true);
  open();
  expect(isOpen()).toBe(false);
});

test("Esc and a press beside it close it", () => {
  const { row, open } = chooser();
  open();
  expect(document.activeElement?.getAttribute("aria-pressed")).toBe("true");

  fireEvent.keyDown(document.activeElement!, { key: "Escape" });
  expect(isOpen()).toBe(false);
  expect(document.activeElement).toBe(row);
  open();
  fireEvent.pointerDown(screen.getByText("Smear"));
  expect(isOpen()).toBe(true);
  fireEvent.pointerDown(document.body);
  expect(isOpen()).toBe(false);
});

test("every kind is offered by its name, and the chosen one is marked", () => {
  chooser({ chosen: "smear", label: "Way to smooth" }).open();

  const group = screen.getByRole("group", { name: "Way to smooth" });
  const pressed = [...group.children].map((each) => each.getAttribute("aria-pressed"));
  expect(pressed).toEqual(["false", "true"]);
});

test("choosing another kind tells which; choosing the same one does nothing", () => {
  const { onChoose, open } = chooser({ chosen: "smear" });

  open();
  fireEvent.click(within(screen.getByRole("group")).getByText("Smear"));
  expect(isOpen()).toBe(false);
  open();
  expect(onChoose).not.toHaveBeenCalled();
  fireEvent.click(screen.getByText("Median"));
  expect(onChoose).toHaveBeenCalledExactlyOnceWith(kinds[0]);
});

test("small drawings are shown where there are any", () => {
  const { container, open } = chooser({ pictures: new Pictures() });
  open();

  expect(container.querySelectorAll(".kinds .small-proof").length).toBe(2);
});

test.each([
  [false, "About 9,000,000 dots; the limit is less.", "too many marks at this size"],
  [true, "Stipple is being made ready for this machine.", "being made ready"],
])("a kind that cannot be drawn here says so, and why", (later, why, words) => {
  const refusals = new Map([[`look-${kinds[0]!.name}`, { why, later }]]);
  const { container, open } = chooser({ pictures: new Pictures(), refusals });
  open();

  expect(container.querySelectorAll(".kinds .small-proof").length).toBe(1);
  expect(screen.getByTitle(why)).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
});
