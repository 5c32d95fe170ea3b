import { useState } from "react";
import { Button } from "react-bootstrap";
import { type Place, sizeOf } from "../../live/zoom";
import { followPointer } from "../../shared/followPointer";
import type { Held, Picking } from "./usePicking";

interface PickLayerProps {
  picking: Picking;
  place: Place;
  aspect: number;
}

/** So many pixels of the pointer's way take a colour to black or white. */
const FULL_PX = 160;

/** Lies over the sheet while a colour is taken from it, or pulled there. */
export function PickLayer({ picking, place, aspect }: PickLayerProps) {
  const [pulled, setPulled] = useState<{ colour: string; by: number } | null>(null);
  const { dial } = picking;
  if (!dial) return null;
  const isRing = dial.kind === "ring";
  const size = sizeOf(place.edge, aspect);

  function begin(event: React.PointerEvent<HTMLDivElement>) {
    if (event.button !== 0 || event.target !== event.currentTarget) return;
    event.stopPropagation();
    const bounds = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - bounds.left - place.x) / size.width;
    const y = (event.clientY - bounds.top - place.y) / size.height;
    if (x < 0 || x > 1 || y < 0 || y > 1) return;
    const from = event.clientY;
    let [held, last]: [Held | null, number] = [null, from];
    const by = () => Math.min(1, Math.max(-1, (from - last) / FULL_PX));
    const show = () => {
      if (!held) return;
      setPulled({ colour: held.colour, by: by() });
      picking.pull(held, by());
    };
    let isOver = false;
    followPointer(event, {
      move: (to) => {
        last = to.clientY;
        show();
      },
      end: () => {
        isOver = true;
        setPulled(null);
        picking.rest();
      },
    });
    void picking.press(x, y).then((found) => {
      // The answer may come after the pointer has let go.
      if (isOver) return;
      held = found;
      show();
    });
  }

  return (
    <div className="pin-layer" data-picking={dial.name} onPointerDown={begin}>
      <p>
        {pulled ? (
          <>
            <span className="pick-colour" style={{ background: pulled.colour }} />{" "}
            {pulled.by < 0 ? "darker" : "lighter"} by {Math.abs(pulled.by * 100).toFixed(0)} %
          </>
        ) : isRing ? (
          "Press on a colour and pull up for lighter, down for darker. Esc leaves."
        ) : (
          <>
            Press on the colour you want
            {(["photo", "sheet"] as const).map((each) => (
              <Button
                key={each}
                size="sm"
                variant="plain"
                active={picking.of === each}
                aria-pressed={picking.of === each}
                onClick={() => picking.look(each)}
              >
                {each === "photo" ? "in the photo" : "on the sheet"}
              </Button>
            ))}
            Esc leaves.
          </>
        )}
      </p>
    </div>
  );
}
