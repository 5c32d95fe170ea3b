import type { Plate, RecipeRecord, Sheet } from "../api/client";

type Source = Plate["source"];
export type FromLines = Extract<Source, { kind: "lines" }>;
export type Lines = FromLines["lines"];
export type Pen = Partial<Lines>;

/** A pen, and what it is called. */
interface NamedPen {
  name: string;
  pen: Pen;
}

/** What of lines is where they run and how dark they are, not the pen that draws them. */
const NOT_THE_PENS = [
  "along",
  "wide",
  "high",
  "waves",
  "closes",
  "solid",
  "tone",
  "fade",
  "tone_to",
  "fade_angle",
];

/** The pen that draws lines. */
export function penOf(lines: Lines): Pen {
  const own = Object.entries(lines).filter(([name]) => !NOT_THE_PENS.includes(name));
  return Object.fromEntries(own) as Pen;
}

/** Whether two pens draw alike. */
export const isSamePen = (one: Pen, other: Pen) => said(one) === said(other);

const said = (pen: Pen) => JSON.stringify(Object.entries(pen).sort());

/** The pens of the recipe book, own ones first: one for each plate of lines, those alike once. */
export function pensOf(records: RecipeRecord[]): NamedPen[] {
  const found = new Map<string, NamedPen>();
  for (const { recipe } of records) {
    const drawn = recipe.plates.filter(({ source }) => source?.kind === "lines");
    for (const plate of drawn) {
      const pen = penOf((plate.source as { lines: Lines }).lines);
      if (found.has(said(pen))) continue;
      const name = drawn.length > 1 && plate.name ? `${recipe.name}: ${plate.name}` : recipe.name;
      found.set(said(pen), { name, pen });
    }
  }
  return [...found.values()];
}

/** What the lines of a plate may be drawn by: pens of the sheet's other lines, and of the book. */
export function pensFor(sheet: Sheet, plate: Plate, records: RecipeRecord[]): NamedPen[] {
  const here = pensOfSheet(sheet, plate);
  const isHere = (each: NamedPen) =>
    here.some(({ name, pen }) => name === each.name && isSamePen(pen, each.pen));
  return [...here, ...pensOf(records).filter((each) => !isHere(each))];
}

/** The pens by a name of a sheet's other lines, each once. */
function pensOfSheet(sheet: Sheet, plate: Plate): NamedPen[] {
  const found = new Map<string, NamedPen>();
  for (const { id, source } of sheet.plates) {
    if (id === plate.id || source.kind !== "lines" || source.pen === "") continue;
    const pen = penOf(source.lines);
    found.set(source.pen + said(pen), { name: source.pen, pen });
  }
  return [...found.values()];
}

/** Whether two sources are lines of one pen: of the same name, and drawing alike. */
function shareAPen(one: Source, other: Source): boolean {
  return (
    one.kind === "lines" &&
    other.kind === "lines" &&
    one.pen !== "" &&
    one.pen === other.pen &&
    isSamePen(penOf(one.lines), penOf(other.lines))
  );
}

/** The other plates whose lines are drawn by the pen of a plate's. */
export function sharingPen(sheet: Sheet, plate: Plate): Plate[] {
  return sheet.plates.filter(
    (each) => each.id !== plate.id && shareAPen(each.source, plate.source),
  );
}

/**
 * The sheet with the pen of a plate's lines as it is in others: lines that share it are drawn by
 * it too. A pen that is taken by another name is no longer theirs.
 */
export function withPenOf(sheet: Sheet, plate: Plate, lines: FromLines): Sheet {
  if (plate.source.kind !== "lines" || plate.source.pen !== lines.pen) return sheet;
  const sharing = sharingPen(sheet, plate);
  const pen = penOf(lines.lines);
  const plates = sheet.plates.map((each) =>
    sharing.includes(each) && each.source.kind === "lines"
      ? { ...each, source: { ...each.source, lines: { ...each.source.lines, ...pen } } }
      : each,
  );
  return { ...sheet, plates };
}
