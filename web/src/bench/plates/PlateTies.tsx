import { Button, Form } from "react-bootstrap";
import type { Plate, Sheet } from "../../api/client";
import { useTyped } from "../../shared/useTyped";
import {
  type Changed,
  plateLabel,
  withFollowing,
  withGathered,
  withSetShown,
  withSetWeight,
} from "../../sheet/plates";

interface PlateTiesProps {
  sheet: Sheet;
  plate: Plate;
  onChange: (changed: Changed | null) => void;
}

/** What ties a plate to others: the one it keeps in step with, and the set it is gathered in. */
export function PlateTies({ sheet, plate, onChange }: PlateTiesProps) {
  const others = sheet.plates.filter((each) => each.id !== plate.id && each.follows !== plate.id);
  const set = sheet.plates.filter((each) => plate.gathered && each.gathered === plate.gathered);
  const typed = useTyped(plate.gathered, (text) =>
    onChange(withGathered(sheet, plate.id, text.trim().slice(0, 60))),
  );
  if (sheet.plates.length < 2) return null;
  const isShown = set.some((each) => each.shown);
  return (
    <details className="disc-ties" open={plate.follows !== "" || plate.gathered !== ""}>
      <summary>Together with others</summary>
      <Form.Select
        size="sm"
        aria-label="Keeps in step with"
        title="Goes through the same stages as another plate, until one is made its own"
        value={plate.follows}
        onChange={(event) => onChange(withFollowing(sheet, plate.id, event.currentTarget.value))}
      >
        <option value="">Stands alone</option>
        {others.map((each) => (
          <option key={each.id} value={each.id}>
            In step with {plateLabel(sheet, each.id)}
          </option>
        ))}
      </Form.Select>
      {plate.follows && plate.own.length > 0 && (
        <Button
          size="sm"
          variant="plain"
          onClick={() => onChange(withFollowing(sheet, plate.id, plate.follows))}
        >
          In step again with {plate.own.join(", ")}
        </Button>
      )}
      <input
        className="form-control form-control-sm"
        aria-label="Name of its set"
        title="Plates of one set are hidden, moved and weakened together"
        placeholder="in no set"
        list="sets"
        {...typed}
      />
      <datalist id="sets">
        {[...new Set(sheet.plates.map((each) => each.gathered))].filter(Boolean).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {set.length > 1 && (
        <span className="disc-set" role="group" aria-label={`All ${set.length} of this set`}>
          <Button
            size="sm"
            variant="plain"
            onClick={() => onChange(withSetShown(sheet, plate, !isShown))}
          >
            {isShown ? "hide set" : "show set"}
          </Button>
          <Button
            size="sm"
            variant="plain"
            onClick={() => onChange(withSetWeight(sheet, plate, 0.8))}
          >
            weaker
          </Button>
          <Button
            size="sm"
            variant="plain"
            onClick={() => onChange(withSetWeight(sheet, plate, 1.25))}
          >
            stronger
          </Button>
        </span>
      )}
    </details>
  );
}
