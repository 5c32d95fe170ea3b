import type { Catalogue, DialSpec, KindSpec, Plate, Sheet, StepSpec } from "../api/client";
import { valueInWords } from "../shared/numbers";
import { asOwn, withPlate } from "./plates";
import {
  isPicture,
  madeOf,
  pictureOf,
  sourceWords,
  withMade,
  withPicture,
  withSource,
} from "./sources";

export type Step = StepSpec["name"];
export type PlateStage = Exclude<Step, "photo" | "paper">;

/** What the catalogue says of a step. */
export function stepOf(catalogue: Catalogue, step: Step): StepSpec {
  return catalogue.steps.find((each) => each.name === step)!;
}

/** The steps of the run: a second smoothing stands there once it does something, or is looked at. */
export function runOf(catalogue: Catalogue, plate: Plate | undefined, chosen?: Step): StepSpec[] {
  const isUsed = chosen === "again" || (plate?.again.kind ?? "none") !== "none";
  return catalogue.steps.filter((each) => each.name !== "again" || isUsed);
}

/** The step so many places further in the run, or the last one that way. */
export function neighbour(run: StepSpec[], step: Step, by: number): Step {
  const names = run.map((each) => each.name);
  const place = Math.min(names.length - 1, Math.max(0, names.indexOf(step) + by));
  return names[place] ?? step;
}

/** The stages that plates go through, in their order. */
export function plateStages(run: StepSpec[]): (StepSpec & { name: PlateStage })[] {
  return run.filter(
    (each): each is StepSpec & { name: PlateStage } =>
      each.name !== "photo" && each.name !== "paper",
  );
}

export type Settings = Record<string, unknown>;

/** Dials of the photo step that stand with the crop, not with the plate or the cutout. */
const CROP_DIALS = ["straighten", "mirrored", "quarter_turns"] as const;

/** The settings of a step: of the plate, of the sheet for paper, of both for the photo. */
export function settingsOf(sheet: Sheet, plate: Plate, step: Step): Settings {
  if (step === "photo") {
    const { kind } = plate.source;
    const made = madeOf(plate.source);
    if (!isPicture(plate.source)) return { kind, covers: plate.photo.covers, ...made };
    const { cutout, crop } = pictureOf(sheet, plate);
    const frame = Object.fromEntries(CROP_DIALS.map((name) => [name, crop[name]]));
    return { kind, ...plate.photo, ...cutout, ...frame };
  }
  return (step === "paper" ? sheet.paper : plate[step]) as Settings;
}

/** What names the kind of a step's settings: a look, a way to smooth, a size of paper. */
const KIND_NAMES: Partial<Record<Step, string>> = {
  photo: "kind",
  draw: "look",
  smooth: "kind",
  again: "kind",
  paper: "size",
};

/** The kind a step is set to; "" for steps without kinds. */
export function kindName(step: Step, settings: Settings): string {
  const name = settings[KIND_NAMES[step] ?? ""];
  return typeof name === "string" ? name : "";
}

export function kindOf(catalogue: Catalogue, step: Step, settings: Settings): KindSpec | undefined {
  return stepOf(catalogue, step).kinds.find((kind) => kind.name === kindName(step, settings));
}

/** The sheet with one step's settings replaced. Dials no longer at the suggestion are let go. */
export function withSettings(
  sheet: Sheet,
  plateId: string,
  step: Step,
  settings: Settings,
  fitted: string[] = [],
): Sheet {
  if (step === "photo") return withPhoto(sheet, plateId, settings);
  if (step === "paper") return { ...sheet, paper: settings as Sheet["paper"] };
  return withPlate(sheet, plateId, (plate) => {
    const before = plate[step] as Settings;
    const moved = Object.keys(settings).filter((name) => settings[name] !== before[name]);
    const kept = plate.fitted.filter(
      (path) => !moved.includes(path.slice(step.length + 1)) || !path.startsWith(`${step}.`),
    );
    const all = [...new Set([...kept, ...fitted])];
    return { ...asOwn(plate, step), [step]: settings, fitted: all } as Plate;
  });
}

