import { Spinner } from "react-bootstrap";
import type { RecipeRecord } from "../api/client";
import { isFound, recipeLabel } from "../shared/recipes";
import { useRoving } from "../shared/roving";
import { SmallProof } from "./SmallProof";
import { type RecipeWall, viewId } from "./useRecipeWall";

interface RecipeCardsProps {
  wall: RecipeWall;
  /** Words that a recipe must have. */
  typed: string;
  disabled: boolean;
  /** What a press does, in a sentence. */
  words: string;
  onTake: (record: RecipeRecord) => void;
}

/** Recipes drawn on a photo, to choose one of. */
export function RecipeCards({ wall, typed, disabled, words, onTake }: RecipeCardsProps) {
  const { records, pictures, refusals, done } = wall;
  const roving = useRoving<HTMLOListElement>();
  const found = records.filter((record) => isFound(record, typed));
  return (
    <>
      <p className="contact-line" role="status" data-done={done} data-all={records.length}>
        {done < records.length || records.length === 0 ? (
          <>
            <Spinner size="sm" /> {done} of {records.length || "…"} recipes drawn.{" "}
          </>
        ) : (
          `${done} recipes, each drawn on this photo. `
        )}
        {words}
      </p>
      {found.length === 0 && records.length > 0 && <p>No recipe has these words.</p>}
      <ol className="contact-cards" {...roving}>
        {found.map((record) => (
          <li key={record.ref}>
            <button type="button" disabled={disabled} onClick={() => onTake(record)}>
              <span className="contact-picture">
                <SmallProof className="contact-proof" pictures={pictures} id={viewId(record.ref)} />
              </span>
              <span className="contact-name">
                {recipeLabel(record)}
                {record.own && <em> yours</em>}
              </span>
              <span className="contact-why">
                {refusals.get(viewId(record.ref))?.why ?? record.recipe.purpose}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </>
  );
}
