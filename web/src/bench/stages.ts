import type { Catalogue, DialSpec, KindSpec, Plate, Sheet } from "../api/client";
import { formatted } from "../shared/numbers";

export const STEPS = ["photo", "tone", "smooth", "draw", "clean", "ink", "paper"] as const;
export type Step = (typeof STEPS)[number];
export type PlateStage = "tone" | "smooth" | "draw" | "clean" | "ink";

export const STEP_WORDS: Record<Step, { title: string; hint: string }> = {
  photo: { title: "Photo", hint: "The original, as it was brought in. It is never changed." },
  tone: { title: "Tone", hint: "Turns colours into one grey. What is lost here stays lost." },
  smooth: { title: "Smooth", hint: "Takes away what is too fine to draw." },
  draw: { title: "Draw", hint: "Turns tone into ink. Pick a look, then turn its dials." },
  clean: { title: "Clean", hint: "Removes what is too small to print." },
  ink: { title: "Ink", hint: "The colour this plate prints in." },
  paper: { title: "Paper", hint: "What the sheet is printed on, and how large." },
};

export type Settings = Record<string, unknown>;

/** The settings of a step: of the plate, or of the sheet for paper. */
export function settingsOf(sheet: Sheet, plate: Plate, step: Step): Settings {
  if (step === "photo") return {};
  return (step === "paper" ? sheet.paper : plate[step]) as Settings;
}

/** The kind a step is set to (a look, a way to smooth); "" for steps without kinds. */
export function kindName(step: Step, settings: Settings): string {
  const name = step === "draw" ? settings.look : step === "smooth" ? settings.kind : "";
  return typeof name === "string" ? name : "";
}

export function kindOf(catalogue: Catalogue, step: Step, settings: Settings): KindSpec | undefined {
  return catalogue.stages[step]?.find((kind) => kind.name === kindName(step, settings));
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
