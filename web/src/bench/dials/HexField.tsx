import { useRef, useState } from "react";

const WRITTEN = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i;

interface HexFieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  onTouch: () => void;
}

/** A colour as it is written, #rrggbb; what is no colour is said and leaves the last good one. */
export function HexField({ label, value, onChange, onTouch }: HexFieldProps) {
  const [text, setText] = useState<string | null>(null);
  const [refused, setRefused] = useState(false);
  const dropped = useRef(false);

  function take() {
    const isDropped = dropped.current;
    dropped.current = false;
    if (isDropped) setText(null);
    if (isDropped || text === null) return;
    const colour = colourOf(text);
    setRefused(colour === null);
    if (colour && colour !== value.toLowerCase()) onChange(colour);
    setText(null);
  }

  return (
    <>
      <input
        className="dial-hex"
        aria-label={`${label}, written as #rrggbb`}
        aria-invalid={refused}
        data-typed={text !== null}
        maxLength={7}
        spellCheck={false}
        value={text ?? value.toLowerCase()}
        onFocus={(event) => {
          onTouch();
          event.currentTarget.select();
        }}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key !== "Enter" && event.key !== "Escape") return;
          event.stopPropagation();
          // Leaving the field takes what is typed in it, unless that was dropped.
          dropped.current = event.key === "Escape";
          event.currentTarget.blur();
        }}
      />
      {refused && (
        <div className="dial-refused" role="alert">
          A colour is written as #rrggbb, such as #1f6f66. It stays at {value}.
        </div>
      )}
    </>
  );
}

/** A written colour as #rrggbb; null for what is none. */
export function colourOf(text: string): string | null {
  const digits = WRITTEN.exec(text.trim())?.[1]?.toLowerCase();
  if (!digits) return null;
  return `#${digits.length === 3 ? [...digits].map((digit) => digit + digit).join("") : digits}`;
}
