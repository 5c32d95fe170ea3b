import type { KeyboardEvent } from "react";

/** Enter leaves a field as it is typed, Esc as it was; for fields that take their value on leaving. */
export function leavingKeys(event: KeyboardEvent<HTMLInputElement>) {
  if (event.key !== "Enter" && event.key !== "Escape") return;
  const field = event.currentTarget;
  event.stopPropagation();
  if (event.key === "Escape") field.value = field.defaultValue;
  field.blur();
}
