import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { cssPxPerMm, isCalibrated, keepCssPxPerMm } from "../shared/paperScale";
import { useZoom } from "./useZoom";
import { visibleRegion } from "./zoom";

const BED = { width: 800, height: 600 };
let tell: (entries: { contentRect: typeof BED }[]) => void;

beforeEach(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(told: typeof tell) {
        tell = told;
      }
      observe() {}
      disconnect() {}
    },
  );
  window.localStorage.clear();
});
afterEach(() => vi.unstubAllGlobals());

/** The hook over a bed of BED for a sheet of 3:2 that is exported at 3,000 pixels. */
function zoomOver(panes = 1) {
  const hook = renderHook(() => useZoom(1.5, 3000, panes));
  act(() => hook.result.current.setElement(document.createElement("main")));
  act(() => tell([{ contentRect: BED }]));
  return hook.result;
}

test("a sheet is laid whole on its bed, and on half of it beside another", () => {
  expect(zoomOver().current.area).toEqual(BED);
  const half = zoomOver(2).current;
  expect(half.area.width).toBe(400);
  expect(half.place.edge).toBeLessThanOrEqual(400);
  expect(half.isFit).toBe(true);
});

test("one to one shows export pixels, and fit shows the whole again", () => {
  const zoom = zoomOver();
  const whole = zoom.current.place.edge;

  act(() => zoom.current.oneToOne());
  expect(zoom.current.place.edge).toBe(3000);
  expect(zoom.current.isFit).toBe(false);
  act(() => zoom.current.fit());
  expect(zoom.current.place.edge).toBe(whole);
});

test("closer and farther undo each other, and farther than whole is whole", () => {
  const zoom = zoomOver();

  act(() => zoom.current.closer());
  act(() => zoom.current.closer());
  const near = zoom.current.place.edge;
  act(() => zoom.current.closer());
  act(() => zoom.current.farther());
  expect(zoom.current.place.edge).toBeCloseTo(near);
  for (let k = 0; k < 4; k += 1) act(() => zoom.current.farther());
  expect(zoom.current.isFit).toBe(true);
});

test("a part that is asked for comes to the middle", () => {
  const zoom = zoomOver();

  act(() => zoom.current.showRegion([0.4, 0.4, 0.6, 0.6]));
  const [left, top, right, bottom] = visibleRegion(zoom.current.place, BED, 1.5);
  expect((left + right) / 2).toBeCloseTo(0.5);
  expect((top + bottom) / 2).toBeCloseTo(0.5);
  expect(left).toBeLessThan(0.4);
  expect(right).toBeGreaterThan(0.6);
});

test("the size on paper may be smaller than the bed", () => {
  const zoom = zoomOver();

  act(() => zoom.current.showAt(120 * cssPxPerMm()));
  expect(zoom.current.place.edge).toBeCloseTo((120 * 96) / 25.4);
  expect(zoom.current.isFit).toBe(false);
});

test("a ruler held to the screen is remembered, and nonsense is not believed", () => {
  expect(isCalibrated()).toBe(false);
  keepCssPxPerMm(5.1);
  expect(isCalibrated()).toBe(true);
  expect(cssPxPerMm()).toBe(5.1);
  keepCssPxPerMm(900);
  expect(cssPxPerMm()).toBeCloseTo(96 / 25.4);
});
