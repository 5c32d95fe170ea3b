import type { FormatSpec, Wish } from "../api/client";

/** The wish for a format: what of a wish may be wished of it. */
export function wishOf(format: FormatSpec, known: Partial<Wish>): Wish {
  const shared = Object.entries(known).filter(([name]) => format.wishes.includes(name));
  return { ...Object.fromEntries(shared), format: format.name };
}
