import { expect, test } from "vitest";
import type { Plate, Sheet } from "../api/client";
import {
  asOwn,
  moved,
  plateLabel,
  withCopy,
  withName,
  withoutPlate,
  withPlates,
  withShown,
} from "./plates";

function sheet(...ids: string[]): Sheet {
  const plates = ids.map((id) => ({ id, name: "", shown: true, fitted: [] }));
  return { plates } as unknown as Sheet;
}

const ids = (changed: { sheet: Sheet } | null) => changed?.sheet.plates.map((plate) => plate.id);

test("a new plate prints last, under an id of its own, and is chosen", () => {
  const added = withPlates(sheet("plate-1", "plate-3"), [{ id: "plate-1" } as Plate], "Stipple");

  expect(ids(added)).toEqual(["plate-1", "plate-3", "plate-4"]);
  expect(added.chosen).toBe("plate-4");
  expect(added.words).toBe("Plates: add Stipple");
});

test("a copy prints right after its plate", () => {
  const copied = withCopy(sheet("plate-1", "plate-2"), "plate-1");

  expect(ids(copied)).toEqual(["plate-1", "plate-3", "plate-2"]);
  expect(copied.chosen).toBe("plate-3");
});

test("plates change places, but not beyond the ends", () => {
  const three = sheet("a", "b", "c");

  expect(ids(moved(three, "a", 2))).toEqual(["b", "c", "a"]);
  expect(ids(moved(three, "c", 0))).toEqual(["c", "a", "b"]);
  expect(moved(three, "a", -1)).toBeNull();
  expect(moved(three, "c", 3)).toBeNull();
});

test("removing chooses the plate beside; the last one stays", () => {
  const removed = withoutPlate(sheet("a", "b"), "b");

  expect(ids(removed)).toEqual(["a"]);
  expect(removed?.chosen).toBe("a");
  expect(withoutPlate(sheet("a"), "a")).toBeNull();
});

test("hiding and naming keep everything else", () => {
  const hidden = withShown(sheet("a", "b"), "b", false);
  expect(hidden.sheet.plates.map((plate) => plate.shown)).toEqual([true, false]);
  expect(hidden.words).toBe("Plates: hide Plate 2");

  const named = withName(hidden.sheet, "b", "red");
  expect(plateLabel(named.sheet, "b")).toBe("red");
  expect(named.sheet.plates[1]!.shown).toBe(false);
});

test("what is done to a stage in step with another plate's makes it the plate's own, once", () => {
  const plate = { follows: "plate-2", own: ["tone"] } as unknown as Plate;

  expect(asOwn(plate, "draw").own).toEqual(["tone", "draw"]);
  expect(asOwn(plate, "tone")).toBe(plate);
  // Lines that it is drawn from go with the photo; its ink is its own in any case.
  expect(asOwn(plate, "lines").own).toEqual(["tone", "photo"]);
  expect(asOwn(plate, "ink")).toBe(plate);
  expect(asOwn({ ...plate, follows: "" }, "draw").own).toEqual(["tone"]);
});
