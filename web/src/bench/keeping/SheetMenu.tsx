import { Dropdown } from "react-bootstrap";
import { Link } from "react-router";
import { Tip } from "../../shared/Tip";
import type { Open } from "./useKeeping";

interface SheetMenuProps {
  sheetId: number;
  onKeepPull: () => void;
  onOpen: (dialog: Open) => void;
  onEdition: () => void;
}

/** What can be kept of the sheet, and where else to go with it. */
export function SheetMenu({ sheetId, onKeepPull, onOpen, onEdition }: SheetMenuProps) {
  return (
    <Dropdown align="end">
      <Tip words="Keep a pull or a recipe, take the sheet along, change its photo or direction">
        <Dropdown.Toggle size="sm" variant="plain">
          Keep
        </Dropdown.Toggle>
      </Tip>
      <Dropdown.Menu>
        <Dropdown.Item onClick={onKeepPull}>
          Keep a pull <kbd>K</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={() => onOpen("pulls")}>
          All pulls… <kbd>Shift K</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={() => onOpen("recipe")}>Keep as recipe…</Dropdown.Item>
        <Dropdown.Item href={`/api/sheets/${sheetId}/file`} download>
          Take along as a sheet file
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as={Link} to={`/sheets/${sheetId}/tracing`}>
          Tracing: its shapes
        </Dropdown.Item>
        <Dropdown.Item as={Link} to={`/sheets/${sheetId}/contact`}>
          Contact sheet <kbd>C</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={() => onOpen("photo")}>Another photo…</Dropdown.Item>
        <Dropdown.Item onClick={onEdition}>Draw many photos like this…</Dropdown.Item>
        <Dropdown.Item as={Link} to="/recipes">
          Recipe book
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item onClick={() => onOpen("ruler")}>Measure this screen…</Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
