import type { Plate, Sheet } from "../api/client";

/** A sheet after a change of its plates, which plate is chosen then, and the words for the step. */
export interface Changed {
  sheet: Sheet;
  chosen: string;
  words: string;
}

/** What a plate is called: its own name, or its place in print order. */
export function plateLabel(sheet: Sheet, id: string): string {
  const place = sheet.plates.findIndex((plate) => plate.id === id);
  return sheet.plates[place]?.name || `Plate ${place + 1}`;
}

/** The sheet with one plate changed. */
export function withPlate(sheet: Sheet, id: string, change: (plate: Plate) => Plate): Sheet {
  return { ...sheet, plates: sheet.plates.map((each) => (each.id === id ? change(each) : each)) };
}

/** A plate whose stage is its own from now on, where it kept in step with another's. */
export function asOwn(plate: Plate, stage: string): Plate {
  const name = stage === "lines" ? "photo" : (stage as Plate["own"][number]);
  if (!plate.follows || stage === "ink" || plate.own.includes(name)) return plate;
  return { ...plate, own: [...plate.own, name] };
}

/** Plates printed after all others. */
export function withPlates(sheet: Sheet, added: Plate[], what: string): Changed {
  const plates = [...sheet.plates];
  for (const plate of added) plates.push({ ...plate, id: freeId(plates) });
  const chosen = plates.at(-1)?.id ?? "";
  return { sheet: { ...sheet, plates }, chosen, words: `Plates: add ${what}` };
}

/** A copy of a plate, printed right after it. */
export function withCopy(sheet: Sheet, id: string): Changed {
  const place = placeOf(sheet, id);
  const plate = sheet.plates[place]!;
  const copy = { ...plate, id: freeId(sheet.plates), name: plate.name && `${plate.name}, copy` };
  const plates = sheet.plates.toSpliced(place + 1, 0, copy);
  const words = `Plates: copy ${plateLabel(sheet, id)}`;
  return { sheet: { ...sheet, plates }, chosen: copy.id, words };
}

/** A plate moved to another place in print order. */
export function moved(sheet: Sheet, id: string, to: number): Changed | null {
  const from = placeOf(sheet, id);
  const goal = Math.min(sheet.plates.length - 1, Math.max(0, to));
  if (goal === from) return null;
  const plates = sheet.plates.toSpliced(from, 1).toSpliced(goal, 0, sheet.plates[from]!);
  const words = `Plates: print ${plateLabel(sheet, id)} as number ${goal + 1}`;
  return { sheet: { ...sheet, plates }, chosen: id, words };
}

/** A sheet without a plate; the last one stays. */
export function withoutPlate(sheet: Sheet, id: string): Changed | null {
  if (sheet.plates.length < 2) return null;
  const place = placeOf(sheet, id);
  const plates = sheet.plates
    .toSpliced(place, 1)
    .map((each) => (each.follows === id ? { ...each, follows: "", own: [] } : each));
  const chosen = plates[Math.min(place, plates.length - 1)]!.id;
  const words = `Plates: remove ${plateLabel(sheet, id)}`;
  return { sheet: { ...sheet, plates }, chosen, words };
}

/** A plate hidden, or shown again. */
export function withShown(sheet: Sheet, id: string, shown: boolean): Changed {
  const words = `Plates: ${shown ? "show" : "hide"} ${plateLabel(sheet, id)}`;
  return { sheet: withPlate(sheet, id, (each) => ({ ...each, shown })), chosen: id, words };
}

/** A plate by another name. */
export function withName(sheet: Sheet, id: string, name: string): Changed {
  const words = `Plates: name ${name || "taken away"}`;
  return { sheet: withPlate(sheet, id, (each) => ({ ...each, name })), chosen: id, words };
}

/** A plate that keeps in step with another from now on, in all stages; "" lets it stand alone. */
export function withFollowing(sheet: Sheet, id: string, ahead: string): Changed {
  const changed = withPlate(sheet, id, (each) => ({ ...each, follows: ahead, own: [] }));
  const words = ahead
    ? `Plates: ${plateLabel(sheet, id)} in step with ${plateLabel(sheet, ahead)}`
    : `Plates: ${plateLabel(sheet, id)} stands alone`;
  return { sheet: changed, chosen: id, words };
}

/** A plate gathered in a set of some name; "" takes it out. */
export function withGathered(sheet: Sheet, id: string, name: string): Changed {
  const words = `Plates: ${plateLabel(sheet, id)} in ${name ? `the set ${name}` : "no set"}`;
  return {
    sheet: withPlate(sheet, id, (each) => ({ ...each, gathered: name })),
    chosen: id,
    words,
  };
}

/** All plates of a plate's set changed alike. */
function withSet(sheet: Sheet, plate: Plate, change: (each: Plate) => Plate): Sheet {
  const plates = sheet.plates.map((each) =>
    each.gathered === plate.gathered ? change(each) : each,
  );
  return { ...sheet, plates };
}

/** A set hidden, or shown again. */
export function withSetShown(sheet: Sheet, plate: Plate, shown: boolean): Changed {
  const words = `Plates: ${shown ? "show" : "hide"} the set ${plate.gathered}`;
  return {
    sheet: withSet(sheet, plate, (each) => ({ ...each, shown })),
    chosen: plate.id,
    words,
  };
}

/** A set printed so many times as strongly. */
export function withSetWeight(sheet: Sheet, plate: Plate, times: number): Changed {
  const changed = withSet(sheet, plate, (each) => {
    const opacity = Number(Math.min(1, each.ink.opacity * times).toFixed(2));
    return { ...each, ink: { ...each.ink, opacity } };
  });
  const words = `Plates: the set ${plate.gathered} ${times < 1 ? "weaker" : "stronger"}`;
  return { sheet: changed, chosen: plate.id, words };
}

function placeOf(sheet: Sheet, id: string): number {
  return sheet.plates.findIndex((plate) => plate.id === id);
}

function freeId(plates: Plate[]): string {
  let number = plates.length + 1;
  while (plates.some((plate) => plate.id === `plate-${number}`)) number += 1;
  return `plate-${number}`;
}
