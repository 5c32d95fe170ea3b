import { memo } from "react";
import { Form } from "react-bootstrap";
import type { Catalogue, DialSpec, Plate, Pull, Sheet } from "../../api/client";
import { Dial } from "../../shared/Dial";
import { newGesture } from "../../shared/gesture";
import { inMm } from "../../shared/numbers";
import type { Step } from "../../sheet/stages";
import { ChoiceDial } from "./ChoiceDial";
import { ColourDial } from "./ColourDial";
import { dialKey } from "./dialFocus";
import { HueRing } from "./HueRing";

export interface OneDialProps {
  catalogue: Catalogue;
  sheet: Sheet;
  plate: Plate;
  step: Step;
  dial: DialSpec;
  value: unknown;
  suggested: number | undefined;
  pxPerMm: number;
  /** Of a multiple, how many mm once is; null of all others. */
  mmOfOne: number | null;
  /** What has to be turned before this does anything; "" where it does. */
  idleFor: string;
  onSet: (dial: DialSpec, value: unknown, gesture: string) => void;
  onStrip: (dial: DialSpec) => void;
  onTouch: (dial: DialSpec) => void;
  /** Take a colour from the photo or the sheet. */
  onPick: (dial: DialSpec) => void;
}

/** A dial of any kind, drawn again when its own value changes: a drag turns one of many. */
export const OneDial = memo(function OneDial(props: OneDialProps) {
  const { step, dial, value, suggested, pxPerMm, mmOfOne, idleFor, ...on } = props;
  const onSet = (next: unknown, gesture: string) => on.onSet(dial, next, gesture);
  const reference = dialKey({ step, dial: dial.name });
  const onStrip = () => on.onStrip(dial);
  const onTouch = () => on.onTouch(dial);
  switch (dial.kind) {
    case "switch":
      return (
        <Form.Check
          type="switch"
          id={`switch-${dial.name}`}
          className="dial"
          data-dial={reference}
          label={`${dial.label}: ${dial.hint.toLowerCase()}`}
          checked={Boolean(value)}
          onChange={(event) => onSet(event.currentTarget.checked, newGesture())}
        />
      );
    case "choice":
      return (
        <ChoiceDial
          reference={reference}
          sheet={props.sheet}
          plateId={props.plate.id}
          step={step}
          spec={dial}
          value={String(value)}
          onChange={onSet}
          onStrip={onStrip}
          onTouch={onTouch}
        />
      );
    case "colour":
      return (
        <ColourDial
          reference={reference}
          spec={dial}
          pots={potsFor(props.catalogue, step)}
          value={String(value)}
          onChange={onSet}
          onStrip={onStrip}
          onTouch={onTouch}
          onPick={() => on.onPick(dial)}
        />
      );
    case "ring":
      return (
        <HueRing
          reference={reference}
          spec={dial}
          points={value as Pull[]}
          onChange={onSet}
          onPick={() => on.onPick(dial)}
        />
      );
    default:
      return (
        <Dial
          reference={reference}
          spec={inMm(dial, mmOfOne)}
          value={Number(value) * (mmOfOne ?? 1)}
          suggested={suggested === undefined ? undefined : suggested * (mmOfOne ?? 1)}
          pxPerMm={pxPerMm}
          idleFor={idleFor}
          onChange={(next, gesture) => onSet(ofOne(next, mmOfOne), gesture)}
          onStrip={onStrip}
          onTouch={onTouch}
        />
      );
  }
}, isSame);

/** A value in mm as the multiple that it is. */
function ofOne(value: number, mm: number | null): number {
  return mm === null ? value : Number((value / mm).toFixed(4));
}

/** Only a choice is drawn on the sheet; other dials do not change with the rest of it. */
function isSame(before: OneDialProps, now: OneDialProps): boolean {
  const names = Object.keys(now) as (keyof OneDialProps)[];
  return names.every(
    (name) =>
      before[name] === now[name] ||
      ((name === "sheet" || name === "plate") && now.dial.kind !== "choice"),
  );
}

function potsFor({ colours }: Catalogue, step: Step) {
  return step === "paper" ? [...colours.papers, ...colours.cloths] : colours.inks;
}
