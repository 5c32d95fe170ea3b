import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { DrawnImage } from "./DrawnImage";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const address = () => screen.getByRole("img").getAttribute("src");

test("a picture that does not come is bare until it is asked for again, less and less often", () => {
  render(<DrawnImage src="/picture?mark=1" alt="A drawing" />);
  expect(address()).toBe("/picture?mark=1");

  fireEvent.error(screen.getByRole("img"));
  expect(address()).toBeNull();
  act(() => vi.advanceTimersByTime(1500));
  expect(address()).toBe("/picture?mark=1&try=1");

  fireEvent.error(screen.getByRole("img"));
  act(() => vi.advanceTimersByTime(1500));
  expect(address()).toBeNull();
  act(() => vi.advanceTimersByTime(1500));
  expect(address()).toBe("/picture?mark=1&try=2");
});

test("one that comes is left alone", () => {
  render(<DrawnImage src="/picture" alt="A drawing" />);

  act(() => vi.advanceTimersByTime(60_000));

  expect(address()).toBe("/picture");
});

test("a picture that is taken off the page is waited for no longer", () => {
  const { unmount } = render(<DrawnImage src="/picture?long_edge_px=320" alt="Badge" />);
  const image = screen.getByAltText("Badge");

  unmount();

  expect(image.hasAttribute("src")).toBe(false);
});
