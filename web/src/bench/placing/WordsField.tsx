import { useRef } from "react";
import { Form } from "react-bootstrap";
import type { Plate, Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { withMade, withSource } from "../../sheet/sources";

interface WordsFieldProps {
  sheet: Sheet;
  plate: Plate;
  label: string;
  rows: number;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  /** Where it comes and goes: it takes the focus, and is told of when that leaves. */
  onLeave?: () => void;
}

/** The words of a plate of lettering; the drawing follows every letter typed. */
export function WordsField({ sheet, plate, label, rows, onChange, onLeave }: WordsFieldProps) {
  const { source } = plate;
  // What is typed from one coming to the field to leaving it is one step.
  const typing = useRef("");
  if (source.kind !== "lettering") return null;
  return (
    <Form.Control
      as="textarea"
      size="sm"
      rows={rows}
      aria-label={label}
      maxLength={2000}
      autoFocus={onLeave !== undefined}
      value={source.lettering.words}
      onChange={(event) => {
        const words = event.currentTarget.value;
        const shown = words.replaceAll("\n", " ").slice(0, 40);
        const lettered = withSource(sheet, plate.id, withMade(source, { words }));
        onChange(lettered, `Words: “${shown}”`, typing.current);
      }}
      onFocus={(event) => {
        typing.current = newGesture();
        if (onLeave) event.currentTarget.select();
      }}
      onBlur={onLeave}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") event.currentTarget.blur();
      }}
    />
  );
}
