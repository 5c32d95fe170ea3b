import { cleanup, renderHook } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import type { Plate, WatchSpot } from "../../api/client";
import { catalogueOf } from "../../sheet/catalogue.testing";
import { panelsOf } from "./useSpotPanels";
import { runOf } from "../../sheet/stages";
import { useViews } from "./useViews";
import { fitted } from "../../live/zoom";

afterEach(cleanup);

const area = { width: 800, height: 600 };
const plate = { id: "plate-1", again: { kind: "none" } } as unknown as Plate;
const spot = { left: 0.2, top: 0.2, right: 0.4, bottom: 0.4 } as WatchSpot;
const catalogue = catalogueOf({ draw: [{ name: "pencil" }, { name: "stipple" }] });

function viewsOf(more: Partial<Parameters<typeof useViews>[0]> = {}) {
  const wanted = {
    plate,
    spots: [],
    panels: panelsOf(2, [], area),
    catalogue,
    step: "tone" as const,
    hasLooks: false,
    shown: "sheet" as const,
    place: fitted(area, 1.5),
    area,
    aspect: 1.5,
    exportEdge: 2400,
    instead: null,
    traced: "",
    ...more,
  };
  return renderHook(() => useViews(wanted)).result.current;
}

test("the picture looked at comes first, then one of each stage of the run", () => {
  const { views } = viewsOf();

  const steps = runOf(catalogue, plate).map((step) => `run-${step.name}`);
  expect(views.map((view) => view.id)).toEqual(["main", ...steps]);
  expect(views[0]).toMatchObject({ what: "sheet", region: [0, 0, 1, 1], exact: false });
});

test("watch spots follow every move and stand before the run", () => {
  const { views } = viewsOf({ spots: [spot, { ...spot, left: 0.3 }] });

  expect(views.slice(1, 3).map((view) => [view.id, view.follows])).toEqual([
    ["watch-0", true],
    ["watch-1", true],
  ]);
  expect(views.filter((view) => view.follows)).toHaveLength(2);
  // A spot is asked for as large as its panel shows it.
  expect(views[1]!.long_edge_px).toBeGreaterThan(views[0]!.long_edge_px / 2);
});

test("a small drawing of each look is asked for only where it is wanted", () => {
  const looks = (hasLooks: boolean) =>
    viewsOf({ step: "draw", hasLooks }).views.flatMap((view) => (view.look ? [view.look] : []));

  expect(looks(false)).toEqual([]);
  expect(looks(true)).toEqual(["pencil", "stipple"]);
});

test("zoomed in, a part is looked at and the whole follows", () => {
  const place = { edge: 3000, x: 0.5, y: 0.5 } as ReturnType<typeof fitted>;
  const { main, views } = viewsOf({ place });

  const [left, top, right, bottom] = main.region;
  expect(right - left).toBeLessThan(0.5);
  expect(bottom - top).toBeLessThan(0.5);
  expect(views.find((view) => view.id === "whole")?.region).toEqual([0, 0, 1, 1]);
});

test("at the pixels of the export the picture is exact", () => {
  const place = { ...fitted(area, 1.5), edge: 2400 };

  expect(viewsOf({ place }).main.exact).toBe(true);
});

test("a stage shown large is asked for by its name; the photo is the photo", () => {
  expect(viewsOf({ shown: "stage", step: "clean" }).main).toMatchObject({
    what: "stage",
    stage: "clean",
    plate: "plate-1",
  });
  expect(viewsOf({ shown: "stage", step: "photo" }).main.what).toBe("photo");
});

test("nothing is asked for before there is a plate and room to show it", () => {
  expect(viewsOf({ plate: undefined }).views).toEqual([]);
  expect(viewsOf({ area: { width: 0, height: 0 } }).views).toEqual([]);
});

test("changed shapes are drawn wherever the sheet is, and nowhere else", () => {
  const { views } = viewsOf({ traced: "key", spots: [spot], step: "draw" });

  const drawn = views.filter((view) => view.traced === "key").map((view) => view.id);
  expect(drawn).toEqual(views.filter((view) => view.what === "sheet").map((view) => view.id));
  expect(drawn).toContain("watch-0");
  expect(viewsOf({ traced: "key", shown: "stage" }).main.traced).toBe("");
});
