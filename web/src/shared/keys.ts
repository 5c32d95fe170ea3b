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
  find: { keys: "slash", shown: "/", words: "Find a dial of any stage by its name" },
  suggest: { keys: "u", shown: "U", words: "Take the suggested value of the dial last touched" },
  hand: { keys: "a", shown: "A", words: "What the hand can do at this stage, or its dials" },
  seen: { keys: "v", shown: "V", words: "See the cutout another way, while the hand works on it" },
  only: { keys: "q", shown: "Q", words: "Only the sheet, or everything again" },
  nextShape: { keys: "j", shown: "J", words: "Tracing: choose the next shape" },
  shapeBefore: { keys: "shift+j", shown: "Shift J", words: "Tracing: choose the shape before" },
  likeColour: { keys: "l", shown: "L", words: "Tracing: choose all of this colour" },
  likeSize: { keys: "shift+l", shown: "Shift L", words: "Tracing: choose all of this size" },
  gather: { keys: "i", shown: "I", words: "Tracing: add what is chosen next, or no longer" },
  hideShape: { keys: "y", shown: "Y", words: "Tracing: hide what is chosen" },
  deleteShape: { keys: "delete", shown: "Del", words: "Tracing: delete what is chosen" },
  toFront: { keys: "f", shown: "F", words: "Tracing: to the front" },
  behind: { keys: "shift+f", shown: "Shift F", words: "Tracing: behind the others" },
  joinShapes: { keys: "m", shown: "M", words: "Tracing: join what is chosen" },
  cutOut: { keys: "d", shown: "D", words: "Tracing: cut it out of what lies beneath" },
  simplify: { keys: "r", shown: "R", words: "Tracing: make outlines simpler" },
  area: { keys: "f6", shown: "F6", words: "The next area of the page" },
  areaBefore: { keys: "shift+f6", shown: "Shift F6", words: "The area before" },
  large: { keys: "g", shown: "G", words: "Show the chosen stage large, or the sheet again" },
  leave: { keys: "escape", shown: "Esc", words: "Leave as it was" },
  help: { keys: "shift+slash", shown: "?", words: "This list" },
} as const;

export type KeyName = keyof typeof KEYS;
/** Those of the tracing alone. */
export type TracingKey =
  | "nextShape"
  | "shapeBefore"
  | "likeColour"
  | "likeSize"
  | "gather"
  | "hideShape"
  | "deleteShape"
  | "toFront"
  | "behind"
  | "joinShapes"
  | "cutOut"
  | "simplify";

const DIALOG = "[role=dialog][aria-modal=true]";
const TYPED = new Set(["text", "search", "number", "email", "url", "tel", "password"]);
const UNDOES: readonly string[] = [KEYS.undo.keys, KEYS.redo.keys];

/** Run an action when a key of the table is pressed: from a slider and a button too, but not while
 * text is being typed, and not from behind a dialog. */
export function useKey(name: KeyName, action: () => void) {
  const options = { ...heard(KEYS[name].keys), preventDefault: true };
  useHotkeys(KEYS[name].keys, () => action(), options, [action]);
}

/** Tell whether a key of the table goes down or up. */
export function useHeldKey(name: KeyName, onHeld: (held: boolean) => void) {
  useHotkeys(
    KEYS[name].keys,
    (event) => onHeld(event.type === "keydown"),
    { ...heard(KEYS[name].keys), keydown: true, keyup: true },
    [onHeld],
  );
}

function heard(keys: string) {
  return {
    enableOnFormTags: true,
    ignoreEventWhen: (event: KeyboardEvent) =>
      document.querySelector(DIALOG) !== null || isTyped(event.target, keys),
  };
}

/** Whether a key belongs to what is being typed. Undo is the field's own only once it was typed in. */
function isTyped(target: EventTarget | null, keys: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) {
    return TYPED.has(target.type) && !(UNDOES.includes(keys) && isAsItWas(target));
  }
  return target instanceof HTMLSelectElement || target instanceof HTMLTextAreaElement;
}

function isAsItWas(field: HTMLElement): boolean {
  return field.dataset["typed"] === "false";
}

const askers = new Set<() => void>();

/** Show the list of keys, from wherever it is asked for. */
export function askForKeys() {
  askers.forEach((ask) => ask());
}

/** Be told when the list of keys is asked for; returns what ends that. */
export function onKeysAsked(ask: () => void): () => void {
  askers.add(ask);
  return () => {
    askers.delete(ask);
  };
}
