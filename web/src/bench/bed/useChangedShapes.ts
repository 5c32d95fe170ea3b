import { useMemo } from "react";
import type { SaidStroke, Sheet } from "../../api/client";
import { type TracingState, useTracedKey, vectorWish } from "../../sheet/useTracing";
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
  const isChanged = (sheet.shapes ?? []).length > 0;
  const { wanted } = useWish(id, isChanged);
  const wish = useMemo(() => (wanted ? vectorWish(wanted) : undefined), [wanted]);
  const { key, state } = useTracedKey(id, sheet, wish, work.saving === "saved");
  return {
    traced: shown === sheet && !unfinished ? key : "",
    words: isChanged ? saidOf(state) : "",
  };
}

function saidOf(state: TracingState): string {
  if (state.state === "working") {
    return `Changed shapes are being looked for, ${Math.round(state.share * 100)} %.`;
  }
  return state.state === "failed" ? `Changed shapes do not show here: ${state.sentence}` : "";
}
