import { useEffect, useRef } from "react";
import type { Answer, Sheet } from "../../api/client";
import type { Pictures } from "../../live/pictures";
import { lookView } from "../../live/views";
import { type Settings, withSettings } from "../../sheet/stages";

/** A look that was chosen before its small drawing had come, and what that made of the sheet. */
interface Late {
  look: string;
  plate: string;
  sheet: Sheet;
  words: string;
  gesture: string;
}

/** What a look's small drawing was drawn with, once it has come. */
export function drawnWith(pictures: Pictures, look: string): Drawn | undefined {
  const answer = pictures.get(lookView(look))?.answer;
  return answer?.drawn_with ? (answer as Drawn) : undefined;
}

type Drawn = Answer & { drawn_with: Settings };

/**
 * Has a look that was chosen early fit the photo as others do: what its small drawing is drawn with is
 * taken when that comes, in the same step, unless something was changed meanwhile. Returns what
 * tells of such a look.
 */
export function useLateLook(
  pictures: Pictures,
  sheet: Sheet,
  plateId: string,
  onChange: (sheet: Sheet, words: string, gesture: string) => void,
): (late: Late) => void {
  const waiting = useRef<Late | null>(null);

  useEffect(
    () =>
      pictures.subscribe(() => {
        const late = waiting.current;
        const shown = late && drawnWith(pictures, late.look);
        if (!shown) return;
        waiting.current = null;
        // With another plate chosen the small drawings are of that one.
        if (plateId !== late.plate || JSON.stringify(sheet) !== JSON.stringify(late.sheet)) return;
        const fitted = withSettings(sheet, plateId, "draw", shown.drawn_with, shown.fitted);
        onChange(fitted, late.words, late.gesture);
      }),
    [pictures, sheet, plateId, onChange],
  );

  return (late) => {
    waiting.current = late;
  };
}
