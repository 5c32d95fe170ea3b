import { useState } from "react";
import type { WatchSpot } from "../../api/client";
import { followPointer } from "../../shared/followPointer";
import { spotOf } from "../../sheet/watch";
import { type Place, sizeOf } from "../../live/zoom";

interface PinLayerProps {
  place: Place;
  aspect: number;
  onPin: (spot: WatchSpot) => void;
}

interface Corner {
  x: number;
  y: number;
}

/** Lies over the sheet while a watch spot is dragged out. */
export function PinLayer({ place, aspect, onPin }: PinLayerProps) {
  const [box, setBox] = useState<{ from: Corner; to: Corner } | null>(null);
  const size = sizeOf(place.edge, aspect);

  function begin(event: React.PointerEvent<HTMLDivElement>) {
    if (event.button !== 0) return;
    event.stopPropagation();
    const bounds = event.currentTarget.getBoundingClientRect();
    const at = (pointer: { clientX: number; clientY: number }) => ({
      x: (pointer.clientX - bounds.left - place.x) / size.width,
      y: (pointer.clientY - bounds.top - place.y) / size.height,
    });
    const from = at(event);
    followPointer(event, {
      move: (to) => setBox({ from, to: at(to) }),
      end: (to, isCancelled) => {
        setBox(null);
        const spot = isCancelled ? null : spotOf(from, at(to));
        if (spot) onPin(spot);
      },
    });
  }

  const spot = box && spotOf(box.from, box.to);
  return (
    <div className="pin-layer" onPointerDown={begin}>
      <p>Drag over a detail to watch it. Esc leaves.</p>
      {spot && (
        <div
          className="spot-outline"
          style={{
            left: place.x + spot.left * size.width,
            top: place.y + spot.top * size.height,
            width: (spot.right - spot.left) * size.width,
            height: (spot.bottom - spot.top) * size.height,
          }}
        />
      )}
    </div>
  );
}
