/** Where places on the sheet come to: x' = a x + b y + c, y' = d x + e y + f, mm. */
export type Way = [number, number, number, number, number, number];

interface Point {
  x: number;
  y: number;
}

export const moved = (by: Point): Way => [1, 0, by.x, 0, 1, by.y];

/** Turned by degrees counter-clockwise about a middle, as it is seen. */
export function turned(degrees: number, about: Point): Way {
  const [cosine, sine] = [Math.cos, Math.sin].map((of) => of((degrees * Math.PI) / 180)) as [
    number,
    number,
  ];
  return held([cosine, sine, 0, -sine, cosine, 0], about);
}

export const scaled = (times: number, about: Point): Way => held([times, 0, 0, 0, times, 0], about);

/** Left and right changed. */
export const mirrored = (about: Point): Way => held([-1, 0, 0, 0, 1, 0], about);

/** A way that leaves a middle where it is. */
function held([a, b, , d, e]: Way, { x, y }: Point): Way {
  return [a, b, x - a * x - b * y, d, e, y - d * x - e * y];
}
