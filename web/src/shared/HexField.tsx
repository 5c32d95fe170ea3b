import { useState } from "react";
import { useTyped } from "./useTyped";

const WRITTEN = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i;

interface HexFieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  onTouch: () => void;
}

/** A colour as it is written, #rrggbb; what is no colour is said and leaves the last good one. */
export function HexField({ label, value, onChange, onTouch }: HexFieldProps) {
  const [refused, setRefused] = useState(false);
  const typing = useTyped(value.toLowerCase(), take);

  function take(text: string) {
    const colour = colourOf(text);
    setRefused(colour === null);
    if (colour && colour !== value.toLowerCase()) onChange(colour);
  }

  return (
    <>
      <input
        className="dial-hex"
        aria-label={`${label}, written as #rrggbb`}
        aria-invalid={refused}
        maxLength={7}
        spellCheck={false}
        {...typing}
        onFocus={(event) => {
          onTouch();
          typing.onFocus(event);
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
