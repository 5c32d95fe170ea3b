import { act, renderHook } from "@testing-library/react";
import { expect, test } from "vitest";
import { panelsOf, useSpotPanels } from "./useSpotPanels";

const area = { width: 1000, height: 700 };

test("panels lie below each other at the right, within the bed", () => {
  const panels = panelsOf(3, [], area);

  for (const panel of panels) {
    expect(panel.x).toBe(panels[0]!.x);
    expect(panel.x + panel.width).toBeLessThanOrEqual(area.width);
  }
  expect(panels[1]!.y).toBeGreaterThan(panels[0]!.y + panels[0]!.height);
});

test("one that is as high as the bed leaves the others beside it", () => {
  const [tall, small] = panelsOf(2, [{ isTall: true }, {}], area);

  expect(tall!.height).toBeGreaterThan(0.85 * area.height);
  expect(small!.x + small!.width).toBeLessThanOrEqual(tall!.x);
});

test.each([
  [{ x: -500, y: 4000 }],
  [{ width: 9000, height: 9000 }],
  [{ width: 2, height: 2 }],
  [{ isTall: true, width: 9000 }],
])("whatever is asked of a panel, it stays on the bed and can be seen: %j", (wish) => {
  const panel = panelsOf(1, [wish], area)[0]!;

  expect(panel.x).toBeGreaterThanOrEqual(0);
  expect(panel.y).toBeGreaterThanOrEqual(0);
  expect(panel.x + panel.width).toBeLessThanOrEqual(area.width);
  expect(panel.y + panel.height).toBeLessThanOrEqual(area.height);
  expect(Math.min(panel.width, panel.height)).toBeGreaterThan(50);
});

test("a spot that is taken away leaves the other panels as they were", () => {
  const { result, rerender } = renderHook(({ count }) => useSpotPanels(count, area), {
    initialProps: { count: 2 },
  });
  act(() => result.current.change(1, { x: 100, y: 50 }));

  act(() => result.current.forget(0));
  rerender({ count: 1 });

  expect(result.current.panels).toHaveLength(1);
  expect(result.current.panels[0]).toMatchObject({ x: 100, y: 50 });
});
