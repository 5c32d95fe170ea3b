import { useFading } from "../../shared/useFading";

interface NoteProps {
  words: string;
  onAway: () => void;
}

/** Says what was done, until it is read or put away. */
export function Note({ words, onAway }: NoteProps) {
  const fading = useFading(words, onAway);
  return (
    <div role="status">
      {words && (
        <div className="bed-said" onPointerDown={(event) => event.stopPropagation()} {...fading}>
          {words}
          <button type="button" aria-label="Put this note away" onClick={onAway}>
            ×
          </button>
        </div>
      )}
    </div>
  );
}
