import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { answered, type Catalogue, client, type Sheet } from "../../api/client";
import { RECIPES } from "../../api/queries";
import { RecipeWords } from "../../shared/RecipeWords";
import { Trouble } from "../../shared/Trouble";
import { plateLabel } from "../../sheet/plates";
import { plateStages } from "../../sheet/stages";
import { whileShown } from "../../shared/whileShown";

interface KeepRecipeProps {
  show: boolean;
  sheetId: number;
  sheet: Sheet;
  catalogue: Catalogue;
  onKept: (name: string) => void;
  onLeave: () => void;
}

/** Keeps the work on the sheet, or part of it, as a recipe. */
export const KeepRecipe = whileShown(function KeepRecipe({
  show,
  sheetId,
  sheet,
  catalogue,
  ...on
}: KeepRecipeProps) {
  const { onKept, onLeave } = on;
  const queries = useQueryClient();
  const name = useRef<HTMLInputElement>(null);
  const [words, setWords] = useState({ name: "", purpose: "", notes: "" });
  const [without, setWithout] = useState<string[]>([]);
  const [tones, setTones] = useState<"matched" | "numbers">("matched");
  const [trouble, setTrouble] = useState("");
  const plates = sheet.plates.map((plate) => plate.id).filter((id) => !without.includes(id));
  // The drawing itself always belongs to it, and a second smoothing to the first.
  const every = plateStages(catalogue.steps);
  const choices = every.filter(({ name }) => name !== "draw" && name !== "again");
  const stages = every
    .map(({ name }) => name)
    .filter((name) => !without.includes(name === "again" ? "smooth" : name));

  function tick(what: string, isIn: boolean) {
    setWithout((present) => (isIn ? present.filter((each) => each !== what) : [...present, what]));
  }

  async function keep(event: React.FormEvent) {
    event.preventDefault();
    try {
      const body = {
        ...words,
        name: words.name.trim(),
        sheet_id: sheetId,
        stages,
        plates,
        tones,
      };
      const record = await answered(client.POST("/api/recipes/from-sheet", { body }));
      await queries.invalidateQueries({ queryKey: RECIPES });
      setTrouble("");
      onKept(record.recipe.name);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  }

  const box = (what: string, label: string) => (
    <Form.Check
      key={what}
      id={`keep-${what}`}
      label={label}
      checked={!without.includes(what)}
      onChange={(event) => tick(what, event.currentTarget.checked)}
    />
  );
  return (
    <Modal
      show={show}
      onHide={onLeave}
      onEntered={() => name.current?.focus()}
      centered
      aria-labelledby="keep-title"
    >
      <Form onSubmit={keep}>
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="h4" id="keep-title">
            Keep as recipe
          </Modal.Title>
        </Modal.Header>
        <Modal.Body className="keep-recipe">
          {trouble && <Trouble sentence={trouble} />}
          <RecipeWords words={words} nameRef={name} onChange={setWords} />
          <fieldset>
            <legend>Of every plate the drawing, and</legend>
            {choices.map((stage) => box(stage.name, stage.title))}
          </fieldset>
          {sheet.plates.length > 1 && (
            <fieldset>
              <legend>Plates</legend>
              {sheet.plates.map((plate) => box(plate.id, plateLabel(sheet, plate.id)))}
            </fieldset>
          )}
          <fieldset>
            <legend>On another photo, its tones are</legend>
            <Form.Check
              type="radio"
              id="tones-matched"
              name="tones"
              label="matched: its black, middle and white come to where they are on this one"
              checked={tones === "matched"}
              onChange={() => setTones("matched")}
            />
            <Form.Check
              type="radio"
              id="tones-numbers"
              name="tones"
              label="kept as numbers: every dial stands as it does here"
              checked={tones === "numbers"}
              onChange={() => setTones("numbers")}
            />
          </fieldset>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="plain" onClick={onLeave}>
            Leave
          </Button>
          <Button type="submit" disabled={plates.length === 0}>
            Keep it in the book
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
});
