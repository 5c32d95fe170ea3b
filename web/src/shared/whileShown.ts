import { type ComponentType, memo } from "react";

/**
 * A dialog that is drawn anew only while it is shown: a page that changes with every move of a hand
 * need not draw what nobody sees.
 */
export function whileShown<P extends { show: boolean }>(dialog: ComponentType<P>) {
  return memo(dialog, (before: P, after: P) => !before.show && !after.show);
}
