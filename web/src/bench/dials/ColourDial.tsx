import { useRef } from "react";
import { Form } from "react-bootstrap";
import type { DialSpec } from "../../api/client";
import { newGesture } from "../../shared/gesture";

interface ColourDialProps {
  reference: string;
  spec: DialSpec;
  value: string;
  /** gesture is the same for all colours tried while the chooser is open. */
  onChange: (value: string, gesture: string) => void;
}

/** A colour; all that is tried before the chooser closes undoes as one step. */
export function ColourDial({ reference, spec, value, onChange }: ColourDialProps) {
  const gesture = useRef("");
  const begin = () => {
    gesture.current = newGesture();
  };
  return (
    <Form.Group
      className="dial dial-colour"
      controlId={`colour-${spec.name}`}
      data-dial={reference}
    >
      <Form.Label>{spec.label}</Form.Label>
      <Form.Control
        type="color"
        value={value}
        onPointerDown={begin}
        onKeyDown={begin}
        onFocus={begin}
        onChange={(event) => onChange(event.currentTarget.value, gesture.current || newGesture())}
      />
      <span className="dial-hint">{spec.hint}</span>
    </Form.Group>
  );
}
