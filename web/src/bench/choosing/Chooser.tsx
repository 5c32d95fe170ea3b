import { type ReactNode, useCallback, useEffect, useId, useRef, useState } from "react";

interface ChooserProps {
  /** What is chosen, in words, and more about it. */
  chosen: string;
  title?: string | undefined;
  /** What the others are called together. */
  others: string;
  /** A picture of what is chosen. */
  picture?: ReactNode;
  /** The name of the row, where another control than its words gives it. */
  labelledBy?: string;
  /** The hand comes near: what is chosen from may be made ready. */
  onNear?: (() => void) | undefined;
  /** All there is to choose from, while it is open; it closes once one is chosen. */
  children: (close: () => void, id: string) => ReactNode;
}

/** What is chosen, in one row; the others lie over the column while it is open. Choosing, Esc or a
 * press beside it closes it. */
export function Chooser(props: ChooserProps) {
  const { chosen, title, others, picture, labelledBy, onNear, children } = props;
  const [isOpen, open] = useState(false);
  const id = useId();
  const row = useRef<HTMLButtonElement>(null);
  const whole = useRef<HTMLDivElement>(null);

  useEffect(() => {
    if (!isOpen) return undefined;
    const [list, back] = [whole.current, row.current];
    list?.querySelector(".kinds")?.scrollIntoView({ block: "nearest" });
    list?.querySelector<HTMLElement>("[aria-pressed=true], [role=group] button")?.focus();
    function closeBeside(event: PointerEvent) {
      if (!list?.contains(event.target as Node)) open(false);
    }
    document.addEventListener("pointerdown", closeBeside);
    return () => {
      document.removeEventListener("pointerdown", closeBeside);
      // What had the focus is gone with the list.
      if (document.activeElement === document.body) back?.focus();
    };
  }, [isOpen]);

  const close = useCallback(() => open(false), []);

  return (
    <div
      ref={whole}
      className="kind-chooser"
      onPointerEnter={onNear}
      onFocus={onNear}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !isOpen) return;
        event.stopPropagation();
        close();
      }}
    >
      <button
        ref={row}
        type="button"
        id={`${id}-row`}
        className="kind-row"
        aria-expanded={isOpen}
        aria-controls={id}
        aria-labelledby={labelledBy && `${labelledBy} ${id}-row`}
        title={title}
        onClick={() => open(!isOpen)}
      >
        {picture}
        <strong>{chosen}</strong>
        <span className="kind-others">{others}</span>
      </button>
      {isOpen && children(close, id)}
    </div>
  );
}
