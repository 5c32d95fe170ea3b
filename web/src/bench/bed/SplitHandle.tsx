import type { Size } from "../../live/zoom";
import { followPointer } from "../../shared/followPointer";

const STEP = 0.02;

interface SplitHandleProps {
  area: Size;
  /** Where the split is, as a share of the area's width. */
  at: number;
  words: string;
  onMove: (at: number) => void;
}

/** The handle between the drawing on the left and what it is compared with on the right. */
export function SplitHandle({ area, at, words, onMove }: SplitHandleProps) {
  function held(share: number) {
    onMove(Math.min(0.98, Math.max(0.02, share)));
  }

  function grab(event: React.PointerEvent<HTMLElement>) {
    event.stopPropagation();
    event.preventDefault();
    const handle = event.currentTarget;
    handle.focus();
    const left = handle.parentElement!.getBoundingClientRect().left;
    followPointer(event, { move: (to) => held((to.clientX - left) / area.width) });
  }

  return (
    <div
      className="split-handle"
      role="slider"
      tabIndex={0}
      aria-label="Where the drawing ends and the other picture begins"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      style={{ left: at * area.width }}
      onPointerDown={grab}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        held(at + by);
      }}
    >
      <span className="split-words split-left">drawing</span>
      <span className="split-grip" aria-hidden="true" />
      <span className="split-words split-right">{words}</span>
    </div>
  );
}
