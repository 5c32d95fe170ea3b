import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Sheet, View } from "../api/client";
import { guessesAsked, useRecipes } from "../api/queries";
import { useCount, useRefusals } from "./pictures";
import { useLive } from "./useLive";
import { viewOf } from "./views";

const EDGE_PX = 300;
const MOST = 90;
const FIRST_ROW = 6;

/** Every recipe drawn on one photo, as each is done; those that should suit it come first. */
export function useRecipeWall(photoId: string) {
  const book = useRecipes();
  const guesses = useQuery(guessesAsked(photoId));
  const records = useMemo(() => {
    const byRef = new Map((book.data ?? []).map((record) => [record.ref, record]));
    return (guesses.data?.order ?? [])
      .map((ref) => byRef.get(ref))
      .filter((record) => record !== undefined)
      .slice(0, MOST);
  }, [book.data, guesses.data]);
  const sheet = useMemo(
    () => ({ format: "flinz-sheet", version: 1, photo: photoId }) as unknown as Sheet,
    [photoId],
  );
  const views = useMemo(
    () =>
      contactViews(
        records.map((record) => record.ref),
        new Set(guesses.data?.quick),
      ),
    [records, guesses.data],
  );
  const live = useLive(sheet, views);
  const refusals = useRefusals(live.pictures);
  const ids = records.map((record) => viewId(record.ref));
  const refused = [...refusals.values()].filter((each) => !each.later).length;
  const done = useCount(live.pictures, ids) + refused;
  const trouble = (book.error ?? guesses.error)?.message || live.problem;
  return {
    records,
    pictures: live.pictures,
    refusals,
    figures: guesses.data?.figures,
    done,
    trouble,
  };
}

export type RecipeWall = ReturnType<typeof useRecipeWall>;

/** The view that a recipe is drawn for. */
export function viewId(ref: string): string {
  return `recipe-${ref}`;
}

/** The drawings of recipes in their order; the first row is drafted before, quick ones first. */
export function contactViews(refs: string[], quick: Set<string>): View[] {
  const drawn = refs.map((ref) => viewOf(viewId(ref), EDGE_PX, { recipe: ref }));
  const row = refs.slice(0, FIRST_ROW);
  const drafts = [...row.filter((ref) => quick.has(ref)), ...row.filter((ref) => !quick.has(ref))];
  return [
    ...drafts.map((ref) => viewOf(viewId(ref), EDGE_PX, { recipe: ref, draft: true })),
    ...drawn,
  ];
}
