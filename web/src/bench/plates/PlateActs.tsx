import { memo } from "react";
import { Button } from "react-bootstrap";
import { Tip } from "../../shared/Tip";

interface PlateActsProps {
  /** Which plate it is, from 0, of how many. */
  place: number;
  count: number;
  shown: boolean;
  isFull: boolean;
  /** Steady: the row is not drawn anew while a dial turns. */
  acts: {
    move: (by: number) => void;
    show: (shown: boolean) => void;
    copy: () => void;
    remove: () => void;
  };
}

/** What can be done to the chosen plate. */
export const PlateActs = memo(function PlateActs(props: PlateActsProps) {
  const { place, count, shown, isFull, acts } = props;
  return (
    <div className="discs-acts" role="group" aria-label="This plate">
      <Tip words="Print earlier">
        <Button
          variant="plain"
          aria-label="Print this plate earlier"
          disabled={place === 0}
          onClick={() => acts.move(-1)}
        >
          ←
        </Button>
      </Tip>
      <Tip words="Print later">
        <Button
          variant="plain"
          aria-label="Print this plate later"
          disabled={place === count - 1}
          onClick={() => acts.move(1)}
        >
          →
        </Button>
      </Tip>
      <Button
        variant="plain"
        aria-pressed={!shown}
        active={!shown}
        onClick={() => acts.show(!shown)}
      >
        {shown ? "hide" : "show"}
      </Button>
      <Button variant="plain" disabled={isFull} onClick={acts.copy}>
        copy
      </Button>
      <Tip words={count < 2 ? "A sheet keeps one plate" : "Remove this plate"}>
        <Button
          variant="plain"
          aria-label="Remove this plate"
          disabled={count < 2}
          onClick={acts.remove}
        >
          ×
        </Button>
      </Tip>
    </div>
  );
});
