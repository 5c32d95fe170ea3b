import { useState } from "react";
import { Form, InputGroup } from "react-bootstrap";

interface NumberChoiceProps {
  label: string;
  value: number;
  least: number;
  most: number;
  step: number;
  /** Whether only whole numbers are taken. */
  whole?: boolean;
  onChange: (value: number) => void;
}

/** A number with its label beside it; what is no number within the bounds is not taken. */
export function NumberChoice(props: NumberChoiceProps) {
  const { label, value, least, most, step, whole, onChange } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const id = `choice-${label.toLowerCase().replace(/[^a-z]+/g, "-")}`;
  return (
    <InputGroup size="sm" className="number-choice">
      <Form.Label htmlFor={id}>{label}</Form.Label>
      <Form.Control
        id={id}
        type="number"
        min={least}
        max={most}
        step={step}
        value={typed ?? String(value)}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          const next = Number(event.currentTarget.value);
          if (event.currentTarget.value === "" || next < least || next > most) return;
          onChange(whole ? Math.round(next) : next);
        }}
        onBlur={() => setTyped(null)}
      />
    </InputGroup>
  );
}