/** The sheet with the photo step's settings: each goes back to where it stands. */
function withPhoto(sheet: Sheet, plateId: string, settings: Settings): Sheet {
  const own = <T extends object>(present: T): T =>
    Object.fromEntries(
      Object.entries(present).map(([name, value]) => [name, settings[name] ?? value]),
    ) as T;
  const plate = sheet.plates.find((each) => each.id === plateId)!;
  const laid = (changed: Sheet) =>
    withPlate(changed, plateId, (each) => ({ ...asOwn(each, "photo"), photo: own(each.photo) }));
  const made = madeOf(plate.source);
  if (made) return laid(withSource(sheet, plateId, withMade(plate.source, own(made))));
  if (!isPicture(plate.source)) return laid(sheet);
  const before = pictureOf(sheet, plate);
  const { cutout, crop } = before;
  const picture = { ...before, cutout: own(cutout), crop: own(crop) };
  if (picture.crop.mirrored !== crop.mirrored) {
    // The same part of the photo stays in its frame.
    const [left, right] = [1 - crop.right, 1 - crop.left];
    picture.crop = { ...picture.crop, left, right };
  }
  return laid(withPicture(sheet, plate, picture));
}

/** The sheet with some dials set, by "step.name"; of the plate, or of the paper. */
export function withValues(sheet: Sheet, plateId: string, values: Settings): Sheet {
  let changed = sheet;
  for (const [path, value] of Object.entries(values)) {
    const [step, name] = path.split(".") as [Step, string];
    const plate = changed.plates.find((each) => each.id === plateId)!;
    const settings = { ...settingsOf(changed, plate, step), [name]: value };
    changed = withSettings(changed, plateId, step, settings);
  }
  return changed;
}

/** Whether a dial stands where it begins. */
export function isAtStart(dial: DialSpec, settings: Settings): boolean {
  const value = settings[dial.name];
  return Array.isArray(value) ? value.length === 0 : value === dial.start;
}

/** Whether a dial does anything with the choices made beside it. */
export function isUsed(dial: DialSpec, settings: Settings): boolean {
  return Object.entries(dial.only_for).every(([name, values]) =>
    values.includes(String(settings[name])),
  );
}

/** What has to be turned for a dial to do anything, by its label; "" where it does something. */
export function idleFor(dial: DialSpec, settings: Settings, beside: DialSpec[]): string {
  const at = Object.entries(dial.idle_at);
  if (!at.length || at.some(([name, value]) => settings[name] !== value)) return "";
  const labels = at.map(([name]) => beside.find((each) => each.name === name)?.label ?? name);
  return labels.join(" or ");
}

/** One line on what a step does, and whether it does nothing. */
export function summary(
  catalogue: Catalogue,
  sheet: Sheet,
  plate: Plate,
  step: Step,
  sizeMm: { width: number; height: number },
): { words: string; quiet: boolean } {
  if (step === "photo") return { words: photoWords(sheet, plate), quiet: false };
  if (step === "paper") {
    const size = `${sizeMm.width.toFixed(0)} × ${sizeMm.height.toFixed(0)} mm`;
    return { words: size, quiet: false };
  }
  const settings = settingsOf(sheet, plate, step);
  const kind = kindOf(catalogue, step, settings);
  if (!kind) return { words: "", quiet: false };
  if (step === "ink") return { words: inkWords(catalogue, settings), quiet: false };
  const used = kind.dials.filter((dial) => isUsed(dial, settings));
  const turned = used.filter((dial) => !isAtStart(dial, settings));
  if (step === "draw" || ((step === "smooth" || step === "again") && kind.name !== "none")) {
    const numbers = used.filter((dial) => dial.kind === "dial");
    const first = turned[0] ?? numbers.find((dial) => dial.unit === "mm") ?? numbers[0];
    const detail = first ? `, ${first.label.toLowerCase()} ${valueWords(first, settings)}` : "";
    return { words: kind.label + detail, quiet: false };
  }
  if (turned.length === 0) {
    const isPainted = step in (plate.hand ?? {});
    return { words: isPainted ? "by hand" : "as it is", quiet: !isPainted };
  }
  const shown = turned
    .slice(0, 2)
    .map((d) => `${d.label.toLowerCase()} ${valueWords(d, settings)}`);
  return { words: shown.join(", "), quiet: false };
}

