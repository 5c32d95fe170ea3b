import type { DialSpec } from "../../api/client";

/** How far round the present value a narrow strip looks, as a share of the track. */
const NEAR = 0.12;

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
