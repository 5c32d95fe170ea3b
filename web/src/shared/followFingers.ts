/** What two fingers do: so many times farther apart than they began, with their middle there. */
export type Spread = (times: number, x: number, y: number) => void;

/** Follow two fingers on an element; begin is asked whenever there are two. Returns what ends it. */
export function followFingers(element: HTMLElement, begin: () => Spread): () => void {
  const over = new AbortController();
  const down = new Map<number, { x: number; y: number }>();
  let spread: Spread | null = null;
  let began = 1;

  const apart = () => {
    const [one, other] = [...down.values()] as [{ x: number; y: number }, { x: number; y: number }];
    return {
      wide: Math.max(1, Math.hypot(one.x - other.x, one.y - other.y)),
      x: (one.x + other.x) / 2,
      y: (one.y + other.y) / 2,
    };
  };
  const listen = (name: string, act: (event: PointerEvent) => void) =>
    element.addEventListener(name, (event) => act(event as PointerEvent), {
      signal: over.signal,
      capture: true,
    });
  const lift = (event: PointerEvent) => {
    down.delete(event.pointerId);
    spread = null;
  };

  listen("pointerdown", (event) => {
    if (event.pointerType !== "touch") return;
    down.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (down.size !== 2) return;
    // Not for what lies over the sheet: that would paint.
    event.stopPropagation();
    spread = begin();
    began = apart().wide;
  });
  listen("pointermove", (event) => {
    if (!down.has(event.pointerId)) return;
    down.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (!spread || down.size !== 2) return;
    const { wide, x, y } = apart();
    spread(wide / began, x, y);
  });
  listen("pointerup", lift);
  listen("pointercancel", lift);
  return () => over.abort();
}
