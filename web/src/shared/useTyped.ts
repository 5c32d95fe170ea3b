import { type FocusEvent, type KeyboardEvent, useRef, useState } from "react";

/**
 * A field that takes what is typed when it is left, by Enter too; Esc leaves it as it was.
 * shown: what stands in it while nobody types. onLeave: takes the focus from it.
 */
export function useTyped(
  shown: string,
  onTake: (text: string) => void,
  onLeave: (field: HTMLInputElement) => void = (field) => field.blur(),
) {
  const [text, setText] = useState<string | null>(null);
  const dropped = useRef(false);

  return {
    "data-typed": text !== null,
    value: text ?? shown,
    onFocus: (event: FocusEvent<HTMLInputElement>) => event.currentTarget.select(),
    onChange: (event: React.ChangeEvent<HTMLInputElement>) => setText(event.currentTarget.value),
    onBlur: () => {
      const isDropped = dropped.current;
      dropped.current = false;
      if (text !== null && !isDropped) onTake(text);
      setText(null);
    },
    onKeyDown: (event: KeyboardEvent<HTMLInputElement>) => {
      if (event.key !== "Enter" && event.key !== "Escape") return;
      event.stopPropagation();
      dropped.current = event.key === "Escape";
      onLeave(event.currentTarget);
    },
  };
}
