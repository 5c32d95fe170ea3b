interface NoteProps {
  words: string;
  onAway: () => void;
}

/** Says what was done, until it is put away. */
export function Note({ words, onAway }: NoteProps) {
  if (!words) return null;
  return (
    <div className="bed-said" role="status" onPointerDown={(event) => event.stopPropagation()}>
      {words}
      <button type="button" aria-label="Put this note away" onClick={onAway}>
        ×
      </button>
    </div>
  );
}
