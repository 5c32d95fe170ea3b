import { expect, test } from "vitest";
import type { PullRecord, Sheet } from "../../api/client";
import { againstKey, choices, sheetOf, viewAgainst } from "./compare";
import { viewOf, WHOLE } from "../../live/views";
import { catalogueOf } from "../../sheet/catalogue.testing";

const sheet = {
  title: "Now",
  crop: { left: 0, top: 0, right: 1, bottom: 1, quarter_turns: 0 },
  plates: [
    { id: "plate-1", name: "black", again: { kind: "none" } },
    { id: "plate-2", name: "", again: { kind: "median" } },
  ],
} as unknown as Sheet;
const pulls = [
  { id: 7, name: "Lighter", sheet: { ...sheet, title: "Then" } },
] as unknown as PullRecord[];

test("a sheet is compared with the photo, its pulls, and each stage of each plate", () => {
  const list = choices(catalogueOf(), sheet, pulls);

  expect(list.map(([key]) => key)).toEqual([
    "photo",
    "pull 7",
    ...["tone", "smooth", "draw", "clean", "ink"].map((stage) => `stage plate-1 ${stage}`),
    ...["tone", "smooth", "again", "draw", "clean", "ink"].map((stage) => `stage plate-2 ${stage}`),
  ]);
  for (const [key, words, against] of list) {
    expect(againstKey(against)).toBe(key);
    expect(words.length).toBeGreaterThan(5);
  }
});

test("a pull is drawn from its own document; one that is gone from the present one", () => {
  expect(sheetOf({ kind: "pull", id: 7 }, sheet, pulls).title).toBe("Then");
  expect(sheetOf({ kind: "pull", id: 8 }, sheet, pulls).title).toBe("Now");
  expect(sheetOf({ kind: "photo" }, sheet, pulls).title).toBe("Now");
});

test("what is compared shows the same part at the same size", () => {
  const main = viewOf("main", 1234.4, { region: [0.1, 0.2, 0.5, 0.6], exact: true });

  expect(viewAgainst({ kind: "photo" }, main)).toBeNull();
  const pull = viewAgainst({ kind: "pull", id: 7 }, main)!;
  expect(pull).toMatchObject({ long_edge_px: 1234, region: main.region, what: "sheet" });
  const stage = viewAgainst({ kind: "stage", plate: "plate-2", stage: "smooth" }, main)!;
  expect(stage).toMatchObject({ what: "stage", plate: "plate-2", stage: "smooth", exact: true });
});

test("a view is of the whole sheet unless told otherwise, and never without pixels", () => {
  expect(viewOf("main", 0.2)).toMatchObject({ id: "main", long_edge_px: 1, region: WHOLE });
});
