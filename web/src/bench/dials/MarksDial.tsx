import { useId, useState } from "react";
import { Form } from "react-bootstrap";
import { useTyped } from "../../shared/useTyped";

interface MarksDialProps {
  /** How many there are now; undefined while that is not known. */
  marks: number | undefined;
  /** The dial that follows, in words. */
  sizedBy: string;
  /** Above so many it is said how long placing takes. */
  many: number;
  isBusy: boolean;
  onWish: (count: number) => void;
}

/** Ends of the track, as powers of ten. */
const [LOW, HIGH] = [2, 5.8];
const STEP = 0.01;

/** How many marks a plate has: the size of them follows. It is asked for once the hand rests. */
export function MarksDial({ marks, sizedBy, many, isBusy, onWish }: MarksDialProps) {
  const id = useId();
  // What was wished is shown until it is there.
  const [turned, setTurned] = useState<{ count: number; from: number | undefined } | null>(null);
  const [refused, setRefused] = useState("");
  const known = marks ?? 0;
  const isWished = turned !== null && (isBusy || turned.from === marks);
  const shown = isWished ? turned.count : known;
  const typing = useTyped(shown ? words(shown) : "…", (text) =>
    wish(Number(text.replaceAll(/[\s,.]/g, ""))),
  );

  function wish(count: number) {
    if (!(count >= 1) || !Number.isFinite(count)) {
      setRefused(`Type how many there shall be, from 1 on. There are ${words(known)} now.`);
      return;
    }
    setRefused("");
    if (Math.round(count) !== known) onWish(Math.round(count));
  }

  return (
    <Form.Group className="dial" controlId={id} data-dial="draw.marks">
      <div className="dial-head">
        <Form.Label>Number of marks</Form.Label>
        <input
          className="dial-value dial-marks"
          inputMode="numeric"
          aria-label="Number of marks, typed"
          aria-invalid={refused !== ""}
          {...typing}
        />
        {refused && (
          <div className="dial-refused" role="alert">
            {refused}
          </div>
        )}
      </div>
      <Form.Range
        min={LOW}
        max={HIGH}
        step={STEP}
        value={shown > 0 ? Math.log10(shown) : LOW}
        disabled={marks === undefined && !isWished}
        aria-valuetext={`${words(shown)} marks`}
        onChange={(event) =>
          setTurned({ count: rounded(10 ** event.currentTarget.valueAsNumber), from: marks })
        }
        onPointerUp={() => turned && wish(turned.count)}
        onKeyUp={(event) => event.key.startsWith("Arrow") && turned && wish(turned.count)}
      />
      <div className="dial-foot">
        <span className="dial-hint">
          <span>
            {isBusy
              ? "The size is being found…"
              : `${sizedBy} follows. Above ${words(many)} it takes a while.`}
          </span>
        </span>
      </div>
    </Form.Group>
  );
}

function words(count: number): string {
  return count.toLocaleString("en-GB");
}

/** A number with three digits that tell. */
function rounded(count: number): number {
  return Number(count.toPrecision(3));
}
