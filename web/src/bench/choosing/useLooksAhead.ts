import { useEffect } from "react";
import { onceRested, type Pictures } from "../../live/pictures";

/** A hand that rests this long at Draw may look at other looks next. */
const REST_MS = 4000;

/**
 * Has each look drawn small once the hand rests at Draw, and no more when it leaves: fourteen
 * drawings take as long as several openings of a sheet.
 */
export function useLooksAhead(
  pictures: Pictures,
  isAtDraw: boolean,
  onWanted: (isWanted: boolean) => void,
): void {
  useEffect(() => {
    if (!isAtDraw) return undefined;
    const leave = onceRested(pictures, "main", REST_MS, () => onWanted(true));
    return () => {
      leave();
      onWanted(false);
    };
  }, [pictures, isAtDraw, onWanted]);
}
