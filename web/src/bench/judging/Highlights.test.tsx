import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Spot } from "../../api/client";
import { Highlights } from "./Highlights";
import { fitted } from "../../live/zoom";
import { catalogueOf } from "../../sheet/catalogue.testing";
import { dialSpec } from "../../shared/dialSpec.testing";

afterEach(cleanup);

const dials = (...names: string[]) => names.map((name) => dialSpec(name, { label: `The ${name}` }));
const catalogue = catalogueOf({
  tone: [{ dials: dials("shadows") }],
  clean: [{ dials: dials("specks", "thicken") }],
});
const place = fitted({ width: 800, height: 600 }, 1.5);
const spot = { x: 0.5, y: 0.25, radius: 0.02 } as Spot;

function shown(more: Partial<Parameters<typeof Highlights>[0]> = {}) {
  const acts = { onJump: vi.fn(), onDial: vi.fn(), onOpen: vi.fn(), onLeave: vi.fn() };
  const { container } = render(
    <Highlights
      catalogue={catalogue}
      highlight="thin"
      place={place}
      aspect={1.5}
      spots={[]}
      isKnown
      lostMap={undefined}
      lostPlaces={[]}
      {...acts}
      {...more}
    />,
  );
  return { ...acts, container };
}

test("a figure's places are ringed where they lie on the sheet, large enough to be seen", () => {
  const { container } = shown({ spots: [spot, { ...spot, radius: 0.0001 }] });

  const [near, small] = [...container.querySelectorAll("circle")];
  expect(Number(near!.getAttribute("cx"))).toBeCloseTo(place.edge * 0.5);
  expect(Number(near!.getAttribute("cy"))).toBeCloseTo((place.edge / 1.5) * 0.25);
  expect(Number(near!.getAttribute("r"))).toBeCloseTo(Math.max(7, 0.02 * place.edge));
  expect(Number(small!.getAttribute("r"))).toBe(7);
});

test("a number goes to its place with some room round it", () => {
  const { onJump } = shown({ spots: [spot] });

  fireEvent.click(screen.getByRole("button", { name: "Go to place 1" }));

  const [left, top, right, bottom] = onJump.mock.lastCall![0];
  expect((left + right) / 2).toBeCloseTo(spot.x);
  expect((top + bottom) / 2).toBeCloseTo(spot.y);
  // Round on paper: on a sheet half as wide again it is less wide a share than high.
  expect((bottom - top) / (right - left)).toBeCloseTo(1.5);
});

test.each([
  ["thin", "clean", "thicken"],
  ["narrow", "clean", "thicken"],
  ["specks", "clean", "specks"],
  ["lost", "tone", "shadows"],
] as const)("%s leads to the dial that helps", (highlight, step, dial) => {
  const { onDial } = shown({ highlight });

  fireEvent.click(screen.getByRole("button", { name: `To the dial The ${dial}` }));

  expect(onDial).toHaveBeenCalledWith({ step, dial });
});

test("a sheet without faults says so, and at most six places are offered", () => {
  shown({ isKnown: false });
  expect(screen.getByText("Being looked for…")).toBeTruthy();
  cleanup();
  shown();
  expect(screen.getByText("None on this sheet.")).toBeTruthy();
  cleanup();

  const { onLeave } = shown({ spots: Array.from({ length: 40 }, () => spot) });
  expect(screen.getAllByRole("button", { name: /Go to place/ })).toHaveLength(6);
  fireEvent.click(screen.getByRole("button", { name: "Done" }));
  expect(onLeave).toHaveBeenCalled();
});

test("lost detail is tinted over the sheet and leads to its worst places", () => {
  const { container, onJump } = shown({
    highlight: "lost",
    lostMap: "/lost.png",
    lostPlaces: [[0.1, 0.2, 0.3, 0.4]],
  });

  const map = container.querySelector<HTMLImageElement>("img.lost-map")!;
  expect(map.style.left).toBe(`${place.x}px`);
  fireEvent.click(screen.getByRole("button", { name: "Go to place 1" }));
  expect(onJump).toHaveBeenCalledWith([0.1, 0.2, 0.3, 0.4]);
});

test("the place of lost detail that was gone to can be opened", () => {
  const lostPlaces: [number, number, number, number][] = [
    [0.1, 0.2, 0.3, 0.4],
    [0.5, 0.5, 0.7, 0.9],
  ];
  const { onOpen } = shown({ highlight: "lost", lostPlaces });

  fireEvent.click(screen.getByRole("button", { name: "Go to place 2" }));
  fireEvent.click(screen.getByRole("button", { name: "Open place 2" }));

  const [x, y] = onOpen.mock.lastCall!;
  expect([x, y]).toEqual([expect.closeTo(0.6), expect.closeTo(0.7)]);
});
