import { useMemo } from "react";
import type { SaidStroke, Sheet } from "../../api/client";
import { useTracedKey, vectorWish } from "../../sheet/useTracing";
import { useWish } from "../../sheet/useWish";
import type { TheBench } from "../theBench";

/**
 * Shapes that were changed in the Tracing, as the bench draws them: the key of their tracing, where
 * the sheet itself is shown as it is saved, and how far that is, 0..1, while it is looked for.
 */
export function useChangedShapes(
  { id, work, sheet }: TheBench,
  shown: Sheet,
  unfinished: SaidStroke | null,
) {
  const isChanged = (sheet.shapes ?? []).length > 0;
  const { wanted } = useWish(id, isChanged);
  const wish = useMemo(() => (wanted ? vectorWish(wanted) : undefined), [wanted]);
  const { key, state } = useTracedKey(id, sheet, wish, work.saving === "saved");
  return {
    traced: shown === sheet && !unfinished ? key : "",
    share: isChanged && state.state === "working" ? state.share : null,
  };
}
