import { hashKey } from "@tanstack/react-query";
import type { Sheet, SheetRecord } from "../api/client";

/** A change of a sheet, as it is sent. */
export interface Change {
  sheet: Sheet;
  words: string;
  gesture: string;
}

/** Changes that had not been saved when their page was left, and what they were made from. */
export interface Unsent {
  base: number;
  changes: Change[];
}

/** Put by what is not saved yet; false if this browser has no room for it. */
export function putBy(id: number, unsent: Unsent): boolean {
  try {
    localStorage.setItem(keyOf(id), JSON.stringify(unsent));
    return true;
  } catch {
    return false;
  }
}

/** What was put by, once: it is no longer kept here. */
export function takenUp(id: number): Unsent | null {
  try {
    const text = localStorage.getItem(keyOf(id));
    localStorage.removeItem(keyOf(id));
    return text === null ? null : (JSON.parse(text) as Unsent);
  } catch {
    return null;
  }
}

/** Forget what was put by: it is saved. */
export function forget(id: number): void {
  try {
    localStorage.removeItem(keyOf(id));
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}

/** What of it is still to be saved: the page may have been left before it heard that some was. */
export function stillUnsent({ base, changes }: Unsent, record: SheetRecord): Unsent {
  const saved = record.revision - base;
  const last = changes[saved - 1];
  const arrived = last !== undefined && hashKey([last.sheet]) === hashKey([record.sheet]);
  return arrived ? { base: record.revision, changes: changes.slice(saved) } : { base, changes };
}

function keyOf(id: number): string {
  return `flinz-unsent-${id}`;
}
