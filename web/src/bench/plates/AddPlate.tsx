import { useState } from "react";
import { Button, Modal } from "react-bootstrap";
import type { Catalogue, Plate, RecipeRecord } from "../../api/client";
import { RecipeCards } from "../../live/RecipeCards";
import { useRecipeWall } from "../../live/useRecipeWall";
import { FindRecipe } from "../../shared/FindRecipe";
import { Trouble } from "../../shared/Trouble";
import { stepOf } from "../../sheet/stages";
import { ChoosePhoto } from "../placing/ChoosePhoto";
import { ChooseSheet } from "../placing/ChooseSheet";
import { whileShown } from "../../shared/whileShown";

interface AddPlateProps {
  show: boolean;
  photoId: string;
  sheetId: number;
  catalogue: Catalogue;
  onAdd: (record: RecipeRecord) => void;
  /** A plate that is drawn from something else than the sheet's photo. */
  onSource: (plate: Plate, what: string) => void;
  onLeave: () => void;
}

/** Chooses the recipe of another plate, each drawn on this photo. */
export const AddPlate = whileShown(function AddPlate({ show, onLeave, ...wall }: AddPlateProps) {
  return (
    <Modal
      show={show}
      onHide={onLeave}
      size="xl"
      scrollable
      centered
      aria-labelledby="add-plate-title"
      className="add-plate"
    >
      <Wall {...wall} />
    </Modal>
  );
});

function Wall(props: Omit<AddPlateProps, "show" | "onLeave">) {
  const { photoId, onAdd, catalogue } = props;
  const [choosing, setChoosing] = useState<"photo" | "sheet" | null>(null);
  const [typed, setTyped] = useState("");
  const wall = useRecipeWall(photoId);
  return (
    <>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="add-plate-title">
          Print another plate over these
        </Modal.Title>
        <FindRecipe typed={typed} onType={setTyped} />
      </Modal.Header>
      <Modal.Body>
        <div className="add-sources" role="group" aria-label="Drawn from something else">
          {stepOf(catalogue, "photo")
            .kinds.filter((kind) => kind.name in catalogue.beginnings)
            .map((kind) => (
              <Button
                key={kind.name}
                variant="plain"
                title={kind.purpose}
                onClick={() =>
                  kind.name === "photo" || kind.name === "sheet"
                    ? setChoosing(kind.name)
                    : props.onSource(catalogue.beginnings[kind.name]!, kind.label.toLowerCase())
                }
              >
                <strong>{kind.label}</strong>
                <span>{kind.purpose}</span>
              </Button>
            ))}
        </div>
        <ChoosePhoto
          show={choosing === "photo"}
          onLeave={() => setChoosing(null)}
          onChoose={(photo) => {
            const plate = catalogue.beginnings.photo!;
            if (plate.source.kind !== "photo") return;
            const picture = { ...plate.source.picture, photo: photo.id };
            props.onSource(
              { ...plate, name: photo.title.slice(0, 120), source: { ...plate.source, picture } },
              photo.title,
            );
          }}
        />
        <ChooseSheet
          show={choosing === "sheet"}
          besides={props.sheetId}
          onLeave={() => setChoosing(null)}
          onChoose={(record) => {
            const plate = catalogue.beginnings.sheet!;
            if (plate.source.kind !== "sheet") return;
            const document = record.sheet as unknown as Record<string, never>;
            const source = { ...plate.source, sheet: record.id, document };
            const { title } = record.sheet;
            props.onSource({ ...plate, name: title.slice(0, 120), source }, title);
          }}
        />
        <h3 className="h6">Or the sheet’s photo, by a recipe</h3>
        {wall.trouble && <Trouble sentence={wall.trouble} />}
        <RecipeCards
          wall={wall}
          typed={typed}
          disabled={false}
          words="Its plates are printed after all that are there."
          onTake={onAdd}
        />
      </Modal.Body>
    </>
  );
}
