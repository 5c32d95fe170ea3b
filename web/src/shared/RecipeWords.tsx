import { useId } from "react";
import { Form } from "react-bootstrap";

/** What is said of a recipe. */
export interface Words {
  name: string;
  purpose: string;
  notes: string;
}

interface RecipeWordsProps {
  words: Words;
  size?: "sm";
  nameRef?: React.Ref<HTMLInputElement>;
  onChange: (words: Words) => void;
}

/** The fields in which a recipe is named and described. */
export function RecipeWords({ words, size, nameRef, onChange }: RecipeWordsProps) {
  const set = (part: keyof Words) => (event: { currentTarget: { value: string } }) =>
    onChange({ ...words, [part]: event.currentTarget.value });
  const id = useId();
  return (
    <>
      <Form.Group controlId={`${id}-name`}>
        <Form.Label>Name</Form.Label>
        <Form.Control
          size={size}
          ref={nameRef}
          required
          autoFocus
          maxLength={120}
          value={words.name}
          onChange={set("name")}
        />
      </Form.Group>
      <Form.Group controlId={`${id}-purpose`}>
        <Form.Label>What it is for</Form.Label>
        <Form.Control size={size} maxLength={400} value={words.purpose} onChange={set("purpose")} />
      </Form.Group>
      <Form.Group controlId={`${id}-notes`}>
        <Form.Label>Notes: paper, mesh, what to watch</Form.Label>
        <Form.Control
          as="textarea"
          size={size}
          rows={2}
          maxLength={4000}
          value={words.notes}
          onChange={set("notes")}
        />
      </Form.Group>
    </>
  );
}
