import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Sheet } from "../../api/client";
import { catalogueOf } from "../../sheet/catalogue.testing";
import { InkDiscs } from "./InkDiscs";

afterEach(cleanup);

const MOST = 12;
const COLOURS = ["#000000", "#b5381f", "#1f6f66"];

function discs(count: number, chosen = "plate-1") {
  const plates = Array.from({ length: count }, (_, number) => ({
    id: `plate-${number + 1}`,
    name: number === 1 ? "Red" : "",
    shown: true,
    fitted: [],
    draw: { look: "stipple" },
    ink: { colour: COLOURS[number % COLOURS.length] },
  }));
  const sheet = { plates, picture: { photo: "abc" } } as unknown as Sheet;
  const acts = { onChoose: vi.fn(), onChange: vi.fn(), onTrouble: vi.fn(), onStep: vi.fn() };
  render(
    <QueryClientProvider client={new QueryClient()}>
      <InkDiscs
        sheetId={3}
        catalogue={catalogueOf()}
        sheet={sheet}
        most={MOST}
        chosen={chosen}
        {...acts}
      />
    </QueryClientProvider>,
  );
  const ids = () =>
    acts.onChange.mock.lastCall?.[0].sheet.plates.map((plate: { id: string }) => plate.id);
  return { ...acts, ids };
}

const disc = (number: number) =>
  screen.getByRole("group", { name: "Inks, in the order they print" }).children[number - 1]!;

test("every plate is a disc of its ink, and the chosen one is marked", () => {
  const { onChoose } = discs(2, "plate-2");

  expect(disc(1).getAttribute("aria-pressed")).toBe("false");
  expect(disc(2).getAttribute("aria-pressed")).toBe("true");
  expect(disc(2).getAttribute("aria-label")).toContain("#b5381f");
  fireEvent.click(disc(1));
  expect(onChoose).toHaveBeenCalledWith("plate-1");
});

test("Alt with an arrow prints a plate earlier or later, an arrow alone does not", () => {
  const { onChange, ids } = discs(3);

  fireEvent.keyDown(disc(1), { key: "ArrowRight" });
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.keyDown(disc(1), { key: "ArrowRight", altKey: true });
  expect(ids()).toEqual(["plate-2", "plate-1", "plate-3"]);
  fireEvent.keyDown(disc(3), { key: "ArrowLeft", altKey: true });
  expect(ids()).toEqual(["plate-1", "plate-3", "plate-2"]);
});

test("a disc that is dropped on another takes its place", () => {
  const { ids } = discs(3);

  fireEvent.dragStart(disc(3));
  fireEvent.drop(disc(1));
  expect(ids()).toEqual(["plate-3", "plate-1", "plate-2"]);
});

test("the first plate cannot print earlier and the only one stays", () => {
  discs(1);

  const names = ["Print this plate earlier", "Print this plate later", "Remove this plate"];
  for (const name of names) {
    expect(screen.getByRole<HTMLButtonElement>("button", { name }).disabled).toBe(true);
  }
});

test("hiding, copying and removing say in words what they did", () => {
  const { onChange, ids } = discs(2, "plate-2");

  fireEvent.click(screen.getByRole("button", { name: "hide" }));
  expect(onChange.mock.lastCall?.[0].sheet.plates[1].shown).toBe(false);
  fireEvent.click(screen.getByRole("button", { name: "copy" }));
  expect(ids()).toHaveLength(3);
  fireEvent.click(screen.getByRole("button", { name: "Remove this plate" }));
  expect(ids()).toEqual(["plate-1"]);
  for (const [changed] of onChange.mock.calls) expect(changed.words).toContain("Red");
});

test("a full sheet takes no more plates", () => {
  discs(MOST);

  expect(screen.getByRole<HTMLButtonElement>("button", { name: "copy" }).disabled).toBe(true);
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Add a plate" }).disabled).toBe(
    true,
  );
});

test("a name is taken when the field is left, and only if it is another", () => {
  const { onChange } = discs(2, "plate-2");
  const field = screen.getByLabelText("Name of this plate");

  fireEvent.blur(field);
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.change(field, { target: { value: "  Rust  " } });
  fireEvent.blur(field);
  expect(onChange.mock.lastCall?.[0].sheet.plates[1].name).toBe("Rust");
});
