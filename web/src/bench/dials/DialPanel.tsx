import type { ReactNode } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { Catalogue, DialSpec, KindSpec, PhotoRecord, Plate, Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { mmOfOne } from "../../shared/numbers";
import { useSteady } from "../../shared/steady";
import { SmallProof } from "../../live/SmallProof";
import { type Pictures, useLying, useSuggestions } from "../../live/pictures";
import { lookView } from "../../live/views";
import {
  grouped,
  idleFor,
  isAtStart,
  isUsed,
  kindOf,
  type Settings,
  settingsOf,
  type Step,
  stepOf,
  titleOf,
  valueWords,
  withSettings,
} from "../../sheet/stages";
import { Chooser } from "../choosing/Chooser";
import { LiveOptions } from "../choosing/LiveOptions";
import { OptionList } from "../choosing/OptionList";
import { drawnWith, useLateLook } from "../choosing/useLateLook";
import { CropFace } from "../cropping/CropFace";
import type { Cropping } from "../cropping/useCropping";
import type { Hand } from "../hand/useHand";
import { HandFace } from "../hand/HandFace";
import { plateLabel } from "../../sheet/plates";
import { LaidNumbers } from "../placing/LaidNumbers";
import { SourceFace } from "../placing/SourceFace";
import { DialGroup } from "./DialGroup";
import { LiveMarks } from "./LiveMarks";
import { OneDial } from "./OneDial";
import { PaperPixels } from "./PaperPixels";
import { PaperSize } from "./PaperSize";
import { PatternFace } from "./PatternFace";
import { PhotoFace } from "./PhotoFace";

interface DialPanelProps {
  catalogue: Catalogue;
  sheetId: number;
  sheet: Sheet;
  plate: Plate;
  step: Step;
  pxPerMm: number;
  pictures: Pictures;
  /** Have each look drawn small. */
  onNearLooks: () => void;
  hand: Hand;
  cropping: Cropping;
  photo: PhotoRecord;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  /** Save what is not saved yet, before the server is asked about the sheet. */
  onFlush: () => Promise<boolean>;
  onStrip: (dial: DialSpec) => void;
  onPairs: (on: "lights" | "paper") => void;
  onTouch: (dial: DialSpec) => void;
  onPick: (dial: DialSpec) => void;
  onOtherPhoto: () => void;
  onStep: (step: Step) => void;
  /** Whether what is scaled on the sheet keeps its drawing as it is. */
  asDrawn: boolean;
  onAsDrawn: (asDrawn: boolean) => void;
  onChoosePlate: (plate: string) => void;
  onTrouble: (sentence: string) => void;
  /** What lies over the column. */
  children?: ReactNode;
}

/** The chosen stage: what it does, its kinds, its dials. */
export function DialPanel(props: DialPanelProps) {
  const { catalogue, sheet, plate, step, hand } = props;
  const suggestions = useSuggestions(props.pictures);
  const settings = settingsOf(sheet, plate, step);
  const kind = kindOf(catalogue, step, settings);
  const { hint } = stepOf(catalogue, step);
  const title = titleOf(catalogue, plate, step);
  const lying = useLying(props.pictures).find((each) => each.plate === plate.id);
  const isMade = step === "photo" && plate.source.kind !== "picture";
  const used = (kind?.dials ?? []).filter((dial) => isUsed(dial, settings));
  const offered = used.filter((dial) => {
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

  const { onStrip, onTouch, onPick } = props;
  const turning = useSteady({ onSet: set, onStrip, onTouch, onPick });

  return (
    <section className="dials" aria-labelledby="dials-title" data-area="the dials">
      {props.children}
      <div className="dials-head">
        <h1 id="dials-title">{title}</h1>
        {hand.offered.length > 0 && (
          <ButtonGroup size="sm" aria-label="Face of this stage">
            <Button
              variant="plain"
              active={!hand.isOn}
              aria-pressed={!hand.isOn}
              onClick={() => hand.show(false)}
            >
              Dials
            </Button>
            <Button
              variant="plain"
              active={hand.isOn}
              aria-pressed={hand.isOn}
              onClick={() => hand.show(true)}
            >
              Hand{hand.hasWork && " ●"}
            </Button>
          </ButtonGroup>
        )}
      </div>
      {hand.isOn ? (
        <HandFace hand={hand} />
      ) : (
        <p className="dials-intro">{isMade ? kind?.purpose : hint}</p>
      )}
      {props.plate.follows && step !== "ink" && step !== "paper" && (
        <p className="soft">
          {props.plate.own.includes(step)
            ? "This stage is its own."
            : `In step with ${plateLabel(sheet, plate.follows)}: a dial turned here makes it its own.`}
        </p>
      )}
      {isMade && (
        <SourceFace
          catalogue={catalogue}
          sheetId={props.sheetId}
          sheet={sheet}
          plate={plate}
          lying={lying}
          asDrawn={props.asDrawn}
          onAsDrawn={props.onAsDrawn}
          onChange={props.onChange}
          onChoosePlate={props.onChoosePlate}
          onFlush={props.onFlush}
          onTrouble={props.onTrouble}
        />
      )}
      {step === "photo" && plate.source.kind === "photo" && !hand.isOn && (
        <CropFace cropping={props.cropping} />
      )}
      {step === "photo" && plate.source.kind === "picture" && !hand.isOn && (
        <>
          {lying && (
            <LaidNumbers
              sheet={sheet}
              plate={plate}
              lying={lying}
              asDrawn={props.asDrawn}
              onAsDrawn={props.onAsDrawn}
              onChange={props.onChange}
            />
          )}
          <PhotoFace photo={props.photo} onOtherPhoto={props.onOtherPhoto} />
          <CropFace cropping={props.cropping} />
        </>
      )}
      {step === "paper" && (
        <PaperSize
          cuts={catalogue.cuts}
          photo={props.photo}
          sheet={sheet}
          onChange={props.onChange}
        />
      )}
      {!hand.isOn && <Kinds {...props} kind={kind} settings={settings} title={title} />}
      {!hand.isOn && step === "draw" && settings.dot === "picture" && (
        <PatternFace
          pattern={String(settings.pattern ?? "")}
          onTake={(pattern, words) =>
            props.onChange(
              withSettings(sheet, plate.id, step, { ...settings, pattern }),
              `${title}: dots are ${words}`,
              newGesture(),
            )
          }
        />
      )}
      <div className="dials-list" hidden={hand.isOn}>
        {grouped(used).map(([group, dials], place) => (
          <DialGroup
            key={`${step}-${kind?.name}-${group}`}
            title={group}
            isOpen={place === 0 || dials.some((dial) => !isAtStart(dial, settings))}
          >
            {dials.map((dial) => (
              <OneDial
                key={`${kind?.name}-${dial.name}`}
                catalogue={catalogue}
                sheet={sheet}
                plate={plate}
                step={step}
                dial={dial}
                value={settings[dial.name]}
                suggested={suggestions[`${step}.${dial.name}`]}
                pxPerMm={props.pxPerMm}
                mmOfOne={mmOfOne(dial, settings)}
                idleFor={idleFor(dial, settings, used)}
                {...turning}
              />
            ))}
            {place === 0 && kind?.sized_by && (
              <LiveMarks
                sheetId={props.sheetId}
                sheet={sheet}
                plate={plate}
                kind={kind}
                many={catalogue.limits.marks}
                pictures={props.pictures}
                onChange={props.onChange}
                onFlush={props.onFlush}
              />
            )}
          </DialGroup>
        ))}
        {step === "ink" && (
          <>
            <Form.Check
              type="switch"
              id="mask-tinted"
              className="dial"
              label="Tint where this plate does not print"
              checked={hand.tinted.mask}
              onChange={(event) => hand.setTinted({ mask: event.currentTarget.checked })}
            />
            <Pairs onPairs={props.onPairs} />
          </>
        )}
        {step === "smooth" && kind?.name !== "none" && (
          <Button size="sm" variant="plain" onClick={() => props.onStep("again")}>
            Smooth once more…
          </Button>
        )}
        {step === "paper" && <PaperPixels sheet={sheet} onChange={props.onChange} />}
      </div>
      {offered.length > 0 && !hand.isOn && (
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

interface KindsProps extends DialPanelProps {
  kind: KindSpec | undefined;
  settings: Settings;
  title: string;
}

/** The looks, or the ways to smooth, in a row that opens. */
function Kinds(props: KindsProps) {
  const { catalogue, sheet, plate, step, kind, pictures } = props;
  const { kinds } = stepOf(catalogue, step);
  const tellLate = useLateLook(pictures, sheet, plate.id, props.onChange);
  if (kinds.length < 2 || step === "paper" || step === "photo") return null;

  function choose(name: string) {
    const chosen = kinds.find((each) => each.name === name)!;
    if (chosen === kind) return;
    const tag = step === "draw" ? "look" : "kind";
    const starts = chosen.dials.map((dial) => [dial.name, dial.start] as const);
    // What the small drawing shows is what is taken.
    const shown = step === "draw" ? drawnWith(pictures, name) : undefined;
    const next: Settings = shown?.drawn_with ?? { ...Object.fromEntries(starts), [tag]: name };
    const changed = withSettings(sheet, plate.id, step, next, shown?.fitted);
    const [words, gesture] = [`${props.title}: ${chosen.label}`, newGesture()];
    props.onChange(changed, words, gesture);
    if (step === "draw" && !shown)
      tellLate({ look: name, plate: plate.id, sheet: changed, words, gesture });
  }

  const options = kinds.map(({ name, label, purpose }) => ({
    name,
    label,
    hint: purpose,
    also: "",
  }));
  const list = { options, chosen: kind?.name ?? "" };
  return (
    <Chooser
      key={step}
      chosen={kind?.label ?? ""}
      title={kind?.purpose}
      others={step === "draw" ? "other looks" : "other ways"}
      picture={<SmallProof pictures={pictures} id={`run-${step}`} />}
      onNear={step === "draw" ? props.onNearLooks : undefined}
    >
      {(close, id) =>
        step === "draw" ? (
          <OptionList
            {...list}
            id={id}
            label="Look"
            pictures={pictures}
            viewId={lookView}
            onChoose={(name) => {
              choose(name);
              close();
            }}
          />
        ) : (
          <LiveOptions
            {...list}
            id={id}
            label="Way to smooth"
            sheet={sheet}
            plateId={plate.id}
            path={`${step}.kind`}
            what={step === "again" ? SMOOTHED_AGAIN : SMOOTHED}
            onChoose={(name) => {
              choose(name);
              close();
            }}
          />
        )
      }
    </Chooser>
  );
}

const SMOOTHED = { what: "stage", stage: "smooth" } as const;
const SMOOTHED_AGAIN = { what: "stage", stage: "again" } as const;

/** Two colours that work together, each pair seen on this sheet. */
function Pairs({ onPairs }: { onPairs: (on: "lights" | "paper") => void }) {
  return (
    <div className="dial-pairs">
      <span className="form-label">Pairs that work together</span>
      <Button size="sm" variant="plain" onClick={() => onPairs("lights")}>
        Darks and lights…
      </Button>
      <Button size="sm" variant="plain" onClick={() => onPairs("paper")}>
        Ink and paper…
      </Button>
    </div>
  );
}
