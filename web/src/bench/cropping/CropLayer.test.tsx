import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { CropLayer } from "./CropLayer";
import type { Cropping } from "./useCropping";

afterEach(cleanup);

const bounds = { left: 0.2, top: 0.2, right: 0.8, bottom: 0.8 };

function shown(more: Partial<Cropping> = {}) {
  const acts = { setBounds: vi.fn(), take: vi.fn(), level: vi.fn() };
  const cropping = { bounds, ratio: null, isLevelling: false, ...acts, ...more };
  const place = { edge: 400, x: 0, y: 0 };
  const { container } = render(
    <CropLayer cropping={cropping as unknown as Cropping} place={place} aspect={2} />,
  );
  const layer = container.firstElementChild as HTMLElement;
  layer.setPointerCapture = () => {};
  return { ...acts, layer };
}

test("the frame is moved and its edges are set by keys; Enter takes the part", () => {
  const { setBounds, take } = shown();
  const frame = screen.getByRole("group");

  fireEvent.keyDown(frame, { key: "ArrowRight", shiftKey: true });
  expect(setBounds.mock.lastCall![0].left).toBeCloseTo(0.25);
  fireEvent.keyDown(screen.getByRole("button", { name: "Top edge" }), { key: "ArrowDown" });
  expect(setBounds.mock.lastCall![0]).toMatchObject({ left: 0.2, top: expect.closeTo(0.205) });
  fireEvent.keyDown(frame, { key: "Enter" });
  expect(take).toHaveBeenCalledOnce();
});

test("a handle is dragged, and the photo is moved under the frame", () => {
  const { setBounds, layer } = shown();

  const corner = screen.getByRole("button", { name: "Bottom right corner" });
  fireEvent.pointerDown(corner, { button: 0, clientX: 320, clientY: 160 });
  fireEvent.pointerMove(layer, { clientX: 360, clientY: 180 });
  expect(setBounds.mock.lastCall![0]).toMatchObject({
    left: 0.2,
    right: expect.closeTo(0.9),
    bottom: expect.closeTo(0.9),
  });
  fireEvent.pointerUp(layer, { clientX: 360, clientY: 180 });
  fireEvent.pointerDown(screen.getByRole("group"), { button: 0, clientX: 200, clientY: 100 });
  fireEvent.pointerMove(layer, { clientX: 160, clientY: 100 });
  expect(setBounds.mock.lastCall![0].left).toBeCloseTo(0.1);
});

test("a line drawn along what should be level straightens", () => {
  const { level, layer } = shown({ isLevelling: true });

  fireEvent.pointerDown(layer, { button: 0, clientX: 50, clientY: 50 });
  fireEvent.pointerUp(layer, { clientX: 250, clientY: 60 });

  expect(level).toHaveBeenCalledWith(200, 10);
});
