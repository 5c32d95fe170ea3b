import { memo } from "react";
import { Button, Form } from "react-bootstrap";
import type { Catalogue, DialSpec, KindSpec, Plate, Sheet } from "../../api/client";
import { Dial } from "../../shared/Dial";
import { newGesture } from "../../shared/gesture";
import { useSteady } from "../../shared/steady";
import { dialKey } from "./dialFocus";
import { ColourDial } from "./ColourDial";
import { DialGroup } from "./DialGroup";
import { KindChooser } from "../choosing/KindChooser";
import { type Pictures, useRefusals, useSuggestions } from "../../live/pictures";
import {
  grouped,
  kindOf,
  type Settings,
  settingsOf,
  type Step,
  stepOf,
  valueWords,
  withSettings,
} from "../../sheet/stages";

interface DialPanelProps {
  catalogue: Catalogue;
  sheet: Sheet;
  plate: Plate;
  step: Step;
  pxPerMm: number;
  pictures: Pictures;
  photoWords: string;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  onStrip: (dial: DialSpec) => void;
  onTouch: (dial: DialSpec) => void;
  onOtherPhoto: () => void;
}

/** The chosen stage: what it does, its kinds, its dials. */
export function DialPanel(props: DialPanelProps) {
  const { catalogue, sheet, plate, step } = props;
  const suggestions = useSuggestions(props.pictures);
  const refusals = useRefusals(props.pictures);
  const settings = settingsOf(sheet, plate, step);
  const kind = kindOf(catalogue, step, settings);
  const { kinds, title, hint } = stepOf(catalogue, step);
  const used = (kind?.dials ?? []).filter((dial) => isUsed(dial, settings));
  const offered = (kind?.dials ?? []).filter((dial) => {
    const value = suggestions[`${step}.${dial.name}`];
    return value !== undefined && value !== settings[dial.name];
  });

  function set(dial: DialSpec, value: unknown, gesture: string) {
    const next = { ...settings, [dial.name]: value };
    const path = `${step}.${dial.name}`;
    const isSuggested = suggestions[path] === value && step !== "paper";
    const changed = withSettings(sheet, plate.id, step, next, isSuggested ? [path] : []);
    props.onChange(changed, `${title}: ${dial.label} ${valueWords(dial, next)}`, gesture);
  }

  function choose(chosen: KindSpec) {
    const tag = step === "draw" ? "look" : "kind";
    const starts = chosen.dials.map((dial) => [dial.name, dial.start] as const);
    // What the small drawing shows is what is taken.
    const shown = step === "draw" ? props.pictures.get(`look-${chosen.name}`)?.answer : undefined;
    const next: Settings = shown?.drawn_with ?? {
      ...Object.fromEntries(starts),
      [tag]: chosen.name,
    };
    props.onChange(
      withSettings(sheet, plate.id, step, next, shown?.fitted),
      `${title}: ${chosen.label}`,
      newGesture(),
    );
  }

  function takeAll() {
    const values = Object.fromEntries(
      offered.map((dial) => [dial.name, suggestions[`${step}.${dial.name}`]]),
    );
    const paths = Object.keys(values).map((name) => `${step}.${name}`);
    props.onChange(
      withSettings(sheet, plate.id, step, { ...settings, ...values }, paths),
      `${title}: suggested values`,
      newGesture(),
    );
  }

  const { onStrip, onTouch } = props;
  const { onChoose, ...turning } = useSteady({ onChoose: choose, onSet: set, onStrip, onTouch });

  return (
    <section className="dials" aria-labelledby="dials-title">
      <h1 id="dials-title">{title}</h1>
      <p className="dials-hint">{hint}</p>
      {step === "photo" && (
        <>
          <p>{props.photoWords}</p>
          <p>
            <Button size="sm" variant="plain" onClick={props.onOtherPhoto}>
              Another photo under this sheet…
            </Button>
          </p>
        </>
      )}
      {kinds.length > 1 && step !== "paper" && (
        <KindChooser
          key={step}
          kinds={kinds}
          chosen={kind?.name ?? ""}
          label={step === "draw" ? "Look" : "Way to smooth"}
          others={step === "draw" ? "other looks" : "other ways"}
          pictures={step === "draw" ? props.pictures : undefined}
          refusals={refusals}
          onChoose={onChoose}
        />
      )}
      <div className="dials-list">
        {grouped(used).map(([group, dials], place) => (
          <DialGroup
            key={`${step}-${kind?.name}-${group}`}
            title={group}
            isOpen={place === 0 || dials.some((dial) => settings[dial.name] !== dial.start)}
          >
            {dials.map((dial) => (
              <OneDial
                key={`${kind?.name}-${dial.name}`}
                step={step}
                dial={dial}
                value={settings[dial.name]}
                suggested={suggestions[`${step}.${dial.name}`]}
                pxPerMm={props.pxPerMm}
                {...turning}
              />
            ))}
          </DialGroup>
        ))}
      </div>
      {offered.length > 0 && (
        <p className="dials-offer">
          <span aria-hidden="true">▴</span> suggested for this photo.{" "}
          <Button variant="link" className="p-0 align-baseline" onClick={takeAll}>
            Take all suggestions
          </Button>
        </p>
      )}
    </section>
  );
}

/** Whether a dial does anything with the choices made beside it. */
function isUsed(dial: DialSpec, settings: Settings): boolean {
  return Object.entries(dial.only_for).every(([name, values]) =>
    values.includes(String(settings[name])),
  );
}

interface OneDialProps {
  step: Step;
  dial: DialSpec;
  value: unknown;
  suggested: number | undefined;
  pxPerMm: number;
  onSet: (dial: DialSpec, value: unknown, gesture: string) => void;
  onStrip: (dial: DialSpec) => void;
  onTouch: (dial: DialSpec) => void;
}

/** Drawn again when its own value changes: a drag turns one of many. */
const OneDial = memo(function OneDial(props: OneDialProps) {
  const { step, dial, value, suggested, pxPerMm, ...on } = props;
  const onSet = (next: unknown, gesture: string) => on.onSet(dial, next, gesture);
  switch (dial.kind) {
    case "switch":
      return (
        <Form.Check
          type="switch"
          id={`switch-${dial.name}`}
          className="dial"
          data-dial={dialKey({ step, dial: dial.name })}
          label={`${dial.label}: ${dial.hint.toLowerCase()}`}
          checked={Boolean(value)}
          onChange={(event) => onSet(event.currentTarget.checked, newGesture())}
        />
      );
    case "choice":
      return (
        <Form.Group
          className="dial"
          controlId={`choice-${dial.name}`}
          data-dial={dialKey({ step, dial: dial.name })}
        >
          <Form.Label>{dial.label}</Form.Label>
          <Form.Select
            size="sm"
            value={String(value)}
            onChange={(event) => onSet(event.currentTarget.value, newGesture())}
          >
            {dial.options.map((option) => (
              <option key={option}>{option}</option>
            ))}
          </Form.Select>
          <span className="dial-hint">{dial.hint}</span>
        </Form.Group>
      );
    case "colour":
      return (
        <ColourDial
          reference={dialKey({ step, dial: dial.name })}
          spec={dial}
          value={String(value)}
          onChange={onSet}
        />
      );
    default:
      return (
        <Dial
          reference={dialKey({ step, dial: dial.name })}
          spec={dial}
          value={Number(value)}
          suggested={suggested}
          pxPerMm={pxPerMm}
          onChange={onSet}
          onStrip={() => on.onStrip(dial)}
          onTouch={() => on.onTouch(dial)}
        />
      );
  }
});
