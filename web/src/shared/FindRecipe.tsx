import { Form } from "react-bootstrap";

interface FindRecipeProps {
  typed: string;
  onType: (typed: string) => void;
}

/** Where words are typed that a recipe must have. */
export function FindRecipe({ typed, onType }: FindRecipeProps) {
  return (
    <Form.Control
      type="search"
      size="sm"
      className="find-recipe"
      placeholder="Find a recipe"
      aria-label="Find a recipe"
      value={typed}
      onChange={(event) => onType(event.currentTarget.value)}
    />
  );
}
