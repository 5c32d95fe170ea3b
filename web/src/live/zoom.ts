/** Where the sheet lies in its area, in CSS pixels. edge is the length of its long edge. */
export interface Place {
  edge: number;
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

export const MARGIN = 28;
const LARGEST_EDGE = 40_000;
const SMALLEST_EDGE = 16;

/** Width and height of a sheet whose long edge is edge; aspect is width over height. */
export function sizeOf(edge: number, aspect: number): Size {
  return aspect >= 1
    ? { width: edge, height: edge / aspect }
    : { width: edge * aspect, height: edge };
}

/** The box of a sheet in its place, as CSS wants it. */
export function boxOf(place: Place, aspect: number) {
  return { left: place.x, top: place.y, ...sizeOf(place.edge, aspect) };
}

/** The largest place at which the whole sheet shows, in the middle. */
export function fitted(area: Size, aspect: number): Place {
  const wide = Math.max(40, area.width - 2 * MARGIN);
  const high = Math.max(40, area.height - 2 * MARGIN);
  const width = Math.min(wide, high * aspect);
  const edge = aspect >= 1 ? width : width / aspect;
  return centred(edge, area, aspect);
}

function centred(edge: number, area: Size, aspect: number): Place {
  const size = sizeOf(edge, aspect);
  return { edge, x: (area.width - size.width) / 2, y: (area.height - size.height) / 2 };
}

/**
 * The place after zooming to edge with the point (px, py) of the area held still. Nothing is
 * gained by a sheet smaller than its bed, unless that is its true size (isFree).
 */
export function zoomed(
  place: Place,
  edge: number,
  point: { x: number; y: number },
  area: Size,
  aspect: number,
  isFree = false,
): Place {
  const least = isFree ? SMALLEST_EDGE : fitted(area, aspect).edge;
  const goal = Math.min(LARGEST_EDGE, Math.max(Math.min(least, place.edge), edge));
  const times = goal / place.edge;
  const moved = {
    edge: goal,
    x: point.x - (point.x - place.x) * times,
    y: point.y - (point.y - place.y) * times,
  };
  return held(moved, area, aspect);
}

/** The place moved back so that the sheet is not dragged out of sight. */
export function held(place: Place, area: Size, aspect: number): Place {
  const size = sizeOf(place.edge, aspect);
  return {
    edge: place.edge,
    x: heldAlong(place.x, size.width, area.width),
    y: heldAlong(place.y, size.height, area.height),
  };
}

function heldAlong(start: number, length: number, room: number): number {
  if (length <= room - 2 * MARGIN) return (room - length) / 2;
  return Math.min(MARGIN, Math.max(room - MARGIN - length, start));
}

/** The part of the sheet (shares 0..1) that shows in the area. */
export function visibleRegion(
  place: Place,
  area: Size,
  aspect: number,
): [number, number, number, number] {
  const size = sizeOf(place.edge, aspect);
  const share = (value: number) => Math.min(1, Math.max(0, value));
  return [
    share(-place.x / size.width),
    share(-place.y / size.height),
    share((area.width - place.x) / size.width),
    share((area.height - place.y) / size.height),
  ];
}
