import { useMemo, useState } from "react";
import type { Catalogue, PullRecord, Sheet, View } from "../../api/client";
import { useSame } from "../../shared/steady";
import { type Against, againstKey, choices, type Layout, sheetOf, viewAgainst } from "./compare";
import { type Picture, usePicture } from "../../live/pictures";
import { useLive } from "../../live/useLive";

interface Compared {
  catalogue: Catalogue;
  sheet: Sheet;
  pulls: PullRecord[];
  main: View;
  photo: Picture | undefined;
  layout: Layout;
  onLayout: (layout: Layout) => void;
}

const NOTHING: View[] = [];

/** What the drawing is compared with, and its picture. */
export function useCompare(compared: Compared) {
  const { catalogue, sheet, pulls, main, photo, layout, onLayout } = compared;
  const [wanted, setAgainst] = useState<Against>({ kind: "photo" });
  const [split, setSplit] = useState(0.5);
  const list = useMemo(() => choices(catalogue, sheet, pulls), [catalogue, sheet, pulls]);
  const names = useSame(list.map(([each, called]): [string, string] => [each, called]));
  // What was chosen may have been deleted since; the photo, the first of all, is always there.
  const [key, words, against] = list.find(([each]) => each === againstKey(wanted)) ?? list[0]!;
  const other = useMemo(() => sheetOf(against, sheet, pulls), [against, sheet, pulls]);
  const isOn = layout !== "alone";
  const views = useMemo(
    () => {
      const view = isOn ? viewAgainst(against, main) : null;
      return view ? [view] : NOTHING;
    },
    // The choice is remade with every change of the sheet; its key is what matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [isOn, key, main],
  );
  const live = useLive(views.length > 0 ? other : null, views);
  const drawn = usePicture(live.pictures, "against");
  const picture = against.kind === "photo" ? photo : drawn;
  const layers = useMemo(() => (isOn && picture ? [picture] : []), [isOn, picture]);

  function toggle(next: Layout) {
    onLayout(layout === next ? "alone" : next);
  }

  function choose(next: string) {
    const found = list.find(([each]) => each === next);
    if (!found) return;
    setAgainst(found[2]);
    if (!isOn) onLayout("split");
  }

  return { layout, toggle, key, names, choose, words, split, setSplit, layers };
}

export type Compare = ReturnType<typeof useCompare>;
