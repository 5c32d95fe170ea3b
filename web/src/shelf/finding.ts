import type { Catalogue, EditionCard, PhotoRecord, SheetRecord } from "../api/client";

/** How the shelf is ordered. */
export type Order = "new" | "name";

/** The photos with every typed word in their title or caption, in order. */
export function photosFound(photos: PhotoRecord[], typed: string, order: Order): PhotoRecord[] {
  const found = photos.filter((photo) => hasWords(`${photo.title} ${photo.caption}`, typed));
  return order === "name" ? byName(found, (photo) => photo.title) : found;
}

/** The sheets with every typed word in their title or looks, in order. */
export function sheetsFound(
  records: SheetRecord[],
  typed: string,
  order: Order,
  catalogue: Catalogue | undefined,
): SheetRecord[] {
  const found = records.filter((record) =>
    hasWords(`${record.sheet.title} ${everyLook(record, catalogue).join(" ")}`, typed),
  );
  return order === "name" ? byName(found, (record) => record.sheet.title) : found;
}

/** The editions with every typed word in their title, in order. */
export function editionsFound(editions: EditionCard[], typed: string, order: Order): EditionCard[] {
  const found = editions.filter((edition) => hasWords(edition.title, typed));
  return order === "name" ? byName(found, (edition) => edition.title) : found;
}

const MOST_LOOKS = 3;

/** The looks of a sheet's plates, each once and the first few, in words. */
export function looksOf(record: SheetRecord, catalogue: Catalogue | undefined): string {
  const words = everyLook(record, catalogue).slice(0, MOST_LOOKS);
  return words.map((word, k) => (k === 0 ? word : word.toLowerCase())).join(" over ");
}

function everyLook({ sheet }: SheetRecord, catalogue: Catalogue | undefined): string[] {
  const kinds = catalogue?.steps.find((step) => step.name === "draw")?.kinds ?? [];
  const words = sheet.plates.map(
    ({ draw }) => kinds.find((kind) => kind.name === draw.look)?.label ?? draw.look,
  );
  return [...new Set(words)];
}

function hasWords(text: string, typed: string): boolean {
  const lower = text.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word));
}

function byName<T>(list: T[], name: (item: T) => string): T[] {
  return list.toSorted((one, other) => name(one).localeCompare(name(other), "en-GB"));
}
