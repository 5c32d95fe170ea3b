import { Button } from "react-bootstrap";

interface StaleWaysProps {
  onLoad: () => void;
  onTakeOver: () => void;
}

/** The ways on from a sheet that was changed elsewhere. */
export function StaleWays({ onLoad, onTakeOver }: StaleWaysProps) {
  return (
    <>
      <Button size="sm" variant="plain" onClick={onLoad}>
        Load the newest version
      </Button>
      <Button size="sm" variant="plain" onClick={onTakeOver}>
        Go on with mine
      </Button>
    </>
  );
}
