import { useMemo } from "react";
import type { Sheet } from "../../api/client";
import { hasChangedShapes, useTracedKey, vectorWish } from "../../sheet/useTracing";
import { useWish } from "../../sheet/useWish";
import type { TheBench } from "../theBench";

/**
 * Shapes that were changed in the Tracing, as the bench draws them: the key of their tracing, where
 * the sheet itself is shown, and what is to be said while they lie only about where they will.
 */
export function useChangedShapes({ id, work, sheet }: TheBench, shown: Sheet) {
  const { wanted } = useWish(id, hasChangedShapes(sheet));
  const wish = useMemo(() => (wanted ? vectorWish(wanted) : undefined), [wanted]);
  const { key, words, sentence } = useTracedKey(id, sheet, wish, work.saving === "saved");
  return {
    traced: shown === sheet ? key : "",
    words: sentence ? `Changed shapes do not show here: ${sentence}` : words,
  };
}
