import { useCallback, useState } from "react";
import type { DialSpec } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { type Changed, withShown } from "../../sheet/plates";
import {
  isUsed,
  kindOf,
  neighbour,
  runOf,
  type Settings,
  settingsOf,
  type Step,
  stepOf,
  withValues,
} from "../../sheet/stages";
import { type StripOf, stripOf } from "../bed/strip";
import type { TheBench } from "../theBench";

/** Which plate, stage and dial are worked on, and the test strip that lies over a dial. */
export function useChoosing({ work, sheet, catalogue }: TheBench) {
  const [step, setStep] = useState<Step>("draw");
  const [plateId, setPlateId] = useState("");
  const [touched, setTouched] = useState("");
  const [strip, setStrip] = useState<StripOf | null>(null);
  const plate = sheet.plates.find((each) => each.id === plateId) ?? sheet.plates[0]!;
  const settings = settingsOf(sheet, plate, step);
  const dials = (kindOf(catalogue, step, settings)?.dials ?? []).filter((dial) =>
    isUsed(dial, settings),
  );
  const run = runOf(catalogue, plate, step);
  const last = dials.find((dial) => dial.name === touched) ?? dials[0];

  const choose = useCallback((next: Step) => {
    setStep(next);
    setStrip(null);
  }, []);

  function changePlates(changed: Changed) {
    work.change(changed.sheet, changed.words, newGesture());
    setPlateId(changed.chosen);
  }

  function takeFromStrip(values: Settings, words: string) {
    const { title } = stepOf(catalogue, strip?.step ?? step);
    const changed = withValues(sheet, plate.id, values);
    const said = strip?.dial ? words : `${strip?.title.toLowerCase()} ${words.toLowerCase()}`;
    work.change(changed, `${title}: ${said}`, newGesture());
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
    /** The dial last touched, or the first one. */
    last,
    /** Lay a test strip over a dial. */
    layStrip: (dial: DialSpec) => setStrip(stripOf(catalogue, step, dial)),
    stripOfTouched: () => setStrip(last ? stripOf(catalogue, step, last) : null),
    /** What the sheet has at a path, "step.name". */
    now: (path: string) => {
      const [of, name] = path.split(".") as [Step, string];
      return settingsOf(sheet, plate, of)[name];
    },
    earlier: () => choose(neighbour(run, step, -1)),
    later: () => choose(neighbour(run, step, +1)),
    nextPlate: () => {
      const next = (sheet.plates.indexOf(plate) + 1) % sheet.plates.length;
      setPlateId(sheet.plates[next]!.id);
    },
    hidePlate: () => changePlates(withShown(sheet, plate.id, !plate.shown)),
  };
}

export type Choosing = ReturnType<typeof useChoosing>;
