import { useState } from "react";
import { Form, InputGroup } from "react-bootstrap";

interface NumberChoiceProps {
  label: string;
  value: number;
  least: number;
  most: number;
  step: number;
  onChange: (value: number) => void;
}

/** A number with its label beside it; what is no number within the bounds is not taken. */
export function NumberChoice({ label, value, least, most, step, onChange }: NumberChoiceProps) {
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
          if (event.currentTarget.value !== "" && next >= least && next <= most) onChange(next);
        }}
        onBlur={() => setTyped(null)}
      />
    </InputGroup>
  );
}
