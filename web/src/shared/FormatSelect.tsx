import { Form } from "react-bootstrap";
import type { FormatSpec } from "../api/client";

interface FormatSelectProps {
  formats: FormatSpec[];
  value: string;
  onChoose: (format: string) => void;
}

/** Formats of files, in the groups of what they are for. */
export function FormatSelect({ formats, value, onChoose }: FormatSelectProps) {
  return (
    <Form.Select size="sm" value={value} onChange={(e) => onChoose(e.currentTarget.value)}>
      {[...new Set(formats.map((each) => each.group))].map((group) => (
        <optgroup key={group} label={group}>
          {formats
            .filter((each) => each.group === group)
            .map((each) => (
              <option key={each.name} value={each.name}>
                {each.label}
              </option>
            ))}
        </optgroup>
      ))}
    </Form.Select>
  );
}
