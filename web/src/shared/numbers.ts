import type { DialSpec } from "../api/client";

/** A dial's value with as many digits as its step has. */
export function formatted(spec: DialSpec, value: number): string {
  const digits = Math.max(0, Math.ceil(-Math.log10(spec.step) - 1e-9));
  return value.toFixed(Math.min(4, digits));
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
