import { useId, useRef, useState } from "react";
import { Form } from "react-bootstrap";
import type { DialSpec } from "../api/client";
import { newGesture } from "./gesture";
import { formatted, placeOnTrack, typedValue, withUnit } from "./numbers";
import { Tip } from "./Tip";
import { StripMark } from "./StripMark";
import { useTyped } from "./useTyped";

const BIG_STEP = 10;

interface DialProps {
  /** What the dial is found by on the page. */
  reference?: string;
  spec: DialSpec;
  value: number;
  suggested?: number;
  pxPerMm?: number;
  /** What has to be turned before this does anything; "" where it does. */
  idleFor?: string;
  /** gesture is the same for all changes of one drag, so that they undo as one step. */
  onChange: (value: number, gesture: string) => void;
  /** Lays a test strip over this dial. */
  onStrip?: (() => void) | undefined;
  onTouch?: (() => void) | undefined;
}

/** A labelled slider with a typed value. Limits, step, unit and words come from the server. */
export function Dial({ reference, spec, value, suggested, pxPerMm, idleFor, ...on }: DialProps) {
  const { onChange, onStrip, onTouch } = on;
  const id = useId();
  const gesture = useRef(newGesture());
  const big = useRef(false);
  const track = useRef<HTMLInputElement>(null);
  const typed = useRef<HTMLInputElement>(null);
  const hint = idleFor ? `Does nothing until ${idleFor} is turned` : spec.hint;

  function turn(next: number) {
    const by = next - value;
    // The browser moves a range by one step a key; with Shift we go further the same way.
    const goal = big.current ? value + Math.sign(by) * spec.step * BIG_STEP : next;
    onChange(tidy(spec, Math.min(spec.high, Math.max(spec.low, goal))), gesture.current);
  }

  function beginGesture() {
    onTouch?.();
    gesture.current = newGesture();
  }

  function reset() {
    beginGesture();
    onChange(spec.start as number, gesture.current);
  }

  return (
    <Form.Group className={idleFor ? "dial idle" : "dial"} controlId={id} data-dial={reference}>
      <div className="dial-head">
        <Form.Label title="Double-click: starting value" onDoubleClick={reset}>
          {spec.label}
        </Form.Label>
        <TypedValue
          field={typed}
          spec={spec}
          value={value}
          onChange={(typed) => onChange(typed, newGesture())}
          onLeave={() => track.current?.focus()}
        />
        <span className="dial-unit">{spec.unit}</span>
        {onStrip && <StripMark label={spec.label} onStrip={onStrip} />}
      </div>
      <Form.Range
        ref={track}
        min={spec.low}
        max={spec.high}
        step={spec.step}
        value={value}
        aria-describedby={`${id}-hint`}
        aria-valuetext={withUnit(spec, formatted(spec, value))}
        onPointerDown={beginGesture}
        onKeyDown={(event) => {
          big.current = event.shiftKey;
          if (event.key !== "Enter" && event.key !== "Backspace") return;
          event.preventDefault();
          event.stopPropagation();
          if (event.key === "Enter") typed.current?.focus();
          else reset();
        }}
        onFocus={beginGesture}
        onDoubleClick={reset}
        onChange={(event) => turn(event.currentTarget.valueAsNumber)}
      />
      <div className="dial-foot">
        <span className="dial-hint" id={`${id}-hint`}>
          <span title={hint}>{hint}</span>
          {spec.unit === "mm" && pxPerMm !== undefined && (
            <span title="At the photo's own pixels. Lengths may be typed in mm, cm, in or pt">
              {(value * pxPerMm).toFixed(1)} px
            </span>
          )}
        </span>
        {suggested !== undefined && (
          <Tip words={`Suggested for this photo: ${formatted(spec, suggested)} (U)`} side="top">
            <button
              type="button"
              className="dial-tick"
              // With the keyboard it is the key U at the dial itself.
              tabIndex={-1}
              style={{ left: `${placeOnTrack(spec, suggested) * 100}%` }}
              aria-label={`${spec.label}: take ${formatted(spec, suggested)}, suggested for this photo`}
              onClick={() => onChange(suggested, newGesture())}
            />
          </Tip>
        )}
      </div>
    </Form.Group>
  );
}

interface TypedValueProps {
  field: React.RefObject<HTMLInputElement | null>;
  spec: DialSpec;
  value: number;
  onChange: (value: number) => void;
  /** Where the focus goes from here. */
  onLeave: () => void;
}

function TypedValue({ field, spec, value, onChange, onLeave }: TypedValueProps) {
  const [refused, setRefused] = useState("");
  const typing = useTyped(formatted(spec, value), take, onLeave);

  function take(text: string) {
    const typed = typedValue(spec, text);
    if (typed === null || typed < spec.minimum || typed > spec.maximum) {
      const limits = `${formatted(spec, spec.minimum)} to ${formatted(spec, spec.maximum)}`;
      setRefused(
        `${spec.label} can be ${withUnit(spec, limits)}. It stays at ${formatted(spec, value)}.`,
      );
    } else {
      setRefused("");
      if (typed !== value) onChange(typed);
    }
  }

  return (
    <>
      <input
        ref={field}
        className="dial-value"
        inputMode="decimal"
        aria-label={`${spec.label}, value${spec.unit ? ` in ${spec.unit}` : ""}`}
        aria-invalid={refused !== ""}
        {...typing}
      />
      {refused && (
        <div className="dial-refused" role="alert">
          {refused}
        </div>
      )}
    </>
  );
}

function tidy(spec: DialSpec, value: number): number {
  return Number(value.toFixed(Math.max(0, Math.ceil(-Math.log10(spec.step)) + 1)));
}
