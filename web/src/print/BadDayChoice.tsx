import { Form } from "react-bootstrap";
import type { BadDay } from "../api/client";
import { NumberChoice } from "../shared/NumberChoice";

interface BadDayChoiceProps {
  day: BadDay | null;
  onChange: (day: BadDay | null) => void;
}

const FIRST: BadDay = { gain: 0.08, slip: 0.6, uneven: 0.3, seed: 1, half: false };

const NUMBERS = [
  { name: "gain", label: "Ink spreads by, mm", least: 0, most: 1, step: 0.02 },
  { name: "slip", label: "Plates slip by up to, mm", least: 0, most: 5, step: 0.1 },
  { name: "uneven", label: "Ink is uneven, 0 to 1", least: 0, most: 1, step: 0.05 },
  { name: "seed", label: "Which day", least: 0, most: 1000, step: 1, whole: true },
] as const;

/** Looks at the sheet as a rough press would print it: nothing of it is in the file. */
export function BadDayChoice({ day, onChange }: BadDayChoiceProps) {
  return (
    <section className="bad-day" aria-label="On a bad day">
      <Form.Check
        type="switch"
        id="bad-day"
        label="See it on a bad day"
        checked={day !== null}
        onChange={(e) => onChange(e.currentTarget.checked ? FIRST : null)}
      />
      {day && (
        <>
          {NUMBERS.map(({ name, ...bounds }) => (
            <NumberChoice
              key={name}
              {...bounds}
              value={day[name]}
              onChange={(value) => onChange({ ...day, [name]: value })}
            />
          ))}
          <Form.Check
            id="bad-half"
            label="Only the right half, beside the good print"
            checked={day.half}
            onChange={(e) => onChange({ ...day, half: e.currentTarget.checked })}
          />
        </>
      )}
    </section>
  );
}
