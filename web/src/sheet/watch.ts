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

/** The long edge of the whole sheet at which a spot is as wide as its panel. */
export function spotEdge(
  spot: WatchSpot,
  panel: { width: number; height: number },
  aspect: number,
): number {
  const width = panel.width / (spot.right - spot.left);
  const height = panel.height / (spot.bottom - spot.top);
  const byWidth = aspect >= 1 ? width : width / aspect;
  const byHeight = aspect >= 1 ? height * aspect : height;
  return Math.min(byWidth, byHeight, 30_000);
}
