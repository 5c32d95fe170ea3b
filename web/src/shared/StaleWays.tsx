import { Button } from "react-bootstrap";

interface StaleWaysProps {
  onLoad: () => void;
  /** Without it what was not saved here is let go. */
  onTakeOver?: () => void;
}

/** The ways on from what was changed elsewhere. */
export function StaleWays({ onLoad, onTakeOver }: StaleWaysProps) {
  return (
    <>
      <Button size="sm" variant="plain" onClick={onLoad}>
        Load the newest version
      </Button>
      {onTakeOver && (
        <Button size="sm" variant="plain" onClick={onTakeOver}>
          Go on with mine
        </Button>
      )}
    </>
  );
}
