import { expect, test } from "vitest";
import type { EditionCard, PhotoRecord, SheetRecord } from "../api/client";
import { catalogueOf } from "../sheet/catalogue.testing";
import { editionsFound, looksOf, photosFound, sheetsFound } from "./finding";

const photos = [
  { title: "Snail", caption: "After rain, by the water butt" },
  { title: "Barnaby", caption: "The scarecrow" },
] as unknown as PhotoRecord[];
const catalogue = catalogueOf({ draw: [{ name: "ink-line", label: "Ink line" }] });
const sheets = ["Poster", "Badge"].map(
  (title) =>
    ({ sheet: { title, plates: [{ draw: { look: "ink-line" } }] } }) as unknown as SheetRecord,
);

test("photos are found by every word of title and caption, and ordered by name on request", () => {
  const titles = (typed: string, order: "new" | "name" = "new") =>
    photosFound(photos, typed, order).map((photo) => photo.title);

  expect(titles("")).toEqual(["Snail", "Barnaby"]);
  expect(titles("", "name")).toEqual(["Barnaby", "Snail"]);
  expect(titles("WATER snail")).toEqual(["Snail"]);
  expect(titles("water scarecrow")).toEqual([]);
});

test("sheets are found by their looks in words", () => {
  expect(sheetsFound(sheets, "ink line", "name", catalogue)).toEqual([sheets[1], sheets[0]]);
  expect(sheetsFound(sheets, "ink-line", "new", catalogue)).toEqual([]);
});

test("editions are found by their title", () => {
  const editions = [{ title: "Packets" }, { title: "Members" }] as EditionCard[];

  expect(editionsFound(editions, "pack", "new")).toEqual([editions[0]]);
  expect(editionsFound(editions, "", "name")).toEqual([editions[1], editions[0]]);
});

test("a sheet of many plates tells each look once, and the first few", () => {
  const plates = ["ink-line", "a", "ink-line", "b", "c"].map((look) => ({ draw: { look } }));
  const record = { sheet: { title: "", plates } } as unknown as SheetRecord;

  expect(looksOf(record, catalogue)).toBe("Ink line over a over b");
});
