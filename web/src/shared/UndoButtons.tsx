import { Button } from "react-bootstrap";

interface UndoButtonsProps {
  /** What would be undone and done again, in words; null for nothing. */
  undo: string | null;
  redo: string | null;
  isNarrow?: boolean;
  onUndo: () => void;
  onRedo: () => void;
}

/** One step back, and forth again. */
export function UndoButtons({ undo, redo, isNarrow = false, onUndo, onRedo }: UndoButtonsProps) {
  return (
    <>
      <Button
        variant="plain"
        disabled={undo === null}
        title={undo ? `Undo: ${undo}` : "Nothing to undo"}
        aria-label="Undo"
        onClick={onUndo}
      >
        {isNarrow ? "↶" : "Undo"}
      </Button>
      <Button
        variant="plain"
        disabled={redo === null}
        title={redo ? `Redo: ${redo}` : "Nothing to do again"}
        aria-label="Redo"
        onClick={onRedo}
      >
        {isNarrow ? "↷" : "Redo"}
      </Button>
    </>
  );
}
