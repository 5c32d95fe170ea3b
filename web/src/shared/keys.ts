import { useHotkeys } from "react-hotkeys-hook";

/** Every key of the bench, in the words of the `?` page; the bindings are made from it too. */
export const KEYS = {
  photo: { keys: "p", shown: "P (held)", words: "See the photo in place of the drawing" },
  fit: { keys: "w", shown: "W", words: "The whole sheet" },
  exportPixels: { keys: "e", shown: "E", words: "One export pixel to one screen pixel" },
  closer: { keys: "period", shown: ".", words: "Closer" },
  farther: { keys: "comma", shown: ",", words: "Farther away" },
  paperSize: { keys: "s", shown: "S", words: "The size it has on paper" },
  split: { keys: "h", shown: "H", words: "Halves: the drawing, and what it is compared with" },
  beside: { keys: "b", shown: "B", words: "Side by side with what it is compared with" },
  strip: { keys: "t", shown: "T", words: "Test strip of the dial last touched" },
  watch: {
    keys: "o",
    shown: "O",
    words: "Pin a watch spot: drag on the sheet, or O again for the middle",
  },
  lost: { keys: "x", shown: "X", words: "Show lost detail" },
  keepPull: { keys: "k", shown: "K", words: "Keep a pull" },
  pulls: { keys: "shift+k", shown: "Shift K", words: "All pulls" },
  direction: { keys: "c", shown: "C", words: "Contact sheet: another direction" },
  nextPlate: { keys: "n", shown: "N", words: "Next plate" },
  hidePlate: { keys: "shift+n", shown: "Shift N", words: "Hide this plate, or show it again" },
  undo: { keys: "mod+z", shown: "Ctrl Z", words: "Undo the last step" },
  redo: { keys: "mod+shift+z", shown: "Ctrl Shift Z", words: "Do the undone step again" },
  earlier: { keys: "bracketleft", shown: "[", words: "Stage before" },
  later: { keys: "bracketright", shown: "]", words: "Stage after" },
  large: { keys: "g", shown: "G", words: "Show the chosen stage large, or the sheet again" },
  leave: { keys: "escape", shown: "Esc", words: "Leave as it was" },
  help: { keys: "shift+slash", shown: "?", words: "This list" },
} as const;

export type KeyName = keyof typeof KEYS;

/** Run an action when a key of the table is pressed, unless text is being typed. */
export function useKey(name: KeyName, action: () => void) {
  useHotkeys(KEYS[name].keys, () => action(), { preventDefault: true }, [action]);
}

/** Tell whether a key of the table goes down or up. */
export function useHeldKey(name: KeyName, onHeld: (held: boolean) => void) {
  useHotkeys(
    KEYS[name].keys,
    (event) => onHeld(event.type === "keydown"),
    { keydown: true, keyup: true },
    [onHeld],
  );
}
