import type { SaidStroke } from "../../api/client";

/** A stroke that has not arrived yet, and what its step is called. */
export interface Waiting {
  stroke: SaidStroke;
  words: string;
}

/** Keep in this browser strokes that had not arrived when their page was closed. */
export function keepWaiting(id: number, strokes: readonly Waiting[]): void {
  try {
    localStorage.setItem(keyOf(id), JSON.stringify(strokes));
  } catch {
    // A browser without room keeps none; the page says that it has not been saved.
  }
}

/** The strokes that were kept, once. */
export function takeWaiting(id: number): Waiting[] {
  try {
    const text = localStorage.getItem(keyOf(id));
    localStorage.removeItem(keyOf(id));
    return text === null ? [] : (JSON.parse(text) as Waiting[]);
  } catch {
    return [];
  }
}

function keyOf(id: number): string {
  return `flinz-strokes-${id}`;
}
