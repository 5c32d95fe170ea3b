import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { cssPxPerMm, isCalibrated, keepCssPxPerMm } from "../../shared/paperScale";
import { RulerDialog } from "./RulerDialog";

beforeEach(() => window.localStorage.clear());
afterEach(cleanup);

test("a screen that was never measured has ninety-six pixels an inch", () => {
  expect(isCalibrated()).toBe(false);
  expect(cssPxPerMm()).toBeCloseTo(96 / 25.4);
});

test("what is stored is used, unless no screen can be like that", () => {
  keepCssPxPerMm(4.5);
  expect(isCalibrated()).toBe(true);
  expect(cssPxPerMm()).toBe(4.5);
  keepCssPxPerMm(900);
  expect(cssPxPerMm()).toBeCloseTo(96 / 25.4);
});

test("the bar follows the dial and its length is kept when it is said to fit", () => {
  const onDone = vi.fn();
  render(<RulerDialog show onDone={onDone} onLeave={() => {}} />);

  fireEvent.change(screen.getByLabelText("Length of the bar"), { target: { value: "5" } });
  expect(document.querySelector<HTMLElement>(".ruler-bar")?.style.width).toBe("428px");
  fireEvent.click(screen.getByText("The bar is as long"));

  expect(onDone).toHaveBeenCalledOnce();
  expect(cssPxPerMm()).toBe(5);
});

test("leaving changes nothing", () => {
  const onLeave = vi.fn();
  render(<RulerDialog show onDone={() => {}} onLeave={onLeave} />);

  fireEvent.change(screen.getByLabelText("Length of the bar"), { target: { value: "6" } });
  fireEvent.click(screen.getByText("Leave as it was"));

  expect(onLeave).toHaveBeenCalledOnce();
  expect(isCalibrated()).toBe(false);
});
