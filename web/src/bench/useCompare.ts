import { useMemo, useState } from "react";
import type { PullRecord, Sheet, View } from "../api/client";
import { type Against, againstKey, choices, type Layout, sheetOf, viewAgainst } from "./compare";
import { useLive } from "./useLive";

/** What the drawing is compared with, how they lie, and the other picture. */
export function useCompare(sheet: Sheet, pulls: PullRecord[], main: View, isReady: boolean) {
  const [layout, setLayout] = useState<Layout>("alone");
  const [wanted, setAgainst] = useState<Against>({ kind: "photo" });
  const [split, setSplit] = useState(0.5);
  const list = useMemo(() => choices(sheet, pulls), [sheet, pulls]);
  // What was chosen may have been deleted since.
  const key = list.some(([each]) => each === againstKey(wanted)) ? againstKey(wanted) : "photo";
  const against = list.find(([each]) => each === key)![2];
  const other = useMemo(() => sheetOf(against, sheet, pulls), [against, sheet, pulls]);
  const isOn = layout !== "alone" && isReady;
  const views = useMemo(
    () => (isOn ? [viewAgainst(against, main)] : []),
    // The choice is remade with every change of the sheet; its key is what matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [isOn, key, main],
  );
  const live = useLive(other, views);
  const picture = isOn ? live.pictures.get("against") : undefined;
  const words = list.find(([each]) => each === key)![1];

  function toggle(next: Layout) {
    setLayout((present) => (present === next ? "alone" : next));
  }

  function choose(next: string) {
    const found = list.find(([each]) => each === next);
    if (!found) return;
    setAgainst(found[2]);
    setLayout((present) => (present === "alone" ? "split" : present));
  }

  return { layout, setLayout, toggle, key, list, choose, words, split, setSplit, picture };
}
