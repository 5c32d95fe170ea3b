import { useState } from "react";
import { Modal } from "react-bootstrap";
import type { RecipeRecord } from "../../api/client";
import { RecipeCards } from "../../live/RecipeCards";
import { useRecipeWall } from "../../live/useRecipeWall";
import { FindRecipe } from "../../shared/FindRecipe";
import { Trouble } from "../../shared/Trouble";

interface AddPlateProps {
  show: boolean;
  photoId: string;
  onAdd: (record: RecipeRecord) => void;
  onLeave: () => void;
}

/** Chooses the recipe of another plate, each drawn on this photo. */
export function AddPlate({ show, photoId, onAdd, onLeave }: AddPlateProps) {
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
      <Wall photoId={photoId} onAdd={onAdd} />
    </Modal>
  );
}

function Wall({ photoId, onAdd }: Pick<AddPlateProps, "photoId" | "onAdd">) {
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
