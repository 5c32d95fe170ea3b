import type { Catalogue, KindSpec } from "../api/client";
import type { Step } from "./stages";

const NAMES: Step[] = ["photo", "tone", "smooth", "again", "draw", "clean", "ink", "paper"];

/** A catalogue with every step, and these kinds of some of them. */
export function catalogueOf(kinds: Partial<Record<Step, Partial<KindSpec>[]>> = {}): Catalogue {
  const plain = {
    label: "",
    purpose: "",
    answers_to_eyes: false,
    sized_by: "",
    dials: [],
    hand: "",
    verbs: [],
    name: "",
  };
  return {
    version: "0",
    steps: NAMES.map((name) => ({
      name,
      title: name.charAt(0).toUpperCase() + name.slice(1),
      hint: `What ${name} does.`,
      verbs: [],
      kinds: (kinds[name] ?? []).map((kind) => ({ ...plain, ...kind })),
    })),
    formats: [{ name: "png", label: "PNG", group: "Pixels", wishes: [] }],
    machines: [],
    limits: {
      plates: 12,
      watch_spots: 4,
      thin_mm: 0.1,
      narrow_mm: 0.1,
      speck_mm: 0.16,
      marks: 100_000,
    },
    beginnings: {},
    cuts: [
      { name: "A4", width: 210, height: 297 },
      { name: "Sticker", width: 75, height: 75 },
    ],
    colours: {
      inks: [{ name: "Lamp black", colour: "#000000" }],
      papers: [],
      cloths: [],
      pairs: [],
    },
  };
}
