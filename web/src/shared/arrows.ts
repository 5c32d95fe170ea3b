const WAYS: Record<string, { x: number; y: number }> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** Which way an arrow key goes, so many steps; undefined for other keys. */
export function arrowWay(event: { key: string; shiftKey: boolean }, step: number, far: number) {
  const way = WAYS[event.key];
  const by = event.shiftKey ? far : step;
  return way && { x: way.x * by, y: way.y * by };
}
