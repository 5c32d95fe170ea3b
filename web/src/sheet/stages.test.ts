import { expect, test } from "vitest";
import type { Plate, Sheet } from "../api/client";
import { dialSpec } from "../shared/dialSpec.testing";
import { catalogueOf } from "./catalogue.testing";
import {
  grouped,
  idleFor,
  isAtStart,
  kindOf,
  neighbour,
  runOf,
  type Step,
  summary,
  valueWords,
  withSettings,
  withValues,
} from "./stages";

const plate = {
  source: { kind: "picture" },
  id: "one",
  draw: { look: "threshold", level: 0.4, edge: 0 },
  fitted: ["draw.level", "tone.black"],
} as unknown as Plate;
const sheet = { plates: [plate, { ...plate, id: "two" }], paper: {} } as unknown as Sheet;

test("turning a dial lets go of its suggestion and leaves other plates alone", () => {
  const changed = withSettings(sheet, "one", "draw", { look: "threshold", level: 0.5, edge: 0 });

  expect(changed.plates[0]?.fitted).toEqual(["tone.black"]);
  expect(changed.plates[1]).toBe(sheet.plates[1]);
});

test("a value that is taken as suggested is remembered so", () => {
  const settings = { look: "threshold", level: 0.5, edge: 0 };
  const changed = withSettings(sheet, "one", "draw", settings, ["draw.level"]);

  expect(changed.plates[0]?.fitted).toEqual(["tone.black", "draw.level"]);
});

test("paper belongs to the sheet", () => {
  expect(withSettings(sheet, "one", "paper", { long_edge: 90 }).paper).toEqual({ long_edge: 90 });
});

const catalogue = catalogueOf({
  tone: [
    { name: "", label: "Tone", purpose: "", dials: [dialSpec("black"), dialSpec("contrast")] },
  ],
  smooth: [
    { name: "none", label: "None", purpose: "", dials: [] },
    { name: "median", label: "Median", purpose: "", dials: [dialSpec("radius", { unit: "mm" })] },
  ],
  draw: [{ name: "threshold", label: "Threshold", purpose: "", dials: [dialSpec("level")] }],
  ink: [{ name: "", label: "Ink", purpose: "", dials: [] }],
});
const whole = {
  ...plate,
  tone: { black: 0, contrast: 0 },
  smooth: { kind: "none" },
  ink: { colour: "#000000", opacity: 1 },
} as unknown as Plate;
const size = { width: 200, height: 150 };

test("a second smoothing stands in the run once it is used or looked at", () => {
  const names = (kind: string, chosen?: Step) =>
    runOf(catalogue, { ...whole, again: { kind } } as Plate, chosen).map((each) => each.name);
  const run = runOf(catalogue, { ...whole, again: { kind: "none" } } as Plate);

  expect(names("none")).not.toContain("again");
  expect(names("median")).toContain("again");
  expect(names("none", "again")).toContain("again");
  expect(neighbour(run, "smooth", 1)).toBe("draw");
  expect(neighbour(run, "photo", -1)).toBe("photo");
});

test("dials gather under their headings in the order in which these come", () => {
  const dials = [
    dialSpec("black", { group: "Levels" }),
    dialSpec("shadows", { group: "Light" }),
    dialSpec("white", { group: "Levels" }),
    dialSpec("invert"),
  ];

  const found = grouped(dials).map(([title, list]) => [title, list.map((d) => d.name)]);

  expect(found).toEqual([
    ["Levels", ["black", "white"]],
    ["Light", ["shadows"]],
    ["", ["invert"]],
  ]);
});

test("a stage at its starting values says that it does nothing", () => {
  expect(summary(catalogue, sheet, whole, "tone", size)).toEqual({
    words: "as it is",
    quiet: true,
  });
});

test("a stage says first what was turned", () => {
  const turned = { ...whole, tone: { black: 0, contrast: 0.4 } } as unknown as Plate;

  expect(summary(catalogue, sheet, turned, "tone", size)).toEqual({
    words: "contrast 0.4",
    quiet: false,
  });
});

test("a look is named with its first dial, and paper by its size", () => {
  expect(summary(catalogue, sheet, whole, "draw", size).words).toBe("Threshold, level 0.4");
  expect(summary(catalogue, sheet, whole, "paper", size).words).toBe("200 × 150 mm");
});

