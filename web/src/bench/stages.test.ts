import { expect, test } from "vitest";
import type { Plate, Sheet } from "../api/client";
import { withSettings } from "./stages";

const plate = {
  id: "one",
  draw: { look: "threshold", level: 0.4, edge: 0 },
  fitted: ["draw.level", "tone.black"],
} as unknown as Plate;
const sheet = { plates: [plate, { ...plate, id: "two" }], paper: {} } as unknown as Sheet;

test("turning a dial lets go of its suggestion and leaves other plates alone", () => {
  const changed = withSettings(sheet, "one", "draw", { look: "threshold", level: 0.5, edge: 0 });

  expect(changed.plates[0]?.fitted).toEqual(["tone.black"]);
  expect(changed.plates[1]).toBe(sheet.plates[1]);
});

test("a value that is taken as suggested is remembered so", () => {
  const settings = { look: "threshold", level: 0.5, edge: 0 };
  const changed = withSettings(sheet, "one", "draw", settings, ["draw.level"]);

  expect(changed.plates[0]?.fitted).toEqual(["tone.black", "draw.level"]);
});

test("paper belongs to the sheet", () => {
  expect(withSettings(sheet, "one", "paper", { long_edge: 90 }).paper).toEqual({ long_edge: 90 });
});
