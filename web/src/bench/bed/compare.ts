import type { Catalogue, PullRecord, Sheet, View } from "../../api/client";
import { type PlateStage, plateStages, runOf } from "../../sheet/stages";
import { plateLabel } from "../../sheet/plates";
import { viewOf } from "../../live/views";

export type Layout = "alone" | "split" | "beside";

/** What the sheet is compared with. */
export type Against =
  | { kind: "photo" }
  | { kind: "stage"; plate: string; stage: PlateStage }
  | { kind: "pull"; id: number };

export function againstKey(against: Against): string {
  if (against.kind === "photo") return "photo";
  return against.kind === "pull" ? `pull ${against.id}` : `stage ${against.plate} ${against.stage}`;
}

/** Everything a sheet can be compared with, by key, in words. */
export function choices(
  catalogue: Catalogue,
  sheet: Sheet,
  pulls: PullRecord[],
): [string, string, Against][] {
  const list: [string, string, Against][] = [["photo", "the photo", { kind: "photo" }]];
  for (const pull of pulls) {
    const against: Against = { kind: "pull", id: pull.id };
    list.push([againstKey(against), `pull: ${pull.name}`, against]);
  }
  for (const plate of sheet.plates) {
    for (const stage of plateStages(runOf(catalogue, plate))) {
      const against: Against = { kind: "stage", plate: plate.id, stage: stage.name };
      const words = `${plateLabel(sheet, plate.id)} after ${stage.title}`;
      list.push([againstKey(against), words, against]);
    }
  }
  return list;
}

/** The sheet to draw for a comparison: that of a pull, or the present one. */
export function sheetOf(against: Against, sheet: Sheet, pulls: PullRecord[]): Sheet {
  if (against.kind !== "pull") return sheet;
  return pulls.find((pull) => pull.id === against.id)?.sheet ?? sheet;
}

/**
 * The same part at the same size as the main view, of what is compared with; null for the photo,
 * of which the bench has a picture anyway.
 */
export function viewAgainst(against: Against, main: View): View | null {
  const same = { region: main.region, exact: main.exact };
  if (against.kind === "photo") return null;
  if (against.kind === "pull") return viewOf("against", main.long_edge_px, same);
  const { plate, stage } = against;
  return viewOf("against", main.long_edge_px, { ...same, what: "stage", plate, stage });
}
