import { useState } from "react";
import { Form } from "react-bootstrap";

export interface NumberFieldProps {
  /** Says what it is, in sentences too. */
  label: string;
  value: number;
  least: number;
  most: number;
  step?: number;
  /** Whether only whole numbers are taken. */
  whole?: boolean;
  /** Of the field, where a label of its own stands beside it. */
  id?: string;
  onChange: (value: number) => void;
}

/**
 * A number that is taken as it is typed, once it lies within its bounds. What does not is said, and
 * put back, when the field is left: the first digits of a number are no mistake.
 */
export function NumberField(props: NumberFieldProps) {
  const { label, value, least, most, step = 1, whole, id, onChange } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState("");

  function take(text: string) {
    setTyped(text);
    setRefused("");
    const next = within(text, least, most);
    if (next !== null) onChange(whole ? Math.round(next) : next);
  }

  function leave() {
    if (typed !== null && within(typed, least, most) === null) {
      setRefused(`${label}: ${least} to ${most}. It stays at ${value}.`);
    }
    setTyped(null);
  }

  return (
    <>
      <Form.Control
        id={id}
        type="number"
        aria-label={id === undefined ? label : undefined}
        min={least}
        max={most}
        step={step}
        value={typed ?? String(value)}
        onChange={(event) => take(event.currentTarget.value)}
        onBlur={leave}
      />
      {refused && (
        <div className="dial-refused w-100" role="alert">
          {refused}
        </div>
      )}
    </>
  );
}

/** What is typed as a number, null where it is none within the bounds. */
function within(text: string, least: number, most: number): number | null {
  const number = Number(text);
  return text.trim() === "" || !(number >= least && number <= most) ? null : number;
}
