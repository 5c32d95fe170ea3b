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
  const [onOpen, onChoose] = [vi.fn(), vi.fn()];
  const all = { kinds, chosen: "median", label: "Look", others: "other looks", isOpen: true };
  return {
    onOpen,
    onChoose,
    ...render(<KindChooser {...all} onOpen={onOpen} onChoose={onChoose} {...props} />),
  };
}

test("closed it is one row with what is chosen", () => {
  const { onOpen } = chooser({ isOpen: false });

  const row = screen.getByRole("button", { name: /Median/ });
  expect(row.getAttribute("aria-expanded")).toBe("false");
  expect(screen.queryByText("Smear")).toBeNull();
  fireEvent.click(row);
  expect(onOpen).toHaveBeenCalledExactlyOnceWith(true);
});

test("Esc and a press beside it close it", () => {
  const { onOpen } = chooser();
  expect(document.activeElement?.getAttribute("aria-pressed")).toBe("true");

  fireEvent.keyDown(document.activeElement!, { key: "Escape" });
  fireEvent.pointerDown(screen.getByText("Smear"));
  expect(onOpen.mock.calls).toEqual([[false]]);
  fireEvent.pointerDown(document.body);
  expect(onOpen.mock.calls).toEqual([[false], [false]]);
});

test("every kind is offered by its name, and the chosen one is marked", () => {
  chooser({ chosen: "smear", label: "Way to smooth" });

  const group = screen.getByRole("group", { name: "Way to smooth" });
  const pressed = [...group.children].map((each) => each.getAttribute("aria-pressed"));
  expect(pressed).toEqual(["false", "true"]);
});

test("choosing another kind tells which; choosing the same one does nothing", () => {
  const { onChoose, onOpen } = chooser({ chosen: "smear" });

  fireEvent.click(within(screen.getByRole("group")).getByText("Smear"));
  expect(onOpen).toHaveBeenCalledWith(false);
  expect(onChoose).not.toHaveBeenCalled();
  fireEvent.click(screen.getByText("Median"));
  expect(onChoose).toHaveBeenCalledExactlyOnceWith(kinds[0]);
});

test("small drawings are shown where there are any", () => {
  const { container } = chooser({ pictures: new Pictures() });

  expect(container.querySelectorAll(".kinds .small-proof").length).toBe(2);
});

test.each([
  [false, "About 9,000,000 dots; the limit is less.", "too many marks at this size"],
  [true, "Stipple is being made ready for this machine.", "being made ready"],
])("a kind that cannot be drawn here says so, and why", (later, why, words) => {
  const refusals = new Map([[`look-${kinds[0]!.name}`, { why, later }]]);
  const { container } = chooser({ pictures: new Pictures(), refusals });

  expect(container.querySelectorAll(".kinds .small-proof").length).toBe(1);
  expect(screen.getByTitle(why)).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
});
