interface Following {
  move: (at: PointerEvent) => void;
  /** It let go, or (isCancelled) was taken away. */
  end?: (at: PointerEvent, isCancelled: boolean) => void;
}

interface At {
  clientX: number;
  clientY: number;
}

/** A pointer that went less far was pressed and not drawn, in pixels. */
const PRESSED_PX = 4;

/** Whether a pointer went so far from where it was pressed that it drew or took something. */
export function isFarFrom(begun: At, at: At): boolean {
  return Math.hypot(at.clientX - begun.clientX, at.clientY - begun.clientY) > PRESSED_PX;
}

/**
 * Follow a pointer that was pressed, wherever it goes, until it lets go. A second finger takes the
 * first one away: two of them move and enlarge what is under them.
 */
export function followPointer(
  event: React.PointerEvent<Element>,
  { move, end }: Following,
  surface: Element = event.currentTarget,
) {
  const over = new AbortController();
  const { signal } = over;
  const leave = (at: PointerEvent) => {
    over.abort();
    end?.(at, at.type !== "pointerup");
  };
  if (event.pointerType === "touch") {
    const second = (at: PointerEvent) => {
      if (at.pointerType === "touch" && at.pointerId !== event.pointerId) leave(at);
    };
    window.addEventListener("pointerdown", second, { signal, capture: true });
  }
  surface.setPointerCapture(event.pointerId);
  for (const [name, act] of [
    ["pointermove", move],
    ["pointerup", leave],
    ["pointercancel", leave],
  ] as const) {
    surface.addEventListener(name, (at) => act(at as PointerEvent), { signal });
  }
}
