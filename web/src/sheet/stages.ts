import type { Catalogue, DialSpec, KindSpec, Plate, Sheet, StepSpec } from "../api/client";
import { formatted } from "../shared/numbers";

export type Step = StepSpec["name"];
export type PlateStage = Exclude<Step, "photo" | "paper">;

/** What the catalogue says of a step. */
export function stepOf(catalogue: Catalogue, step: Step): StepSpec {
  return catalogue.steps.find((each) => each.name === step)!;
}

/** The step so many places further in the run, or the last one that way. */
export function neighbour(catalogue: Catalogue, step: Step, by: number): Step {
  const names = catalogue.steps.map((each) => each.name);
  const place = Math.min(names.length - 1, Math.max(0, names.indexOf(step) + by));
  return names[place] ?? step;
}

/** The stages of a plate, in their order. */
export function plateStages(catalogue: Catalogue): (StepSpec & { name: PlateStage })[] {
  return catalogue.steps.filter(
    (each): each is StepSpec & { name: PlateStage } =>
      each.name !== "photo" && each.name !== "paper",
  );
}

export type Settings = Record<string, unknown>;

/** The settings of a step: of the plate, or of the sheet for paper. */
export function settingsOf(sheet: Sheet, plate: Plate, step: Step): Settings {
  if (step === "photo") return {};
  return (step === "paper" ? sheet.paper : plate[step]) as Settings;
}

/** What names the kind of a step's settings: a look, a way to smooth, a size of paper. */
const KIND_NAMES: Partial<Record<Step, string>> = { draw: "look", smooth: "kind", paper: "size" };

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
  if (step === "photo") return sheet;
  if (step === "paper") return { ...sheet, paper: settings as Sheet["paper"] };
  const plates = sheet.plates.map((plate) => {
    if (plate.id !== plateId) return plate;
    const before = plate[step] as Settings;
    const moved = Object.keys(settings).filter((name) => settings[name] !== before[name]);
    const kept = plate.fitted.filter(
      (path) => !moved.includes(path.slice(step.length + 1)) || !path.startsWith(`${step}.`),
    );
    return { ...plate, [step]: settings, fitted: [...new Set([...kept, ...fitted])] } as Plate;
  });
  return { ...sheet, plates };
}

/** One line on what a step does, and whether it does nothing. */
export function summary(
  catalogue: Catalogue,
  sheet: Sheet,
  plate: Plate,
  step: Step,
  sizeMm: { width: number; height: number },
): { words: string; quiet: boolean } {
  if (step === "photo") return { words: "whole", quiet: false };
  if (step === "paper") {
    const size = `${sizeMm.width.toFixed(0)} × ${sizeMm.height.toFixed(0)} mm`;
    return { words: size, quiet: false };
  }
  const settings = settingsOf(sheet, plate, step);
  const kind = kindOf(catalogue, step, settings);
  if (!kind) return { words: "", quiet: false };
  if (step === "ink") return { words: inkWords(settings), quiet: false };
  const turned = kind.dials.filter((dial) => settings[dial.name] !== dial.start);
  if (step === "draw" || (step === "smooth" && kind.name !== "none")) {
    const first = turned[0] ?? kind.dials[0];
    const detail = first ? `, ${first.label.toLowerCase()} ${valueWords(first, settings)}` : "";
    return { words: kind.label + detail, quiet: false };
  }
  if (turned.length === 0) return { words: "as it is", quiet: true };
  const shown = turned
    .slice(0, 2)
    .map((d) => `${d.label.toLowerCase()} ${valueWords(d, settings)}`);
  return { words: shown.join(", "), quiet: false };
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
  if (typeof value === "number") return `${formatted(dial, value)} ${dial.unit}`.trim();
  if (typeof value === "boolean") return value ? "on" : "off";
  return String(value);
}

function inkWords(settings: Settings): string {
  const colour = String(settings.colour).toLowerCase();
  const opacity = Number(settings.opacity);
  const name = colour === "#000000" ? "black" : colour;
  return opacity < 1 ? `${name}, ${(opacity * 100).toFixed(0)} %` : name;
}
