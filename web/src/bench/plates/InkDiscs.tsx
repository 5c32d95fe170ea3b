import { useState } from "react";
import { Button, Dropdown } from "react-bootstrap";
import { answered, client, type Sheet } from "../../api/client";
import { useRecipes } from "../../api/queries";
import { recipeLabel } from "../../shared/recipes";
import {
  type Changed,
  moved,
  plateLabel,
  withCopy,
  withName,
  withoutPlate,
  withPlates,
  withShown,
} from "../../sheet/plates";
import { leavingKeys } from "../../shared/leavingKeys";

interface InkDiscsProps {
  sheet: Sheet;
  /** How many plates a sheet may have. */
  most: number;
  chosen: string;
  onChoose: (plate: string) => void;
  onChange: (changed: Changed) => void;
  onTrouble: (sentence: string) => void;
}

/** The plates as discs of their inks, in print order: choose, add, copy, hide, move, remove. */
export function InkDiscs({ sheet, most, chosen, onChoose, onChange, onTrouble }: InkDiscsProps) {
  const [dragged, setDragged] = useState<string | null>(null);
  const plate = sheet.plates.find((each) => each.id === chosen) ?? sheet.plates[0]!;
  const place = sheet.plates.indexOf(plate);
  const isFull = sheet.plates.length >= most;

  function change(changed: Changed | null) {
    if (changed) onChange(changed);
  }

  async function add(ref: string, label: string) {
    try {
      const params = { path: { ref }, query: { photo: sheet.picture.photo } };
      const plates = await answered(client.GET("/api/recipes/{ref}/plates", { params }));
      change(withPlates(sheet, plates.slice(0, most - sheet.plates.length), label));
    } catch (error) {
      onTrouble((error as Error).message);
    }
  }

  return (
    <div className="discs">
      <div className="discs-row" role="group" aria-label="Inks, in the order they print">
        {sheet.plates.map((each, number) => (
          <button
            key={each.id}
            type="button"
            className={`disc ${each.shown ? "" : "disc-hidden"}`}
            aria-pressed={each.id === plate.id}
            aria-label={`${plateLabel(sheet, each.id)}, ink ${each.ink.colour}${each.shown ? "" : ", hidden"}`}
            title={`${plateLabel(sheet, each.id)}. Drag, or Alt with ← →, changes the order.`}
            draggable
            onClick={() => onChoose(each.id)}
            onKeyDown={(event) => {
              const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
              if (!event.altKey || by === undefined) return;
              event.preventDefault();
              change(moved(sheet, each.id, number + by));
            }}
            onDragStart={() => setDragged(each.id)}
            onDragOver={(event) => event.preventDefault()}
            onDrop={() => {
              if (dragged) change(moved(sheet, dragged, number));
              setDragged(null);
            }}
            style={{ background: each.ink.colour }}
          >
            <span>{number + 1}</span>
          </button>
        ))}
        <AddPlate most={most} isFull={isFull} onAdd={add} />
      </div>
      <input
        key={plate.id + plate.name}
        className="disc-name"
        aria-label="Name of this plate"
        placeholder={`Plate ${place + 1}`}
        defaultValue={plate.name}
        maxLength={120}
        onBlur={(event) => {
          const name = event.currentTarget.value.trim();
          if (name !== plate.name) change(withName(sheet, plate.id, name));
        }}
        onKeyDown={leavingKeys}
      />
      <div className="discs-acts" role="group" aria-label="This plate">
        <Button
          variant="plain"
          aria-label="Print this plate earlier"
          title="Print earlier"
          disabled={place === 0}
          onClick={() => change(moved(sheet, plate.id, place - 1))}
        >
          ←
        </Button>
        <Button
          variant="plain"
          aria-label="Print this plate later"
          title="Print later"
          disabled={place === sheet.plates.length - 1}
          onClick={() => change(moved(sheet, plate.id, place + 1))}
        >
          →
        </Button>
        <Button
          variant="plain"
          aria-pressed={!plate.shown}
          active={!plate.shown}
          onClick={() => change(withShown(sheet, plate.id, !plate.shown))}
        >
          {plate.shown ? "hide" : "show"}
        </Button>
        <Button variant="plain" disabled={isFull} onClick={() => change(withCopy(sheet, plate.id))}>
          copy
        </Button>
        <Button
          variant="plain"
          aria-label="Remove this plate"
          title={sheet.plates.length < 2 ? "A sheet keeps one plate" : "Remove this plate"}
          disabled={sheet.plates.length < 2}
          onClick={() => change(withoutPlate(sheet, plate.id))}
        >
          ×
        </Button>
      </div>
    </div>
  );
}

interface AddPlateProps {
  most: number;
  isFull: boolean;
  onAdd: (ref: string, label: string) => void;
}

function AddPlate({ most, isFull, onAdd }: AddPlateProps) {
  const [open, setOpen] = useState(false);
  const book = useRecipes(open);
  return (
    <Dropdown show={open} onToggle={setOpen}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className="disc disc-add"
        disabled={isFull}
        aria-label="Add a plate"
        title={isFull ? `A sheet has up to ${most} plates` : "Add a plate from a recipe"}
      >
        <span>+</span>
      </Dropdown.Toggle>
      <Dropdown.Menu className="disc-menu" renderOnMount={false}>
        <Dropdown.Header>Print another plate over these</Dropdown.Header>
        {book.data?.map((record) => (
          <Dropdown.Item key={record.ref} onClick={() => onAdd(record.ref, recipeLabel(record))}>
            {recipeLabel(record)} <span>{record.recipe.purpose}</span>
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
