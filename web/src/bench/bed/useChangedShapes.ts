import { useMemo } from "react";
import type { SaidStroke, Sheet } from "../../api/client";
import { hasChangedShapes, useTracedKey, vectorWish } from "../../sheet/useTracing";
import { useWish } from "../../sheet/useWish";
import type { TheBench } from "../theBench";

/**
 * Shapes that were changed in the Tracing, as the bench draws them: the key of their tracing, where
 * the sheet itself is shown as it is saved, and what is to be said while they do not show.
 */
export function useChangedShapes(
  { id, work, sheet }: TheBench,
  shown: Sheet,
  unfinished: SaidStroke | null,
) {
  const { wanted } = useWish(id, hasChangedShapes(sheet));
  const wish = useMemo(() => (wanted ? vectorWish(wanted) : undefined), [wanted]);
  const { key, words, sentence } = useTracedKey(id, sheet, wish, work.saving === "saved");
  return {
    traced: shown === sheet && !unfinished ? key : "",
    words: sentence ? `Changed shapes do not show here: ${sentence}` : words,
  };
}
