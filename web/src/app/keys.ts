import { useHotkeys } from "react-hotkeys-hook";

/** Every key of the bench, in the words of the `?` page; the bindings are made from it too. */
export const KEYS = {
  photo: { keys: "p", shown: "P (held)", words: "See the photo in place of the drawing" },
  fit: { keys: "w", shown: "W", words: "The whole sheet" },
  exportPixels: { keys: "e", shown: "E", words: "One export pixel to one screen pixel" },
  closer: { keys: "period", shown: ".", words: "Closer" },
  farther: { keys: "comma", shown: ",", words: "Farther away" },
  undo: { keys: "mod+z", shown: "Ctrl Z", words: "Undo the last step" },
  redo: { keys: "mod+shift+z", shown: "Ctrl Shift Z", words: "Do the undone step again" },
  earlier: { keys: "bracketleft", shown: "[", words: "Stage before" },
  later: { keys: "bracketright", shown: "]", words: "Stage after" },
  large: { keys: "g", shown: "G", words: "Show the chosen stage large, or the sheet again" },
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
