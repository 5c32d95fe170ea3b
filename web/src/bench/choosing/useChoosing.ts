import { useCallback, useState } from "react";
import type { DialSpec } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { type Changed, withShown } from "../../sheet/plates";
import {
  kindOf,
  neighbour,
  settingsOf,
  type Step,
  stepOf,
  valueWords,
  withSettings,
} from "../../sheet/stages";
import type { TheBench } from "../theBench";

/** Which plate, stage and dial are worked on, and the test strip that lies over a dial. */
export function useChoosing({ work, sheet, catalogue }: TheBench) {
  const [step, setStep] = useState<Step>("draw");
  const [plateId, setPlateId] = useState("");
  const [touched, setTouched] = useState("");
  const [strip, setStrip] = useState<DialSpec | null>(null);
  const plate = sheet.plates.find((each) => each.id === plateId) ?? sheet.plates[0]!;
  const settings = settingsOf(sheet, plate, step);
  const dials = (kindOf(catalogue, step, settings)?.dials ?? []).filter(
    (dial) => dial.kind === "dial",
  );

  const choose = useCallback((next: Step) => {
    setStep(next);
    setStrip(null);
  }, []);

  function changePlates(changed: Changed) {
    work.change(changed.sheet, changed.words, newGesture());
    setPlateId(changed.chosen);
  }

  function takeFromStrip(values: Record<string, number>) {
    const next = { ...settings, ...values };
    const words = dials
      .filter((dial) => dial.name in values)
      .map((dial) => `${dial.label} ${valueWords(dial, next)}`);
    work.change(
      withSettings(sheet, plate.id, step, next),
      `${stepOf(catalogue, step).title}: ${words.join(", ")}`,
      newGesture(),
    );
    setStrip(null);
  }

  return {
    step,
    choose,
    plate,
    settings,
    dials,
    strip,
    setStrip,
    changePlates,
    takeFromStrip,
    choosePlate: setPlateId,
    touch: (dial: DialSpec) => setTouched(dial.name),
    /** Lay a test strip over the dial last touched, or the first one. */
    stripOfTouched: () => setStrip(dials.find((dial) => dial.name === touched) ?? dials[0] ?? null),
    earlier: () => choose(neighbour(catalogue, step, -1)),
    later: () => choose(neighbour(catalogue, step, +1)),
    nextPlate: () => {
      const next = (sheet.plates.indexOf(plate) + 1) % sheet.plates.length;
      setPlateId(sheet.plates[next]!.id);
    },
    hidePlate: () => changePlates(withShown(sheet, plate.id, !plate.shown)),
  };
}

export type Choosing = ReturnType<typeof useChoosing>;
