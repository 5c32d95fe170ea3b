import type { Lying } from "../../api/client";

/** Lines that edges and middles snap to, mm from the paper's left and top. */
export interface Guides {
  x: number[];
  y: number[];
}

/** Half of the width and height that something takes up on the paper as it is turned. */
export function reachOf({ width, height, turn }: Lying): { x: number; y: number } {
  const angle = (turn * Math.PI) / 180;
  const [cosine, sine] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  return {
    x: (width * cosine + height * sine) / 2,
    y: (width * sine + height * cosine) / 2,
  };
}

/** The paper's edges, middle and margins, and the edges and middles of all else. */
export function guidesOf(
  paper: { width: number; height: number; margin: number },
  others: Lying[],
): Guides {
  const { width, height, margin } = paper;
  const inner = margin > 0 ? [margin] : [];
  const x = [0, width / 2, width, ...inner, ...inner.map((each) => width - each)];
  const y = [0, height / 2, height, ...inner, ...inner.map((each) => height - each)];
  for (const other of others) {
    const reach = reachOf(other);
    x.push(other.x - reach.x, other.x, other.x + reach.x);
    y.push(other.y - reach.y, other.y, other.y + reach.y);
  }
  return { x, y };
}

/** The nearest line to an edge or the middle of what lies at `at`, if one is near enough. */
function nearest(at: number, reach: number, lines: number[], nearMm: number) {
  let best: { by: number; line: number } | null = null;
  for (const line of lines) {
    for (const edge of [at - reach, at, at + reach]) {
      const by = line - edge;
      if (Math.abs(by) <= nearMm && (!best || Math.abs(by) < Math.abs(best.by)))
        best = { by, line };
    }
  }
  return best;
}

/** Something moved, snapped where an edge or its middle is near a line; which lines it met. */
export function snapped(lying: Lying, guides: Guides, nearMm: number) {
  const reach = reachOf(lying);
  const across = nearest(lying.x, reach.x, guides.x, nearMm);
  const down = nearest(lying.y, reach.y, guides.y, nearMm);
  return {
    x: lying.x + (across?.by ?? 0),
    y: lying.y + (down?.by ?? 0),
    met: { x: across ? [across.line] : [], y: down ? [down.line] : [] },
  };
}

/** What lies somewhere, drawn larger from a corner or side that is pulled; the opposite stays. */
export function pulled(
  lying: Lying,
  handle: { x: -1 | 0 | 1; y: -1 | 0 | 1 },
  to: { x: number; y: number },
): { across: number; down: number; x: number; y: number } {
  const angle = (lying.turn * Math.PI) / 180;
  const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
  // In its own upright box, y downwards; what stays is opposite.
  const stays = { x: (-handle.x * lying.width) / 2, y: (-handle.y * lying.height) / 2 };
  const [dx, dy] = [to.x - lying.x, to.y - lying.y];
  const own = { x: dx * cosine - dy * sine, y: dx * sine + dy * cosine };
  const least = 0.02;
  let across = 1;
  let down = 1;
  if (handle.x && handle.y) {
    // Along the diagonal, so that its shape stays.
    const diagonal = { x: handle.x * lying.width, y: handle.y * lying.height };
    const along = (own.x - stays.x) * diagonal.x + (own.y - stays.y) * diagonal.y;
    across = Math.max(least, along / (diagonal.x ** 2 + diagonal.y ** 2));
    down = across;
  } else if (handle.x) {
    across = Math.max(least, ((own.x - stays.x) * handle.x) / lying.width);
  } else {
    down = Math.max(least, ((own.y - stays.y) * handle.y) / lying.height);
  }
  const middle = { x: stays.x * (1 - across), y: stays.y * (1 - down) };
  return {
    across,
    down,
    x: lying.x + middle.x * cosine + middle.y * sine,
    y: lying.y - middle.x * sine + middle.y * cosine,
  };
}
