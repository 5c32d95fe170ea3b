import type { View } from "../api/client";

export const WHOLE: View["region"] = [0, 0, 1, 1];

/** A view of the whole sheet, apart from what is said otherwise. */
export function viewOf(id: string, edge: number, more: Partial<View> = {}): View {
  return {
    id,
    what: "sheet",
    plate: "",
    stage: "ink",
    long_edge_px: Math.max(1, Math.round(edge)),
    region: WHOLE,
    exact: false,
    look: null,
    dials: {},
    recipe: null,
    leaves: null,
    bad_day: null,
    traced: "",
    compared: false,
    follows: false,
    draft: false,
    ...more,
  };
}

/** The id of the view that shows a look on the plate looked at. */
export const lookView = (look: string) => `look-${look}`;
