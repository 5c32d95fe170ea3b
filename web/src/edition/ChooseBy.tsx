import { useState } from "react";
import type { Edition } from "../api/client";
import { useRecipes, useSheets } from "../api/queries";
import { FindRecipe } from "../shared/FindRecipe";
import { PictureDialog } from "../shared/PictureDialog";
import { isFound, recipeLabel } from "../shared/recipes";
import { lastPicture } from "../sheet/lastPicture";

interface ChooseByProps {
  show: boolean;
  /** The photo that recipes are shown on; "" for none. */
  photo: string;
  onChoose: (by: Partial<Edition>, words: string) => void;
  onLeave: () => void;
}

/** Chooses what an edition is drawn by: a recipe, or a finished sheet. */
export function ChooseBy({ show, photo, onChoose, onLeave }: ChooseByProps) {
  const recipes = useRecipes(show);
  const sheets = useSheets(show);
  const [typed, setTyped] = useState("");
  const plain = typed.trim().toLowerCase();
  const ofSheets = (sheets.data ?? [])
    .filter((record) => record.sheet.title?.toLowerCase().includes(plain))
    .map((record) => ({
      key: `sheet-${record.id}`,
      src: lastPicture(record),
      title: `${record.sheet.title} (sheet)`,
      onChoose: () => onChoose({ sheet: record.id }, record.sheet.title ?? "a sheet"),
    }));
  const ofRecipes = (recipes.data ?? [])
    .filter((record) => isFound(record, typed))
    .map((record) => ({
      key: record.ref,
      src: photo ? `/api/recipes/${record.ref}/picture?photo=${photo}&long_edge_px=320` : "",
      title: recipeLabel(record),
      onChoose: () => onChoose({ recipe: record.ref, sheet: 0, words: {} }, recipeLabel(record)),
    }));
  return (
    <PictureDialog
      show={show}
      title="Draw them all by"
      choices={recipes.data && [...ofRecipes, ...ofSheets]}
      none="Nothing has these words."
      onLeave={onLeave}
    >
      <FindRecipe typed={typed} onType={setTyped} />
    </PictureDialog>
  );
}