/** How much of the photo is used, in words. */
function photoWords(sheet: Sheet, plate: Plate): string {
  if (!isPicture(plate.source)) return sourceWords(plate);
  const { photo } = plate;
  const { crop } = pictureOf(sheet, plate);
  const { left, top, right, bottom, quarter_turns, straighten, mirrored } = crop;
  const isWhole = left === 0 && top === 0 && right === 1 && bottom === 1;
  const words = [photo.part === "whole" ? (isWhole ? "all of it" : "cropped") : photo.part];
  if (photo.part !== "whole" && !isWhole) words.push("cropped");
  if (quarter_turns % 4 !== 0 || straighten !== 0) words.push("turned");
  if (mirrored) words.push("mirrored");
  return words.join(", ");
}

/** How a dial is referred to: its step and its name. */
export interface DialRef {
  step: Step;
  dial: string;
}

/** The dial of a reference, of the kind that its step is set to; undefined where that has none. */
export function dialOf(
  catalogue: Catalogue,
  sheet: Sheet,
  plate: Plate,
  { step, dial }: DialRef,
): DialSpec | undefined {
  const kind = kindOf(catalogue, step, settingsOf(sheet, plate, step));
  return kind?.dials.find((each) => each.name === dial);
}

/** Dials by the heading they stand under, in their order; those without one come together. */
export function grouped(dials: DialSpec[]): [string, DialSpec[]][] {
  const groups = new Map<string, DialSpec[]>();
  for (const dial of dials) {
    groups.set(dial.group, [...(groups.get(dial.group) ?? []), dial]);
  }
  return [...groups];
}

export function valueWords(dial: DialSpec, settings: Settings): string {
  const value = settings[dial.name];
  if (typeof value === "number") return valueInWords(dial, value, settings);
  if (typeof value === "boolean") return value ? "on" : "off";
  if (Array.isArray(value))
    return value.length === 1 ? "of 1 colour" : `of ${value.length} colours`;
  const option = dial.options.find((each) => each.name === value);
  return option ? option.label.toLowerCase() : String(value);
}

/** What the photo step is called for a plate: after what it is drawn from. */
export function titleOf(catalogue: Catalogue, plate: Plate | undefined, step: Step): string {
  const { title } = stepOf(catalogue, step);
  if (step !== "photo" || !plate || isPicture(plate.source)) return title;
  const kind = stepOf(catalogue, step).kinds.find((each) => each.name === plate.source.kind);
  return kind?.label ?? title;
}

/** What a plate prints in, in words: an ink by its pot where it is from one. */
export function inkWords(catalogue: Catalogue, settings: Settings): string {
  const name = (colour: unknown) => colourName(catalogue, String(colour));
  const opacity = Number(settings.opacity);
  const inks: Record<string, string> = {
    photo: "the photo’s colours",
    "two-colour": `${name(settings.colour)} and ${name(settings.lights)}`,
  };
  const words = inks[String(settings.colouring)] ?? name(settings.colour);
  return opacity < 1 ? `${words}, ${(opacity * 100).toFixed(0)} %` : words;
}

/** The pot that a colour is from, or the colour as it is written. */
export function colourName(catalogue: Catalogue, colour: string): string {
  const { inks, papers, cloths } = catalogue.colours;
  const pot = [...inks, ...papers, ...cloths].find((each) => each.colour === colour.toLowerCase());
  return pot?.name.toLowerCase() ?? colour.toLowerCase();
}
