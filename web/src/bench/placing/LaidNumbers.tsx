import { Button, Form } from "react-bootstrap";
import type { Lying, Plate, Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { useTyped } from "../../shared/useTyped";
import { positionOf, scaled, withPosition } from "../../sheet/sources";

interface LaidNumbersProps {
  sheet: Sheet;
  plate: Plate;
  lying: Lying;
  asDrawn: boolean;
  onAsDrawn: (asDrawn: boolean) => void;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

/** Where something lies on the paper, in numbers, and what happens to lengths as it is scaled. */
export function LaidNumbers({ sheet, plate, lying, asDrawn, ...on }: LaidNumbersProps) {
  const position = positionOf(sheet, plate);
  if (!position) return null;
  const put = (change: Parameters<typeof withPosition>[2], words: string) =>
    on.onChange(withPosition(sheet, plate, change), `Laid: ${words}`, newGesture());
  const widen = (width: number) => {
    const times = width / Math.max(0.01, lying.width);
    const changed = scaled(sheet, plate, lying, { across: times, down: times }, asDrawn);
    on.onChange(changed, `Laid: ${width} mm wide`, newGesture());
  };
  return (
    <fieldset className="laid-numbers">
      <legend className="form-label">On the paper</legend>
      <NumberField label="Across" unit="mm" value={lying.x} onTake={(x) => put({ x }, "moved")} />
      <NumberField label="Down" unit="mm" value={lying.y} onTake={(y) => put({ y }, "moved")} />
      <NumberField label="Wide" unit="mm" value={lying.width} onTake={widen} />
      <NumberField
        label="Turned"
        unit="°"
        value={lying.turn}
        onTake={(turn) => put({ turn: Math.max(-180, Math.min(180, turn)) }, `turned ${turn}°`)}
      />
      <Form.Check
        type="switch"
        id="laid-mirrored"
        label="Mirrored"
        checked={position.mirrored}
        onChange={(event) => put({ mirrored: event.currentTarget.checked }, "mirrored")}
      />
      <Form.Check
        type="switch"
        id="laid-as-drawn"
        label="Marks grow with it"
        title="Off, lengths stay: it is drawn anew at its size. On, it is the same drawing, larger."
        checked={asDrawn}
        onChange={(event) => on.onAsDrawn(event.currentTarget.checked)}
      />
      {position.as_drawn !== 1 && (
        <Button size="sm" variant="plain" onClick={() => put({ as_drawn: 1 }, "lengths as set")}>
          Lengths as set (now × {position.as_drawn.toFixed(2)})
        </Button>
      )}
    </fieldset>
  );
}

interface NumberFieldProps {
  label: string;
  unit: string;
  value: number;
  onTake: (value: number) => void;
}

function NumberField({ label, unit, value, onTake }: NumberFieldProps) {
  const typed = useTyped(String(Number(value.toFixed(2))), (text) => {
    const number = Number(text.replace(",", "."));
    if (text.trim() && Number.isFinite(number)) onTake(number);
  });
  return (
    <label className="laid-number">
      {label}
      <input className="form-control form-control-sm" inputMode="decimal" {...typed} />
      {unit}
    </label>
  );
}
