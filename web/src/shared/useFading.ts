import { useEffect, useState } from "react";

/** How long a note is there at least, and how much longer for each letter of it. */
const [LEAST_MS, LETTER_MS] = [4000, 60];

/**
 * Puts a note away once it has been there long enough to be read; not while the pointer rests on it
 * or something in it has the focus. Returns what the note is given.
 */
export function useFading(words: string, onAway: () => void) {
  const [isHeld, hold] = useState(false);
  useEffect(() => {
    if (!words || isHeld) return undefined;
    const timer = window.setTimeout(onAway, LEAST_MS + LETTER_MS * words.length);
    return () => window.clearTimeout(timer);
  }, [words, isHeld, onAway]);
  return {
    onPointerEnter: () => hold(true),
    onPointerLeave: () => hold(false),
    onFocus: () => hold(true),
    onBlur: () => hold(false),
  };
}
