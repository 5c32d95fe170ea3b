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
  onChange: (words: Words) => void;
}

/** The fields in which a recipe is named and described. */
export function RecipeWords({ words, size, onChange }: RecipeWordsProps) {
  const set = (part: keyof Words) => (event: { currentTarget: { value: string } }) =>
    onChange({ ...words, [part]: event.currentTarget.value });
  return (
    <>
      <Form.Control
        size={size}
        required
        autoFocus
        maxLength={120}
        aria-label="Name of the recipe"
        placeholder="Name"
        value={words.name}
        onChange={set("name")}
      />
      <Form.Control
        size={size}
        maxLength={400}
        aria-label="What it is for"
        placeholder="What it is for"
        value={words.purpose}
        onChange={set("purpose")}
      />
      <Form.Control
        as="textarea"
        size={size}
        rows={3}
        maxLength={4000}
        aria-label="Notes"
        placeholder="Notes: paper, mesh, what to watch"
        value={words.notes}
        onChange={set("notes")}
      />
    </>
  );
}
