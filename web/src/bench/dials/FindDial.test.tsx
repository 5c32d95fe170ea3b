import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Plate, Sheet } from "../../api/client";
import { dialSpec } from "../../shared/dialSpec.testing";
import { catalogueOf } from "../../sheet/catalogue.testing";
import { FindDial } from "./FindDial";

afterEach(cleanup);

const catalogue = catalogueOf({
  tone: [{ dials: [dialSpec("black", { label: "Black point", group: "Levels" })] }],
  draw: [{ name: "threshold", dials: [dialSpec("level", { label: "Level" })] }],
  clean: [{ dials: [dialSpec("weight", { label: "Weight", only_for: { kind: ["never"] } })] }],
});
const plate = {
  id: "one",
  source: { kind: "picture" },
  tone: {},
  draw: { look: "threshold" },
  clean: {},
} as unknown as Plate;

function find(typed: string) {
  const acts = { onGo: vi.fn(), onLeave: vi.fn() };
  const picture = { cutout: {}, crop: {} };
  const sheet = { plates: [plate], paper: {}, picture } as unknown as Sheet;
  render(<FindDial catalogue={catalogue} sheet={sheet} plate={plate} {...acts} />);
  const field = screen.getByRole("combobox");
  fireEvent.change(field, { target: { value: typed } });
  return { ...acts, field, names: () => screen.queryAllByRole("option").map((o) => o.textContent) };
}

test("a dial is found by its name, its group or its stage; names that begin so come first", () => {
  const { names } = find("lev");

  expect(names()).toEqual(["Level Draw", "Black point Tone"]);
});

test("Enter goes to the marked one, arrows mark another, Esc leaves", () => {
  const { field, onGo, onLeave } = find("lev");

  fireEvent.keyDown(field, { key: "Enter" });
  expect(onGo.mock.lastCall![0]).toMatchObject({ step: "draw", dial: "level" });
  fireEvent.keyDown(field, { key: "ArrowDown" });
  fireEvent.keyDown(field, { key: "Enter" });
  expect(onGo.mock.lastCall![0]).toMatchObject({ step: "tone", dial: "black" });
  fireEvent.keyDown(field, { key: "Escape" });
  expect(onLeave).toHaveBeenCalledOnce();
});

test("a dial that does nothing now is not offered, and nothing found is said", () => {
  const { names } = find("weight");

  expect(names()).toEqual([]);
  expect(screen.getByText("No dial has these words.")).toBeTruthy();
});
