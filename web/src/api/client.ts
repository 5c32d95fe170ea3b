import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type SaidStroke = components["schemas"]["SaidStroke"];
export type Sheet = components["schemas"]["Sheet"];
export type Plate = components["schemas"]["Plate"];
export type SheetRecord = components["schemas"]["SheetRecord"];
export type PhotoRecord = components["schemas"]["PhotoRecord"];
export type Catalogue = components["schemas"]["Catalogue"];
export type KindSpec = components["schemas"]["KindSpec"];
export type DialSpec = components["schemas"]["DialSpec"];
export type JobRecord = components["schemas"]["JobRecord"];
export type StepSpec = components["schemas"]["StepSpec"];
export type BadDay = components["schemas"]["BadDay"];
export type Check = components["schemas"]["Check"];
export type FormatSpec = components["schemas"]["FormatSpec"];
export type PngWish = components["schemas"]["PngWish"];
type AllWishes = Omit<PngWish, "format"> & Omit<components["schemas"]["TilesWish"], "format">;
/** What is wished of a file of any format; each has some of these choices. */
export type Wish = Partial<AllWishes> & {
  format: string;
  nib?: number;
  to_width?: boolean;
  bleed?: number;
  text?: boolean;
};

/** A wish as it is sent: which fields belong to which format is checked there. */
export const asSent = (wish: Wish) => wish as unknown as PngWish;
export type TraceFigures = components["schemas"]["TraceFigures"];
export type Shapes = components["schemas"]["Shapes"];
export type ChangedShape = components["schemas"]["ChangedShape"];
export type ChangedShapes = components["schemas"]["ChangedShapes"];
export type Beneath = components["schemas"]["PrintedBeneath"];
export type Act = Pick<components["schemas"]["Act"], "verb"> &
  Partial<components["schemas"]["Act"]>;
export type ExportSize = components["schemas"]["ExportSize"];
export type View = components["schemas"]["View"];
export type RecipeRecord = components["schemas"]["RecipeRecord"];
export type PullRecord = components["schemas"]["PullRecord"];
export type PrintReport = components["schemas"]["PrintReport"];
export type PhotoFigures = components["schemas"]["PhotoFigures"];
export type WatchSpot = components["schemas"]["WatchSpot"];
export type Spot = components["schemas"]["Spot"];
export type Lying = components["schemas"]["Lying"];
export type FontRecord = components["schemas"]["FontRecord"];
export type Answer = components["schemas"]["Answer"];
export type Placing = components["schemas"]["Placing"];
export type OptionSpec = components["schemas"]["OptionSpec"];
export type Pull = components["schemas"]["Pull"];
export type PotRecord = components["schemas"]["PotRecord"];
export type Edition = components["schemas"]["Edition"];
export type EditionRecord = components["schemas"]["EditionRecord"];
export type EditionCard = components["schemas"]["EditionCard"];
export type EntryRecord = components["schemas"]["EntryRecord"];
export type Running = components["schemas"]["Running"];
export type StepRecord = components["schemas"]["StepRecord"];

export const client = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => window.fetch(request),
});

/**
 * The server's sentence about what went wrong. status 0 means it could not be reached; later: it
 * says itself that it is worth asking again.
 */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    sentence: string,
    readonly later = false,
  ) {
    super(sentence);
  }
}

const UNREACHED =
  "Flinz itself does not answer: it may have been stopped. " +
  "Start it again; what was saved is safe.";

/** The data of an answer, or a ProblemError with the server's sentence. */
export async function answered<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result;
  try {
    result = await request;
  } catch {
    throw new ProblemError(0, UNREACHED);
  }
  if (!result.response.ok) {
    const detail = (result.error as { detail?: unknown } | undefined)?.detail;
    const sentence = typeof detail === "string" ? detail : result.response.statusText;
    const later = result.response.headers.has("Retry-After");
    throw new ProblemError(result.response.status, sentence, later);
  }
  return result.data as T;
}

/** Ask for what nobody waits for: where the server does not answer, nothing is lost. */
export function unanswered(request: Promise<unknown>) {
  request.catch(() => undefined);
}

const RETRY_MS = 1000;

/** What is asked comes to, asked again until the server answers at all; told: each time it did not. */
export async function reached<T>(
  ask: () => Promise<T>,
  told: (problem: Error) => void,
): Promise<T> {
  for (;;) {
    try {
      return await ask();
    } catch (error) {
      if (!(error instanceof ProblemError) || error.status !== 0) throw error;
      told(error);
      await new Promise((done) => window.setTimeout(done, RETRY_MS));
    }
  }
}

/** How a file is sent. */
function sent(file: File) {
  return {
    body: { file: file as unknown as string },
    bodySerializer: () => {
      const form = new FormData();
      form.append("file", file);
      return form;
    },
  };
}

/** Bring in one photo. */
export function addPhoto(file: File): Promise<PhotoRecord> {
  return answered(client.POST("/api/photos", sent(file)));
}

/** Put a sheet file on the shelf. */
export function openSheetFile(file: File): Promise<SheetRecord> {
  return answered(client.POST("/api/sheets/open", sent(file)));
}

/** A table of words from a CSV file. */
export function readTable(file: File): Promise<NonNullable<Edition["table"]>> {
  return answered(client.POST("/api/editions/table", sent(file)));
}

/** Bring in a font: TTF, OTF or WOFF2. */
export function addFont(file: File): Promise<FontRecord> {
  return answered(client.POST("/api/fonts", sent(file)));
}

/** The outline of a mark from lines of a pad. */
export function drawMark(mark: components["schemas"]["DrawnMark"]): Promise<{ path: string }> {
  return answered(client.POST("/api/marks/drawn", { body: mark }));
}

/** The outline of a mark from an SVG file. */
export function readMark(file: File): Promise<{ path: string }> {
  return answered(client.POST("/api/marks", sent(file)));
}
