import { act, cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import type { Answer } from "../../api/client";
import { LiveSheet } from "./LiveSheet";
import { type Picture, Pictures } from "../../live/pictures";
import { fitted } from "../../live/zoom";

afterEach(cleanup);

const area = { width: 800, height: 600 };

function shown(last?: string) {
  const pictures = new Pictures();
  const place = fitted(area, 1.5);
  const { container } = render(
    <LiveSheet
      pictures={pictures}
      photo={undefined}
      area={area}
      place={place}
      aspect={1.5}
      label="Drawing: Barnaby"
      last={last}
    />,
  );
  return { pictures, container, place };
}

function drawn(pictures: Pictures) {
  const answer = { view: "main", ask: 1, draft: true } as unknown as Answer;
  const canvas = document.createElement("canvas");
  act(() => pictures.put({ canvas, left: 0, top: 0, right: 1, bottom: 1, answer } as Picture));
}

test("the last picture lies where the drawing will, and goes when that is there", () => {
  const { pictures, container, place } = shown("/last.png");
  const last = container.querySelector<HTMLImageElement>("img.bed-last")!;
  expect(last.getAttribute("src")).toBe("/last.png");
  expect([last.style.left, last.style.top]).toEqual([`${place.x}px`, `${place.y}px`]);
  expect(last.style.width).toBe(`${place.edge}px`);

  drawn(pictures);
  expect(container.querySelector("img.bed-last")).toBeNull();
});

test("a sheet without a last picture says that it is being drawn", () => {
  const { pictures } = shown();
  expect(screen.getByText("Drawing…")).toBeTruthy();

  drawn(pictures);
  expect(screen.queryByText("Drawing…")).toBeNull();
  expect(screen.getByRole("img", { name: "Drawing: Barnaby" })).toBeTruthy();
});
