import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import type { Answer, DialSpec, PhotoRecord, Plate, Sheet } from "../../api/client";
import { dialSpec } from "../../shared/dialSpec.testing";
import type { Cropping } from "../cropping/useCropping";
import type { Hand } from "../hand/useHand";
import { DialPanel } from "./DialPanel";
import { type Picture, Pictures } from "../../live/pictures";
import { catalogueOf } from "../../sheet/catalogue.testing";
import type { Step } from "../../sheet/stages";

beforeAll(() => {
  // The page without a browser lays nothing out.
  Element.prototype.scrollIntoView = () => {};
});
afterEach(cleanup);

function spec(name: string, more: Partial<DialSpec> = {}): DialSpec {
  return dialSpec(name, { start: 1, unit: "mm", ...more });
}

const catalogue = catalogueOf({
  smooth: ["median", "smear"].map((name) => ({ name, label: name, purpose: "", dials: [] })),
  draw: [
    {
      name: "threshold",
      label: "Threshold",
      purpose: "",
      dials: [spec("level"), spec("edge", { group: "Edges" })],
    },
    { name: "pencil", label: "Pencil", purpose: "", dials: [spec("softness", { start: 2.2 })] },
  ],
  tone: [
    {
      name: "",
      label: "Tone",
      purpose: "",
      dials: [
        spec("invert", { kind: "switch", start: false, hint: "Negative" }),
        spec("curve", {
          kind: "choice",
          options: ["plain", "steep"].map((name) => ({ name, label: name, hint: "", also: "" })),
          start: "plain",
        }),
        spec("bend", { only_for: { curve: ["steep"] } }),
      ],
    },
  ],
});
const plate = {
  source: { kind: "picture" },
  id: "one",
  fitted: [],
  draw: { look: "threshold", level: 3, edge: 1 },
  tone: { invert: false, curve: "plain", bend: 1 },
  smooth: { kind: "median" },
} as unknown as Plate;

function panel(step: Step = "draw", suggestions: Record<string, number> = {}) {
  const pictures = new Pictures();
  const onChange = vi.fn<(sheet: Sheet, words: string, gesture: string) => void>();
  const onStrip = vi.fn();
  const onNearLooks = vi.fn();
  render(
    <DialPanel
      catalogue={catalogue}
      sheet={{ plates: [plate], picture: { cutout: {}, crop: {} } } as unknown as Sheet}
      plate={plate}
      step={step}
      pxPerMm={4}
      pictures={pictures}
      onNearLooks={onNearLooks}
      sheetId={3}
      photo={{ title: "Barnaby", width: 6000, height: 4000, notes: [] } as unknown as PhotoRecord}
      onFlush={vi.fn()}
      hand={{ offered: [], isOn: false, tinted: {} } as unknown as Hand}
      cropping={{ isOn: false } as unknown as Cropping}
      onPairs={vi.fn()}
      onPick={vi.fn()}
      onChange={onChange}
      onStrip={onStrip}
      onTouch={vi.fn()}
      onOtherPhoto={vi.fn()}
      onStep={vi.fn()}
      asDrawn={false}
      onAsDrawn={vi.fn()}
      onChoosePlate={vi.fn()}
      onTrouble={vi.fn()}
    />,
  );
  const canvas = document.createElement("canvas");
  const answer = { view: "main", ask: 1, draft: false, suggestions } as unknown as Answer;
  act(() => pictures.put({ canvas, left: 0, top: 0, right: 1, bottom: 1, answer } as Picture));
  const changed = () => onChange.mock.lastCall![0].plates[0] as unknown as Record<string, never>;
  return { onChange, onStrip, onNearLooks, changed, pictures };
}

test("the dials of the look are there, and a typed value changes its own alone", () => {
  const { onChange, changed } = panel();
  const field = screen.getByLabelText("Level, value in mm");

  field.focus();
  fireEvent.change(field, { target: { value: "4,5" } });
  fireEvent.keyDown(field, { key: "Enter" });

  expect(changed().draw).toEqual({ look: "threshold", level: 4.5, edge: 1 });
  expect(onChange.mock.lastCall![1]).toBe("Draw: Level 4.5 mm");
  expect(screen.queryByLabelText("Softness, value in mm")).toBeNull();
});

test("a suggested value is offered at its dial, and when taken the dial follows the photo", () => {
  const { changed } = panel("draw", { "draw.level": 5.5 });

  fireEvent.click(screen.getByRole("button", { name: /Level: take 5.5/ }));

  expect(changed().draw).toEqual({ look: "threshold", level: 5.5, edge: 1 });
  expect(changed().fitted).toEqual(["draw.level"]);
});

test("all suggestions can be taken at once, and none are offered where dials stand there", () => {
  const { changed } = panel("draw", { "draw.level": 5.5, "draw.edge": 2, "tone.bend": 9 });

  fireEvent.click(screen.getByRole("button", { name: "Take all suggestions" }));
  expect(changed().draw).toEqual({ look: "threshold", level: 5.5, edge: 2 });
  cleanup();

  panel("draw", { "draw.level": 3 });
  expect(screen.queryByRole("button", { name: "Take all suggestions" })).toBeNull();
});

test("looks are drawn when the hand comes near their list, and not near that of ways to smooth", () => {
  const { onNearLooks } = panel("smooth");
  fireEvent.pointerEnter(screen.getByRole("button", { name: /other ways/ }).parentElement!);
  expect(onNearLooks).not.toHaveBeenCalled();
  cleanup();

  const { onNearLooks: atDraw } = panel("draw");
  fireEvent.pointerEnter(screen.getByRole("button", { name: /other looks/ }).parentElement!);
  expect(atDraw).toHaveBeenCalled();
});

test("another look starts at its own values, or as its small drawing was drawn", () => {
  const { changed, pictures } = panel();
  const choosePencil = () => {
    fireEvent.click(screen.getByRole("button", { name: /other looks/ }));
    fireEvent.click(screen.getByRole("button", { name: "Pencil" }));
  };

  choosePencil();
  expect(changed().draw).toEqual({ look: "pencil", softness: 2.2 });

  const canvas = document.createElement("canvas");
  const drawn_with = { look: "pencil", softness: 7 };
  const answer = { view: "look-pencil", ask: 1, drawn_with, fitted: ["draw.softness"] };
  act(() => pictures.put({ canvas, answer } as unknown as Picture));
  choosePencil();
  expect(changed().draw).toEqual(drawn_with);
  expect(changed().fitted).toEqual(["draw.softness"]);
});

test("switches and choices are what they say, and a dial shows only where it does something", () => {
  const { changed } = panel("tone");
  expect(screen.queryByLabelText("Bend, value in mm")).toBeNull();

  fireEvent.click(screen.getByLabelText(/^Invert/));
  expect(changed().tone).toMatchObject({ invert: true });
  fireEvent.click(screen.getByRole("button", { name: /Curve/, expanded: false }));
  fireEvent.click(screen.getByRole("button", { name: "steep" }));
  expect(changed().tone).toMatchObject({ curve: "steep" });
});

test("a test strip is asked for at its dial", () => {
  const { onStrip } = panel();

  fireEvent.click(screen.getByRole("button", { name: "Test strip of Level" }));

  expect(onStrip.mock.lastCall![0].name).toBe("level");
});

test("the photo has its words and no dials", () => {
  panel("photo");

  expect(screen.getByText("Barnaby")).toBeTruthy();
  expect(screen.queryByRole("slider")).toBeNull();
});
