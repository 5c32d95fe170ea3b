import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { act } from "react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import type { Answer, OptionSpec } from "../../api/client";
import { type Picture, Pictures } from "../../live/pictures";
import { Chooser } from "./Chooser";
import { isNamed, OptionList } from "./OptionList";

const options: OptionSpec[] = [
  { name: "median", label: "Median", hint: "Specks go", also: "" },
  { name: "smear", label: "Smear", hint: "Dragged one way", also: "motion" },
];

beforeAll(() => {
  // The page without a browser lays nothing out.
  Element.prototype.scrollIntoView = () => {};
});
afterEach(cleanup);

function chooser(chosen = "median", pictures = new Pictures(), all = options) {
  const onChoose = vi.fn();
  const rendered = render(
    <Chooser chosen="Median" others="other ways">
      {(close, id) => (
        <OptionList
          id={id}
          label="Way to smooth"
          options={all}
          chosen={chosen}
          pictures={pictures}
          viewId={(name) => `look-${name}`}
          onChoose={(name) => {
            onChoose(name);
            close();
          }}
        />
      )}
    </Chooser>,
  );
  const row = screen.getByRole("button", { name: /other ways/ });
  return { onChoose, row, open: () => fireEvent.click(row), ...rendered };
}

const isOpen = () => screen.queryByRole("group") !== null;
const option = (name: string) =>
  within(screen.getByRole("group")).getByRole("button", { name: new RegExp(name) });

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

test("Esc and a press beside it close it, and the focus comes back", () => {
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

test("every value is offered by its name, the chosen one is marked, and a press tells which", () => {
  const { onChoose, open } = chooser("smear");
  open();

  const group = screen.getByRole("group", { name: "Way to smooth" });
  const pressed = [...group.children].map((each) => each.getAttribute("aria-pressed"));
  expect(pressed).toEqual(["false", "true"]);
  fireEvent.click(option("Median"));
  expect(onChoose).toHaveBeenCalledExactlyOnceWith("median");
  expect(isOpen()).toBe(false);
});

test("one Tab stop for all of them; arrows go from one to the next", () => {
  chooser().open();

  const group = [...screen.getByRole("group").children] as HTMLElement[];
  expect(group.map((each) => each.tabIndex)).toEqual([0, -1]);
  fireEvent.keyDown(group[0]!, { key: "ArrowRight" });
  expect(document.activeElement).toBe(group[1]);
});

test.each([
  [false, "About 9,000,000 dots; the limit is less.", "too many marks at this size"],
  [true, "Stipple is being made ready for this machine.", "being made ready"],
])("one that cannot be drawn here says so, and why", (later, why, words) => {
  const pictures = new Pictures();
  const { container, open } = chooser("smear", pictures);
  open();
  act(() => pictures.refuse("look-median", { why, later }));

  expect(container.querySelectorAll(".kinds .small-proof").length).toBe(1);
  expect(screen.getByTitle(why)).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
});

test("one that changes nothing here says so, but for the one that is chosen", () => {
  const pictures = new Pictures();
  chooser("median", pictures).open();
  const put = (view: string, alike: boolean) => {
    const answer = { view, ask: 1, alike } as unknown as Answer;
    pictures.put({ canvas: document.createElement("canvas"), answer } as unknown as Picture);
  };

  act(() => put("look-median", true));
  act(() => put("look-smear", true));

  expect(option("Smear").textContent).toContain("no change here");
  expect(option("Median").textContent).not.toContain("no change here");
});

test("many are searched by their words and by their standard names", () => {
  const many = Array.from({ length: 12 }, (_, k) => ({
    ...options[0]!,
    name: `${k}`,
    label: `No. ${k}`,
  }));
  chooser("0", new Pictures(), [...many, options[1]!]).open();

  fireEvent.change(screen.getByRole("searchbox"), { target: { value: "motion" } });

  expect(screen.getByRole("group").children).toHaveLength(1);
  expect(isNamed(options[1]!, "dragged SMEAR")).toBe(true);
  expect(isNamed(options[1]!, "dragged median")).toBe(false);
});
