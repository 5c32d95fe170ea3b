import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Sheet, WatchSpot } from "../../api/client";
import { Pictures } from "../../live/pictures";
import { panelsOf } from "./useSpotPanels";
import { WatchSpots } from "./WatchSpots";
import { fitted } from "../../live/zoom";

afterEach(cleanup);

const eye = { name: "eye", left: 0.4, top: 0.3, right: 0.5, bottom: 0.4, is_eye: false };
const hat = { name: "", left: 0.1, top: 0.1, right: 0.3, bottom: 0.2, is_eye: false };

const area = { width: 800, height: 600 };

function spots(offersEyes = false) {
  const [change, forget] = [vi.fn(), vi.fn()];
  const onChange = vi.fn<(sheet: Sheet, words: string, gesture: string) => void>();
  render(
    <WatchSpots
      sheet={{ watch: [eye, hat] } as unknown as Sheet}
      place={fitted(area, 1)}
      aspect={1}
      pictures={new Pictures()}
      offersEyes={offersEyes}
      panels={{ panels: panelsOf(2, [], area), change, forget }}
      onChange={onChange}
    />,
  );
  const changed = (): WatchSpot[] => onChange.mock.lastCall![0].watch;
  return { onChange, changed, change, forget };
}

const panel = (name: string) => screen.getByRole("region", { name: new RegExp(`^${name}`) });

test("every spot says its name, how much larger it is, and the keys that move it", () => {
  spots();

  expect(panel("Watch spot eye").textContent).toContain("2.4×");
  expect(panel("Watch spot 2").getAttribute("aria-label")).toContain("Arrows move it");
});

test.each([
  ["ArrowLeft", { left: 0.39, right: 0.49 }],
  ["ArrowRight", { left: 0.41, right: 0.51 }],
  ["ArrowUp", { top: 0.29, bottom: 0.39 }],
  ["ArrowDown", { top: 0.31, bottom: 0.41 }],
])("%s moves a spot a little, with Shift four times as far", (key, moved) => {
  const { changed } = spots();

  fireEvent.keyDown(panel("Watch spot eye"), { key });
  for (const [side, value] of Object.entries(moved)) {
    expect(changed()[0]![side as keyof typeof eye]).toBeCloseTo(value);
  }
  fireEvent.keyDown(panel("Watch spot eye"), { key, shiftKey: true });
  for (const [side, value] of Object.entries(moved)) {
    const start = eye[side as keyof typeof eye] as number;
    expect(changed()[0]![side as keyof typeof eye]).toBeCloseTo(start + 4 * (value - start));
  }
  expect(changed()[1]).toEqual(hat);
});

test("plus looks closer and minus farther, about the middle", () => {
  const { changed } = spots();
  const wide = () => changed()[0]!.right - changed()[0]!.left;

  fireEvent.keyDown(panel("Watch spot eye"), { key: "+" });
  expect(wide()).toBeCloseTo(0.085);
  fireEvent.keyDown(panel("Watch spot eye"), { key: "-" });
  expect(wide()).toBeCloseTo(0.1 / 0.85);
  expect(changed()[0]!.left + changed()[0]!.right).toBeCloseTo(0.9);
});

test("Delete takes a spot away, and so does its button; typing in its name does not", () => {
  const { onChange, changed } = spots();

  fireEvent.keyDown(screen.getByLabelText("Name of watch spot 1"), { key: "Delete" });
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.keyDown(panel("Watch spot eye"), { key: "Delete" });
  expect(changed()).toEqual([hat]);
  fireEvent.click(screen.getByRole("button", { name: "Take watch spot 2 away" }));
  expect(changed()).toEqual([eye]);
});

test("the whites of eyes are asked about only where a look can use them", () => {
  spots();
  expect(screen.queryByLabelText("whites stay white")).toBeNull();
  cleanup();

  const { changed } = spots(true);
  fireEvent.click(screen.getAllByLabelText("whites stay white")[0]!);
  expect(changed().map((spot) => spot.is_eye)).toEqual([true, false]);
});

test("a name is kept without the space round it", () => {
  const { onChange, changed } = spots();
  const field = screen.getByLabelText("Name of watch spot 2");

  fireEvent.blur(field);
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.change(field, { target: { value: " hat band " } });
  fireEvent.blur(field);
  expect(changed()[1]!.name).toBe("hat band");
  expect(onChange.mock.lastCall![1]).toBe("Watch spot: name hat band");
});

test("with Alt the keys move and size the panel, and the spot stays", () => {
  const { onChange, change } = spots();
  const { x, y, width } = panelsOf(2, [], area)[0]!;

  fireEvent.keyDown(panel("Watch spot eye"), { key: "ArrowLeft", altKey: true });
  expect(change.mock.lastCall).toEqual([0, { x: x - 16 }]);
  fireEvent.keyDown(panel("Watch spot eye"), { key: "ArrowDown", altKey: true });
  expect(change.mock.lastCall).toEqual([0, { y: y + 16 }]);
  fireEvent.keyDown(panel("Watch spot eye"), { key: "+", altKey: true });
  expect(change.mock.lastCall![1].width).toBeCloseTo(width * 1.2);
  expect(onChange).not.toHaveBeenCalled();
});

test("a button makes a panel as high as the bed, and a spot takes its panel with it", () => {
  const { change, forget } = spots();

  fireEvent.click(screen.getByRole("button", { name: "Watch spot eye as high as the bed" }));
  expect(change.mock.lastCall![1]).toMatchObject({ isTall: true });
  fireEvent.click(screen.getByRole("button", { name: "Take watch spot eye away" }));
  expect(forget).toHaveBeenCalledWith(0);
});
