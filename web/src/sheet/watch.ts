import type { Sheet, WatchSpot } from "../api/client";

const SMALLEST = 0.01;

/** A corner-to-corner drag as a watch spot within the sheet, or null where it is next to nothing. */
export function spotOf(
  from: { x: number; y: number },
  to: { x: number; y: number },
): WatchSpot | null {
  const share = (value: number) => Math.min(1, Math.max(0, value));
  const spot = {
    name: "",
    left: share(Math.min(from.x, to.x)),
    right: share(Math.max(from.x, to.x)),
    top: share(Math.min(from.y, to.y)),
    bottom: share(Math.max(from.y, to.y)),
    is_eye: false,
  };
  return spot.right - spot.left < SMALLEST || spot.bottom - spot.top < SMALLEST ? null : spot;
}

/** A spot moved by shares of the sheet, and made larger or smaller about its middle. */
export function shifted(spot: WatchSpot, right: number, down: number, times = 1): WatchSpot {
  const wide = Math.min(1, Math.max(SMALLEST, (spot.right - spot.left) * times));
  const high = Math.min(1, Math.max(SMALLEST, (spot.bottom - spot.top) * times));
  const x = (spot.left + spot.right) / 2 + right;
  const y = (spot.top + spot.bottom) / 2 + down;
  const left = Math.min(1 - wide, Math.max(0, x - wide / 2));
  const top = Math.min(1 - high, Math.max(0, y - high / 2));
  return { ...spot, left, top, right: left + wide, bottom: top + high };
}

export function withSpot(sheet: Sheet, spot: WatchSpot): Sheet {
  return { ...sheet, watch: [...sheet.watch, spot] };
}

export function withSpotAt(sheet: Sheet, place: number, spot: WatchSpot | null): Sheet {
  const watch = spot ? sheet.watch.with(place, spot) : sheet.watch.toSpliced(place, 1);
  return { ...sheet, watch };
}

/** Details are never shown smaller than so many times as large as on the bed. */
const LEAST_TIMES = 2;
const LARGEST_EDGE = 30_000;

/**
 * How a spot shows in its panel: the whole sheet's long edge then, which part of the spot has room,
 * and how many times larger than on the bed that is.
 */
export function magnified(
  spot: WatchSpot,
  panel: { width: number; height: number },
  aspect: number,
  bedEdge: number,
): { edge: number; region: [number, number, number, number]; times: number } {
  const edge = Math.min(
    LARGEST_EDGE,
    Math.max(spotEdge(spot, panel, aspect), LEAST_TIMES * bedEdge),
  );
  const high = aspect >= 1 ? edge / aspect : edge;
  const wide = aspect >= 1 ? edge : edge * aspect;
  const middle = (low: number, top: number, most: number): [number, number] => {
    const half = Math.min(top - low, most) / 2;
    return [(low + top) / 2 - half, (low + top) / 2 + half];
  };
  const [left, right] = middle(spot.left, spot.right, panel.width / wide);
  const [top, bottom] = middle(spot.top, spot.bottom, panel.height / high);
  return { edge, region: [left, top, right, bottom], times: edge / bedEdge };
}

/** The long edge of the whole sheet at which a spot is as wide as its panel. */
function spotEdge(
  spot: WatchSpot,
  panel: { width: number; height: number },
  aspect: number,
): number {
  const width = panel.width / (spot.right - spot.left);
  const height = panel.height / (spot.bottom - spot.top);
  const byWidth = aspect >= 1 ? width : width / aspect;
  const byHeight = aspect >= 1 ? height * aspect : height;
  return Math.min(byWidth, byHeight);
}
