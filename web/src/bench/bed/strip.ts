import type { Catalogue, DialSpec } from "../../api/client";
import { valueInWords } from "../../shared/numbers";
import type { Settings, Step } from "../../sheet/stages";

/** What a test strip is of: the values of a dial, or settings that are named one by one. */
export interface StripOf {
  title: string;
  step: Step;
  /** A dial with a track; its values are spread over it. */
  dial?: DialSpec;
  /** Settings to be tried besides, in words. */
  tries?: Try[];
}

/** Settings to be tried, by "step.name". */
export interface Try {
  words: string;
  values: Settings;
}

/** The strip of any dial that has values to choose from; null for those that have none. */
export function stripOf(catalogue: Catalogue, step: Step, dial: DialSpec): StripOf | null {
  const path = `${step}.${dial.name}`;
  const of = { title: dial.label, step };
  switch (dial.kind) {
    case "dial":
      return { ...of, dial };
    case "choice":
      return { ...of, tries: dial.options.map(({ name, label }) => one(path, name, label)) };
    case "colour": {
      const { inks, papers, cloths } = catalogue.colours;
      const pots = step === "paper" ? [...papers, ...cloths] : inks;
      return { ...of, tries: pots.map(({ name, colour }) => one(path, colour, name)) };
    }
    default:
      return null;
  }
}

function one(path: string, value: string, words: string): Try {
  return { words, values: { [path]: value } };
}

/** Pairs of inks: as darks and lights of one plate, or as its ink on a paper. */
export function stripOfPairs(catalogue: Catalogue, on: "lights" | "paper"): StripOf {
  const tries = catalogue.colours.pairs.map(({ name, dark, light }) => ({
    words: name,
    values:
      on === "lights"
        ? { "ink.colouring": "two-colour", "ink.colour": dark, "ink.lights": light }
        : { "ink.colouring": "single", "ink.colour": dark, "paper.colour": light },
  }));
  return { title: on === "lights" ? "Darks and lights" : "Ink and paper", step: "ink", tries };
}

/** One cell of a strip. */
export interface Cell extends Try {
  id: string;
}

/** The cells of a strip, and how many columns two dials make; 0 where there is one. */
export function cellsOf(
  of: StripOf,
  second: DialSpec | undefined,
  settings: Settings,
  count: number,
  isNear: boolean,
): { cells: Cell[]; columns: number } {
  const { dial, step } = of;
  if (!dial) {
    const cells = (of.tries ?? []).map((each, k) => ({ ...each, id: `cell-${k}` }));
    return { cells, columns: 0 };
  }
  const tried = (spec: DialSpec, side: number) =>
    stripValues(spec, Number(settings[spec.name]), side, isNear).map((value) => ({
      words: `${spec.label.toLowerCase()} ${valueInWords(spec, value, settings)}`,
      values: { [`${step}.${spec.name}`]: value },
    }));
  if (!second) {
    const cells = tried(dial, count).map((each, k) => ({ ...each, id: `cell-${k}` }));
    return { cells, columns: 0 };
  }
  const firsts = tried(dial, GRID_SIDE);
  const cells = tried(second, GRID_SIDE).flatMap((other, row) =>
    firsts.map((each, column) => ({
      id: `cell-${row}-${column}`,
      words: `${each.words}, ${other.words}`,
      values: { ...each.values, ...other.values },
    })),
  );
  return { cells, columns: firsts.length };
}

/** Which cell is as the sheet is now; of values on a track the nearest. -1 for none. */
export function presentCell(of: StripOf, cells: Cell[], now: (path: string) => unknown): number {
  if (of.dial) {
    const path = `${of.step}.${of.dial.name}`;
    return nearest(
      cells.map((cell) => Number(cell.values[path])),
      Number(now(path)),
    );
  }
  return cells.findIndex((cell) =>
    Object.entries(cell.values).every(([path, value]) => now(path) === value),
  );
}

/** How far round the present value a narrow strip looks, as a share of the track. */
const NEAR = 0.12;
const GRID_SIDE = 4;

/**
 * Values of a dial to be tried side by side, evenly over its track or round the present one.
 * The present one is among them, the
 * others lie on the dial's own steps; fewer come back where there are not so many steps.
 */
export function stripValues(
  spec: DialSpec,
  present: number,
  count: number,
  isNear: boolean,
): number[] {
  const half = (spec.high - spec.low) * NEAR;
  const low = isNear ? Math.max(spec.low, Math.min(present, spec.high) - half) : spec.low;
  const high = isNear ? Math.min(spec.high, Math.max(present, spec.low) + half) : spec.high;
  const values = Array.from({ length: count }, (_, k) => {
    const value = low + ((high - low) * k) / (count - 1);
    return onStep(spec, value);
  });
  // The present value is among them as it is: what changes is seen against it.
  if (present >= low && present <= high) values[nearest(values, present)] = present;
  return [...new Set(values)];
}

function onStep(spec: DialSpec, value: number): number {
  const steps = Math.round((value - spec.low) / spec.step);
  const digits = Math.max(0, Math.ceil(-Math.log10(spec.step)) + 1);
  return Number(Math.min(spec.high, spec.low + steps * spec.step).toFixed(digits));
}

/** Which of some values lies nearest to the present one. */
export function nearest(values: number[], present: number): number {
  let best = 0;
  values.forEach((value, k) => {
    if (Math.abs(value - present) < Math.abs(values[best]! - present)) best = k;
  });
  return best;
}

/** Columns and rows for so many cells in an area, as square as they come. */
export function cellsFor(
  count: number,
  area: { width: number; height: number },
): { columns: number; rows: number } {
  const columns = Math.min(
    count,
    Math.max(1, Math.round(Math.sqrt((count * area.width) / Math.max(1, area.height) / 1.15))),
  );
  return { columns, rows: Math.ceil(count / columns) };
}

/** The part of the sheet, as shares, that a cell shows round a spot: held within the sheet. */
export function spotRegion(
  spot: { x: number; y: number },
  wide: number,
  high: number,
): [number, number, number, number] {
  const w = Math.min(1, wide);
  const h = Math.min(1, high);
  const left = Math.min(1 - w, Math.max(0, spot.x - w / 2));
  const top = Math.min(1 - h, Math.max(0, spot.y - h / 2));
  return [left, top, left + w, top + h];
}
