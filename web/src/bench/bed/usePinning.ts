import { useState } from "react";
import type { WatchSpot } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { withSpot } from "../../sheet/watch";
import type { TheBench } from "../theBench";
import type { Looking } from "./useLooking";
import { visibleRegion } from "../../live/zoom";

/** Pinning a watch spot: by a drag over the sheet, or of the middle by asking twice. */
export function usePinning(
  { work, sheet, catalogue }: TheBench,
  { zoom, aspect }: Looking,
  say: (words: string) => void,
) {
  const [isOn, setOn] = useState(false);
  const most = catalogue.limits.watch_spots;

  function pin(spot: WatchSpot) {
    setOn(false);
    work.change(withSpot(sheet, spot), "Watch spot: pin", newGesture());
  }

  function ask() {
    if (sheet.watch.length >= most) {
      say(`A sheet has up to ${most} watch spots. Take one away first.`);
      return;
    }
    if (!isOn) {
      setOn(true);
      return;
    }
    // The second press pins the middle of what shows: no pointer is needed.
    const [left, top, right, bottom] = visibleRegion(zoom.place, zoom.area, aspect);
    const [x, y] = [(left + right) / 2, (top + bottom) / 2];
    const [w, h] = [(right - left) / 8, (bottom - top) / 8];
    pin({ name: "", left: x - w, top: y - h, right: x + w, bottom: y + h, is_eye: false });
  }

  return { isOn, ask, pin, leave: () => setOn(false) };
}

export type Pinning = ReturnType<typeof usePinning>;
