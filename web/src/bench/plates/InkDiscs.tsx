import { useState } from "react";
import { answered, type Catalogue, client, type Plate, type Sheet } from "../../api/client";
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
import { useRoving } from "../../shared/roving";
import { useSteady } from "../../shared/steady";
import { Tip } from "../../shared/Tip";
import { inkWords, type Settings, type Step } from "../../sheet/stages";
import { AddPlate } from "./AddPlate";
import { PlateActs } from "./PlateActs";
import { PlateTies } from "./PlateTies";
import { leavingKeys } from "../../shared/leavingKeys";

interface InkDiscsProps {
  sheetId: number;
  catalogue: Catalogue;
  sheet: Sheet;
  /** How many plates a sheet may have. */
  most: number;
  chosen: string;
  onChoose: (plate: string) => void;
  onChange: (changed: Changed) => void;
  onTrouble: (sentence: string) => void;
  onStep: (step: Step) => void;
}

/** The plates as discs of their inks, in print order: choose, add, copy, hide, move, remove. */
export function InkDiscs(props: InkDiscsProps) {
  const { sheetId, catalogue, sheet, most, chosen, onChoose, onChange, onTrouble, onStep } = props;
  const [isAdding, setAdding] = useState(false);
  const [dragged, setDragged] = useState<string | null>(null);
  const roving = useRoving<HTMLDivElement>();
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

  const acts = useSteady({
    move: (by: number) => change(moved(sheet, plate.id, place + by)),
    show: (shown: boolean) => change(withShown(sheet, plate.id, shown)),
    copy: () => change(withCopy(sheet, plate.id)),
    remove: () => change(withoutPlate(sheet, plate.id)),
  });

  return (
    <div className="discs">
      <div
        className="discs-row"
        role="group"
        aria-label="Inks, in the order they print"
        {...roving}
      >
        {sheet.plates.map((each, number) => (
          <button
            key={each.id}
            type="button"
            className={`disc ${each.shown ? "" : "disc-hidden"}`}
            aria-pressed={each.id === plate.id}
            aria-label={`${number + 1}: ${plateLabel(sheet, each.id)}, ${inkWords(catalogue, each.ink as Settings)}${each.shown ? "" : ", hidden"}`}
            title={`${plateLabel(sheet, each.id)}, ${inkWords(catalogue, each.ink as Settings)}. Drag, or Alt with ← →, changes the order.`}
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
            style={{ background: discPaint(each) }}
          >
            <span>{number + 1}</span>
          </button>
        ))}
        <Tip words={isFull ? `A sheet has up to ${most} plates` : "Add a plate from a recipe"}>
          <button
            type="button"
            className="disc disc-add"
            disabled={isFull}
            aria-label="Add a plate"
            onClick={() => setAdding(true)}
          >
            <span>+</span>
          </button>
        </Tip>
      </div>
      <AddPlate
        show={isAdding}
        photoId={sheet.picture.photo}
        sheetId={sheetId}
        catalogue={catalogue}
        onSource={(added, what) => {
          setAdding(false);
          change(withPlates(sheet, [added], what));
          onStep("photo");
        }}
        onAdd={(record) => {
          setAdding(false);
          void add(record.ref, recipeLabel(record));
        }}
        onLeave={() => setAdding(false)}
      />
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
      <PlateTies sheet={sheet} plate={plate} onChange={change} />
      <PlateActs
        place={place}
        count={sheet.plates.length}
        shown={plate.shown}
        isFull={isFull}
        acts={acts}
      />
    </div>
  );
}

const ALL_HUES = "conic-gradient(#c8452f, #d9a520, #5d8a2f, #1f7f86, #3f5fae, #8a3f86, #c8452f)";

/** How a disc is painted: in its ink, its two, or in all hues where the photo gives the colours. */
function discPaint({ ink }: Plate): string {
  if (ink.colouring === "photo") return ALL_HUES;
  if (ink.colouring === "two-colour") {
    return `linear-gradient(115deg, ${ink.colour} 50%, ${ink.lights} 50%)`;
  }
  return ink.colour;
}
