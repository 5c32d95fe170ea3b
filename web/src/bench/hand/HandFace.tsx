import { Button, Form } from "react-bootstrap";
import type { DialSpec } from "../../api/client";
import { Dial } from "../../shared/Dial";
import { useRoving } from "../../shared/roving";
import type { Hand } from "./useHand";

/** The brush's own dials; they belong to nobody's sheet. */
const SIZE = spec("size", "Size", "How wide the brush is on paper", "mm", 0.2, 200, 1, 60, 0.5);
const HARDNESS = spec("hardness", "Hardness", "How far its edge is full", "", 0, 1, 0, 1, 0.02);
const STRENGTH = spec("strength", "Strength", "How much one stroke does", "", 0, 1, 0, 1, 0.02);

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

function spec(
  name: string,
  label: string,
  hint: string,
  unit: string,
  minimum: number,
  maximum: number,
  low: number,
  high: number,
  step: number,
): DialSpec {
  return {
    name,
    kind: "dial",
    label,
    hint,
    unit,
    minimum,
    maximum,
    low,
    high,
    step,
    start: name === "size" ? 14 : name === "hardness" ? 0.5 : 1,
    options: [],
    only_for: {},
    group: "",
  };
}
