import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { DialSpec } from "../../api/client";
import { Dial } from "../../shared/Dial";
import { useRoving } from "../../shared/roving";
import { CUTOUT_VIEWS, type Hand, START } from "./useHand";

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
      <Form.Check
        type="switch"
        id="hand-by-area"
        className="dial"
        label="Go round an area instead of brushing"
        checked={brush.by === "area"}
        onChange={(event) => setBrush({ by: event.currentTarget.checked ? "area" : "brush" })}
      />
      <Dial spec={SIZE} value={brush.sizeMm} onChange={(sizeMm) => setBrush({ sizeMm })} />
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
      <Form.Check
        type="switch"
        id="hand-pressure"
        className="dial"
        label="A pen’s pressure narrows it"
        checked={brush.hasPressure}
        onChange={(event) => setBrush({ hasPressure: event.currentTarget.checked })}
      />
      <Form.Check
        type="switch"
        id="hand-hidden"
        className="dial"
        label="Show the drawing without this stage’s hand work"
        disabled={!hand.hasWork}
        checked={hand.isHidden}
        onChange={(event) => hand.hide(event.currentTarget.checked)}
      />
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
        Space sets a dab or a corner, Enter closes an area.
      </p>
    </div>
  );
}
