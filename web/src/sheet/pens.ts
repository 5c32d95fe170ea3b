import type { RecipeRecord } from "../api/client";
import type { Source } from "./sources";

export type Lines = Extract<Source, { kind: "lines" }>["lines"];
export type Pen = Partial<Lines>;

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
export function pensOf(records: RecipeRecord[]): { name: string; pen: Pen }[] {
  const found = new Map<string, { name: string; pen: Pen }>();
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