test("an ink is called by its pot, or by its colour, and says how much it hides", () => {
  const inked = (ink: object) => ({ ...whole, ink: { ...whole.ink, ...ink } }) as unknown as Plate;
  const words = (ink: object) => summary(catalogue, sheet, inked(ink), "ink", size).words;

  expect(words({})).toBe("lamp black");
  expect(words({ colour: "#C2452D", opacity: 0.5 })).toBe("#c2452d, 50 %");
  // What it prints in is not its colour alone.
  expect(words({ colouring: "photo" })).toBe("the photo’s colours");
  expect(words({ colouring: "two-colour", lights: "#ffeedd" })).toBe("lamp black and #ffeedd");
});

test("a stage that only the hand touched says so", () => {
  const painted = { ...whole, hand: { tone: "a".repeat(64) } } as unknown as Plate;

  expect(summary(catalogue, sheet, painted, "tone", size)).toEqual({
    words: "by hand",
    quiet: false,
  });
  expect(summary(catalogue, sheet, whole, "tone", size).quiet).toBe(true);
});

test("values by path go to the plate and to the paper", () => {
  const changed = withValues(sheet, "one", { "draw.level": 0.7, "paper.colour": "#eeeeee" });

  expect(changed.plates[0]?.draw).toMatchObject({ look: "threshold", level: 0.7 });
  expect(changed.plates[1]).toBe(sheet.plates[1]);
  expect(changed.paper).toMatchObject({ colour: "#eeeeee" });
});

test("a choice is told in its words, and a ring by how many colours it pulls", () => {
  const options = [{ name: "color-burn", label: "Burns in", hint: "", also: "colour burn" }];
  const blend = dialSpec("blend", { kind: "choice", options });

  expect(valueWords(blend, { blend: "color-burn" })).toBe("burns in");
  expect(valueWords(dialSpec("hues", { kind: "ring" }), { hues: [{}, {}] })).toBe("of 2 colours");
  expect(isAtStart(dialSpec("hues", { kind: "ring", start: [] }), { hues: [] })).toBe(true);
});

test("a stage with kinds is the kind it is set to", () => {
  expect(kindOf(catalogue, "smooth", { kind: "median" })?.label).toBe("Median");
  expect(kindOf(catalogue, "smooth", { kind: "gone" })).toBeUndefined();
});

test("values are told with their unit, and switches in words", () => {
  expect(valueWords(dialSpec("radius", { unit: "mm" }), { radius: 1.5 })).toBe("1.5 mm");
  expect(valueWords(dialSpec("invert", { kind: "switch" }), { invert: true })).toBe("on");
  expect(valueWords(dialSpec("mark", { kind: "choice" }), { mark: "leaf" })).toBe("leaf");
});

test("the photo step sets what stands with the plate, the cutout and the crop", () => {
  const crop = {
    ...{ left: 0.1, top: 0, right: 0.6, bottom: 1 },
    ...{ quarter_turns: 0, straighten: 0, mirrored: false },
  };
  const photo = { part: "whole", covers: false };
  const own = { ...plate, photo } as unknown as Plate;
  const picture = { cutout: { hair: 1.2 }, crop };
  const whole = { plates: [own, own], picture, paper: {} } as unknown as Sheet;

  const changed = withValues(whole, "one", {
    "photo.part": "subject",
    "photo.hair": 3,
    "photo.mirrored": true,
  });

  expect(changed.plates[0]!.photo).toEqual({ part: "subject", covers: false });
  expect(changed.picture.cutout).toEqual({ hair: 3 });
  expect(changed.picture.crop).toMatchObject({ left: 0.4, right: 0.9, mirrored: true });
  expect(summary(catalogue, changed, changed.plates[0]!, "photo", { width: 1, height: 1 })).toEqual(
    {
      words: "subject, cropped, mirrored",
      quiet: false,
    },
  );
});

test("a dial is idle while all that it works with stands where nothing comes of it", () => {
  const fade = dialSpec("fade", { idle_at: { from: 0, to: 1 } });
  const beside = [dialSpec("from", { label: "Only from" }), dialSpec("to", { label: "Only to" })];

  expect(idleFor(fade, { from: 0, to: 1, fade: 0.1 }, beside)).toBe("Only from or Only to");
  expect(idleFor(fade, { from: 0.2, to: 1, fade: 0.1 }, beside)).toBe("");
  expect(idleFor(beside[0]!, { from: 0, to: 1 }, beside)).toBe("");
});
