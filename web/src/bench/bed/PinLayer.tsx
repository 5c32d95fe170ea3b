import { useState } from "react";
import type { WatchSpot } from "../../api/client";
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
    const layer = event.currentTarget;
    const bounds = layer.getBoundingClientRect();
    const at = (pointer: { clientX: number; clientY: number }) => ({
      x: (pointer.clientX - bounds.left - place.x) / size.width,
      y: (pointer.clientY - bounds.top - place.y) / size.height,
    });
    const from = at(event);
    layer.setPointerCapture(event.pointerId);
    const move = (to: PointerEvent) => setBox({ from, to: at(to) });
    const end = (to: PointerEvent) => {
      layer.removeEventListener("pointermove", move);
      layer.removeEventListener("pointerup", end);
      setBox(null);
      const spot = spotOf(from, at(to));
      if (spot) onPin(spot);
    };
    layer.addEventListener("pointermove", move);
    layer.addEventListener("pointerup", end);
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
