import { useState } from "react";
import { boxOf, type Place } from "../../live/zoom";
import { arrowWay } from "../../shared/arrows";
import { followPointer } from "../../shared/followPointer";
import { dragged, HANDLES, movedBy } from "./crops";
import type { Cropping } from "./useCropping";

interface CropLayerProps {
  cropping: Cropping;
  place: Place;
  aspect: number;
}

const [STEP, FAR_STEP] = [0.005, 0.05];
const NAMES: Record<string, string> = {
  "-1,-1": "Top left corner",
  "0,-1": "Top edge",
  "1,-1": "Top right corner",
  "1,0": "Right edge",
  "1,1": "Bottom right corner",
  "0,1": "Bottom edge",
  "-1,1": "Bottom left corner",
  "-1,0": "Left edge",
};

/** The frame of a crop over the whole photo: handles, and the part itself to be moved. */
export function CropLayer({ cropping, place, aspect }: CropLayerProps) {
  const { bounds, setBounds, ratio, isLevelling } = cropping;
  const [line, setLine] = useState<{ x: number; y: number; x2: number; y2: number } | null>(null);
  if (!bounds) return null;
  const box = boxOf(place, aspect);

  function shareOf(surface: Element, at: { clientX: number; clientY: number }) {
    const from = surface.getBoundingClientRect();
    return {
      x: (at.clientX - from.left - box.left) / box.width,
      y: (at.clientY - from.top - box.top) / box.height,
    };
  }

  function drawLevel(event: React.PointerEvent<HTMLDivElement>) {
    const from = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - from.left, event.clientY - from.top];
    followPointer(event, {
      move: (to) => setLine({ x, y, x2: to.clientX - from.left, y2: to.clientY - from.top }),
      end: (to, isCancelled) => {
        setLine(null);
        const [across, down] = [to.clientX - from.left - x, to.clientY - from.top - y];
        if (!isCancelled && Math.hypot(across, down) > 12) cropping.level(across, down);
      },
    });
  }

  function begin(event: React.PointerEvent<HTMLDivElement>) {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (isLevelling) return drawLevel(event);
    const layer = event.currentTarget;
    const [start, began] = [shareOf(layer, event), bounds!];
    const name = (event.target as HTMLElement).dataset.handle;
    const handle = HANDLES.find((each) => String(each) === name);
    followPointer(event, {
      move: (at) => {
        const to = shareOf(layer, at);
        setBounds(
          handle
            ? dragged(began, handle, to, ratio)
            : movedBy(began, to.x - start.x, to.y - start.y),
        );
      },
    });
  }

  function keyed(event: React.KeyboardEvent) {
    if (event.key === "Enter") {
      event.preventDefault();
      event.stopPropagation();
      return cropping.take();
    }
    const way = arrowWay(event, STEP, FAR_STEP);
    if (!way || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const name = (event.target as HTMLElement).dataset.handle;
    const handle = HANDLES.find((each) => String(each) === name);
    const { x, y } = way;
    if (!handle) return setBounds(movedBy(bounds!, x, y));
    const at = {
      x: (handle[0] < 0 ? bounds!.left : bounds!.right) + x,
      y: (handle[1] < 0 ? bounds!.top : bounds!.bottom) + y,
    };
    setBounds(dragged(bounds!, handle, at, ratio));
  }

  const frame = {
    left: box.left + bounds.left * box.width,
    top: box.top + bounds.top * box.height,
    width: (bounds.right - bounds.left) * box.width,
    height: (bounds.bottom - bounds.top) * box.height,
  };
  return (
    <div
      className={isLevelling ? "crop-layer crop-levelling" : "crop-layer"}
      onPointerDown={begin}
      onKeyDown={keyed}
    >
      <div
        className="crop-frame"
        style={frame}
        tabIndex={0}
        role="group"
        aria-label="The part that is drawn: arrows move it, Enter takes it"
      >
        {!isLevelling &&
          HANDLES.map((handle) => (
            <button
              key={String(handle)}
              type="button"
              className="crop-handle"
              data-handle={String(handle)}
              aria-label={NAMES[String(handle)]}
              style={{ left: `${50 + 50 * handle[0]}%`, top: `${50 + 50 * handle[1]}%` }}
            />
          ))}
      </div>
      {line && (
        <svg className="crop-line" aria-hidden="true">
          <line x1={line.x} y1={line.y} x2={line.x2} y2={line.y2} />
        </svg>
      )}
    </div>
  );
}
