import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { DialSpec } from "../../api/client";
import { Dial } from "../../shared/Dial";
import { useRoving } from "../../shared/roving";
import { CUTOUT_VIEWS, type Hand, type KeptTo, START } from "./useHand";

/** What a dial from nothing to all of something has. */
const SHARE: Omit<DialSpec, "name" | "label" | "hint" | "start"> = {
  kind: "dial",
  unit: "",
  minimum: 0,
  maximum: 1,
  low: 0,
  high: 1,
  step: 0.02,
  options: [],
  only_for: {},
  group: "",
  mm_of_one: {},
  mm_times: "",
  idle_at: {},
};
/** The brush's own dials; they belong to nobody's sheet. */
const SIZE: DialSpec = {
  ...SHARE,
  name: "size",
  label: "Size",
  hint: "How wide the brush is on paper",
  start: START.sizeMm,
  unit: "mm",
  minimum: 0.2,
  maximum: 200,
  low: 1,
  high: 60,
  step: 0.5,
};
const HARDNESS: DialSpec = {
  ...SHARE,
  name: "hardness",
  label: "Hardness",
  hint: "How far its edge is full",
  start: START.hardness,
};
const STRENGTH: DialSpec = {
  ...SHARE,
  name: "strength",
  label: "Strength",
  hint: "How much one stroke does",
  start: START.strength,
};

const BY = [
  ["brush", "Brush", "Paint along the pointer"],
  [
    "points",
    "Point by point",
    "Press for each point; a press on the last one, or Enter, ends the line",
  ],
  ["area", "Round an area", "Go round it, or press for each corner and on the first to end"],
  ["piece", "A piece", "Press on ink or paper: all that hangs together, spread by the size"],
  ["alike", "All like it", "Press on a piece: all about as large and as long are taken"],
] as const;
const KEPT: [KeptTo, string][] = [
  ["everywhere", "Everywhere"],
  ["subject", "The subject"],
  ["backdrop", "The backdrop"],
];
const FROM: DialSpec = {
  ...SHARE,
  name: "from",
  label: "Tones from",
  hint: "Black is 0",
  start: 0,
};
const TO: DialSpec = { ...SHARE, name: "to", label: "Tones to", hint: "White is 1", start: 1 };

/** Where strokes may go, so that a spray never strays. */
function Kept({ brush, setBrush }: Pick<Hand, "brush" | "setBrush">) {
  return (
    <details className="hand-kept">
      <summary>Kept to {brush.keptTo === "everywhere" ? "all tones and parts" : "a part"}</summary>
      <Form.Select
        size="sm"
        aria-label="Strokes are kept to"
        value={brush.keptTo}
        onChange={(event) => setBrush({ keptTo: event.currentTarget.value as KeptTo })}
      >
        {KEPT.map(([name, label]) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
      </Form.Select>
      <Dial spec={FROM} value={brush.toneFrom} onChange={(toneFrom) => setBrush({ toneFrom })} />
      <Dial spec={TO} value={brush.toneTo} onChange={(toneTo) => setBrush({ toneTo })} />
    </details>
  );
}

/** What the hand can do at this stage: verbs, the brush, and what takes it back. */
export function HandFace({ hand }: { hand: Hand }) {
  const { brush, setBrush } = hand;
  const roving = useRoving<HTMLDivElement>();
  return (
    <div className="hand-face">
      <div className="hand-verbs" role="group" aria-label="What the hand does" {...roving}>
        {hand.offered.map((each) => (
          <button
            key={each.name}
            type="button"
            className="kind"
            aria-pressed={each.name === hand.verb}
            title={each.hint}
            onClick={() => hand.choose(each.name)}
          >
            <span className="kind-name">{each.label}</span>
            <span className="kind-also">{each.hint}</span>
          </button>
        ))}
      </div>
      {hand.cutoutView && (
        <div className="hand-seen">
          <span className="form-label">Seen</span>
          <ButtonGroup size="sm" aria-label="How the cutout is seen">
            {CUTOUT_VIEWS.map(([name, label]) => (
              <Button
                key={name}
                variant="plain"
                active={hand.cutoutView === name}
                aria-pressed={hand.cutoutView === name}
                onClick={() => hand.see(name)}
              >
                {label}
              </Button>
            ))}
          </ButtonGroup>
        </div>
      )}
      <ButtonGroup size="sm" aria-label="How the hand goes" className="hand-by">
        {BY.filter(([by]) => hand.ways.includes(by)).map(([by, label, hint]) => (
          <Button
            key={by}
            variant="plain"
            active={brush.by === by}
            aria-pressed={brush.by === by}
            title={hint}
            onClick={() => setBrush({ by })}
          >
            {label}
          </Button>
        ))}
      </ButtonGroup>
      <Dial spec={SIZE} value={brush.sizeMm} onChange={(sizeMm) => setBrush({ sizeMm })} />
      {!hand.isLines && (
        <>
          <Dial
            spec={HARDNESS}
            value={brush.hardness}
            onChange={(hardness) => setBrush({ hardness })}
          />
          <Dial
            spec={STRENGTH}
            value={brush.strength}
            onChange={(strength) => setBrush({ strength })}
          />
        </>
      )}
      <Form.Check
        type="switch"
        id="hand-pressure"
        className="dial"
        label="A pen’s pressure narrows it"
        checked={brush.hasPressure}
        onChange={(event) => setBrush({ hasPressure: event.currentTarget.checked })}
      />
      {hand.takesPieces && <Kept brush={brush} setBrush={setBrush} />}
      <Form.Check
        type="switch"
        id="hand-hidden"
        className="dial"
        label="Show the drawing without this stage’s hand work"
        disabled={!hand.hasWork}
        checked={hand.isHidden}
        onChange={(event) => hand.hide(event.currentTarget.checked)}
      />
      {hand.takesPieces && (
        <Form.Check
          type="switch"
          id="hand-touched"
          className="dial"
          label="Tint what the hand touched at this stage"
          checked={hand.tinted.touched}
          onChange={(event) => hand.setTinted({ touched: event.currentTarget.checked })}
        />
      )}
      {hand.canSetApart && (
        <Button
          size="sm"
          variant="plain"
          active={hand.isApart}
          aria-pressed={hand.isApart}
          onClick={() => hand.setApart(!hand.isApart)}
        >
          {hand.isApart ? "Go round the area on the sheet" : "Draw an area otherwise…"}
        </Button>
      )}
      <div className="hand-acts">
        <Button
          size="sm"
          variant="plain"
          disabled={!hand.hasWork}
          onClick={() => void hand.takeBack("last")}
        >
          Take back the last
        </Button>
        <Button
          size="sm"
          variant="plain"
          disabled={!hand.hasWork}
          onClick={() => void hand.takeBack("all")}
        >
          Take back all
        </Button>
      </div>
      <p className="soft">
        Paint on the sheet. Shift draws straight from where the last stroke ended; Alt with the
        wheel sizes the brush; the middle button moves the sheet. By keys: arrows move a cross,
        Space sets a dab or a corner, Enter ends an area or a line of points, Backspace takes its
        last corner back.
      </p>
    </div>
  );
}
