import type { Lying, Plate, Sheet } from "../api/client";
import { ofCut } from "./paper";
import { withPenOf } from "./pens";
import { asOwn, withPlate } from "./plates";

export type Source = Plate["source"];
type Picture = Sheet["picture"];
type Position = Picture["position"];

/** What of a source says what is made, by its kind; pictures and what is printed have none. */
const INNER = { lettering: "lettering", block: "block", lines: "lines", copier: "wear" } as const;

/** The settings of what a source makes; null for pictures and what is printed beneath. */
export function madeOf(source: Source): Record<string, unknown> | null {
  if (!(source.kind in INNER)) return null;
  const field = INNER[source.kind as keyof typeof INNER];
  return (source as unknown as Record<string, Record<string, unknown>>)[field]!;
}

/** The source with other settings of what it makes. */
export function withMade(source: Source, made: Record<string, unknown>): Source {
  const field = INNER[source.kind as keyof typeof INNER];
  return { ...source, [field]: { ...madeOf(source), ...made } } as Source;
}

/** Whether a plate is drawn from a photo, the sheet's or another. */
export function isPicture(source: Source): boolean {
  return source.kind === "picture" || source.kind === "photo";
}

/** The picture that a plate is drawn from; the sheet's where it is drawn from none. */
export function pictureOf(sheet: Sheet, plate: Plate): Picture {
  return plate.source.kind === "photo" ? plate.source.picture : sheet.picture;
}

/** The sheet with another picture for a plate to be drawn from. */
export function withPicture(sheet: Sheet, plate: Plate, picture: Picture): Sheet {
  if (plate.source.kind !== "photo") return { ...sheet, picture };
  return withSource(sheet, plate.id, { ...plate.source, picture });
}

/**
 * The sheet as if the photo that a plate is drawn from were its own, on paper of the size that it
 * has, mm.
 */
export function asMain(
  sheet: Sheet,
  plate: Plate,
  { width, height }: { width: number; height: number },
): Sheet {
  if (plate.source.kind !== "photo") return sheet;
  const main = withSource({ ...sheet, picture: plate.source.picture }, plate.id, {
    kind: "picture",
  });
  const paper = ofCut(sheet.paper, { name: "", width, height }, width > height);
  return sheet.paper.size === "own" ? main : { ...main, paper };
}

/** The sheet with a plate's photo as it came to be while it stood for the sheet's own. */
export function backFrom(sheet: Sheet, plate: Plate, changed: Sheet): Sheet {
  return plate.source.kind === "photo" ? withPicture(sheet, plate, changed.picture) : changed;
}

/** The sheet with a plate drawn from something else, and lines that share its pen by that as well. */
export function withSource(sheet: Sheet, plateId: string, source: Source): Sheet {
  const plate = sheet.plates.find((each) => each.id === plateId);
  const penned = plate && source.kind === "lines" ? withPenOf(sheet, plate, source) : sheet;
  return withPlate(penned, plateId, (each) => ({ ...asOwn(each, "photo"), source }));
}

/** Where what a plate is drawn from lies, where it can be laid; null where it cannot. */
export function positionOf(sheet: Sheet, plate: Plate): Position | null {
  const { source } = plate;
  if (source.kind === "photo") return source.picture.position;
  if (source.kind === "picture") return sheet.paper.size === "own" ? sheet.picture.position : null;
  if (source.kind === "lettering" || source.kind === "sheet") return source.position;
  if (source.kind === "block") {
    return source.block.figure === "border" || source.block.figure === "cutout"
      ? null
      : source.position;
  }
  if (source.kind === "lines") return source.lines.along === "cutout" ? null : source.position;
  return null;
}

/** The sheet with what a plate is drawn from laid elsewhere. */
export function withPosition(sheet: Sheet, plate: Plate, change: Partial<Position>): Sheet {
  const { source } = plate;
  if (isPicture(source)) {
    const picture = pictureOf(sheet, plate);
    return withPicture(sheet, plate, { ...picture, position: { ...picture.position, ...change } });
  }
  const laid = source as Extract<Source, { kind: "lettering" }>;
  return withSource(sheet, plate.id, { ...laid, position: { ...laid.position, ...change } });
}

/** The sheet with a plate moved by so many mm, and all that is gathered with it alike. */
export function movedBy(
  sheet: Sheet,
  plate: Plate,
  lain: Lying[],
  by: { x: number; y: number },
): Sheet {
  const together = sheet.plates.filter(
    (each) => each.id === plate.id || (plate.gathered && each.gathered === plate.gathered),
  );
  const mm = (value: number) => Number(value.toFixed(2));
  // Several plates may lie by the sheet's own picture, which moves once.
  const moved = new Set<object>();
  return together.reduce((changed, each) => {
    const lying = lain.find((found) => found.plate === each.id);
    const position = positionOf(sheet, each);
    if (!lying || !position || moved.has(position)) return changed;
    moved.add(position);
    return withPosition(changed, each, { x: mm(lying.x + by.x), y: mm(lying.y + by.y) });
  }, sheet);
}

const held = (value: number, low: number, high: number) =>
  Number(Math.min(high, Math.max(low, value)).toFixed(3));

/** Whether it can be made wider without being made higher. */
export function canStretch(source: Source): boolean {
  return source.kind === "block" || (source.kind === "lines" && source.lines.along !== "hand");
}

/**
 * The sheet with what a plate is drawn from across and down times as large. Lengths of the drawing
 * stay as they are, or (asDrawn) the drawing is made larger as it is.
 */
export function scaled(
  sheet: Sheet,
  plate: Plate,
  lying: Lying,
  { across, down }: { across: number; down: number },
  asDrawn: boolean,
): Sheet {
  const { source } = plate;
  const position = positionOf(sheet, plate);
  if (!position) return sheet;
  const larger = held(position.as_drawn * across, 0.05, 20);
  if (isPicture(source)) {
    const width = held(lying.width * across, 1, 20_000);
    return withPosition(sheet, plate, { width, ...(asDrawn && { as_drawn: larger }) });
  }
  // Finished work is laid as it is.
  if (
    asDrawn ||
    source.kind === "sheet" ||
    (source.kind === "lines" && source.lines.along === "hand")
  ) {
    return withPosition(sheet, plate, { as_drawn: larger });
  }
  const made: Record<string, unknown> = {};
  if (source.kind === "lettering") {
    const { size, points, wrap } = source.lettering;
    made.size = held(size * across, 0.5, 1000);
    made.points = held(points * across, 2, 4000);
    made.wrap = held(wrap * across, 0, 4000);
  } else if (source.kind === "block") {
    made.width = held(source.block.width * across, 0.5, 4000);
    made.height = held(source.block.height * down, 0.5, 4000);
  } else if (source.kind === "lines") {
    made.wide = held(source.lines.wide * across, 0.5, 4000);
    made.high = held(source.lines.high * down, 0.5, 4000);
  }
  return withSource(sheet, plate.id, withMade(source, made));
}

/** In a few words what a plate is drawn from, where that is no photo. */
export function sourceWords({ source }: Plate): string {
  switch (source.kind) {
    case "lettering":
      return `“${source.lettering.words.split("\n")[0]!.slice(0, 24)}”`;
    case "block":
      return source.block.figure === "cutout" ? "the subject’s outline" : source.block.figure;
    case "lines":
      return source.lines.along === "hand" ? "by hand" : source.lines.along;
    case "sheet":
      return source.live ? "live" : "as it was";
    case "copier":
      return "a worn copier";
    case "beneath":
      return "all before it";
    default:
      return "";
  }
}
