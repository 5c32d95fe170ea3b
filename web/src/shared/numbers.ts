import type { DialSpec } from "../api/client";

/** A dial's value with as many digits as its step has. */
export function formatted(spec: DialSpec, value: number): string {
  const digits = Math.max(0, Math.ceil(-Math.log10(spec.step) - 1e-9));
  return value.toFixed(Math.min(4, digits));
}

/** A text of values with the unit of their dial, if it has one. */
export function withUnit(spec: DialSpec, values: string): string {
  return spec.unit === "" ? values : `${values} ${spec.unit}`;
}

/** How many mm once is of a dial that is a multiple, with what it is about; null of all others. */
export function mmOfOne(spec: DialSpec, settings: Record<string, unknown>): number | null {
  const choice = Object.keys(spec.only_for)[0];
  const mm = choice === undefined ? undefined : spec.mm_of_one[String(settings[choice])];
  if (mm === undefined) return null;
  return spec.mm_times ? mm * Number(settings[spec.mm_times]) : mm;
}

/** A multiple as a dial in mm, of which so many are once; null: it is none. */
export function inMm(spec: DialSpec, mm: number | null): DialSpec {
  if (mm === null) return spec;
  const of = (value: number) => value * mm;
  return {
    ...spec,
    unit: "mm",
    start: of(spec.start as number),
    minimum: of(spec.minimum),
    maximum: of(spec.maximum),
    low: of(spec.low),
    high: of(spec.high),
    step: of(spec.step),
  };
}

/** A value with its unit, of a multiple in mm. */
export function valueInWords(
  spec: DialSpec,
  value: number,
  settings: Record<string, unknown>,
): string {
  const mm = mmOfOne(spec, settings);
  const shown = inMm(spec, mm);
  return withUnit(shown, formatted(shown, value * (mm ?? 1)));
}

/** Where a value lies on a dial's track, 0 at its low end to 1 at its high end. */
export function placeOnTrack(spec: DialSpec, value: number): number {
  const share = (value - spec.low) / (spec.high - spec.low);
  return Math.min(1, Math.max(0, share));
}

/** A share as per cent, with a digit after the point only where it matters. */
export function percent(share: number): string {
  const value = share * 100;
  return `${value < 10 ? value.toFixed(1) : value.toFixed(0)} %`;
}

/** Millimetres in each unit that a length may be typed in. */
const UNITS: Record<string, number> = {
  "": 1,
  mm: 1,
  cm: 10,
  in: 25.4,
  inch: 25.4,
  inches: 25.4,
  '"': 25.4,
  "″": 25.4,
  pt: 25.4 / 72,
  pts: 25.4 / 72,
};
const TYPED = /^([+-]?[\d.,]+)\s*([a-z"″%°²/]*)$/i;

/** What is typed for a dial, in its own unit; null for what is no number. Lengths may be in mm, cm,
 * inches or points. */
export function typedValue(spec: DialSpec, text: string): number | null {
  const found = TYPED.exec(text.trim());
  if (!found) return null;
  const value = Number(found[1]!.replace(",", "."));
  const unit = found[2]!.toLowerCase();
  if (!Number.isFinite(value)) return null;
  if (unit === "" || unit === spec.unit.toLowerCase()) return value;
  if (unit === "%" && spec.unit === "") return value / 100;
  if (spec.unit !== "mm" || !(unit in UNITS)) return null;
  return Number((value * UNITS[unit]!).toFixed(4));
}
