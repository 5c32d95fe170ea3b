import { useMemo } from "react";
import { type Picture, type Pictures, useAsked, usePicture } from "../../live/pictures";
import { SheetView } from "../../live/SheetView";
import { boxOf, type Place, type Size } from "../../live/zoom";

interface LiveSheetProps {
  pictures: Pictures;
  photo: Picture | undefined;
  area: Size;
  place: Place;
  aspect: number;
  label: string;
  /** Address of the picture that shows until the first one is drawn. */
  last: string | undefined;
}

/** The sheet as it is drawn now, or the photo instead. */
export function LiveSheet({ pictures, photo, last, ...where }: LiveSheetProps) {
  const whole = usePicture(pictures, "whole");
  const main = usePicture(pictures, "main");
  const asked = useAsked(pictures);
  const layers = useMemo(
    () => (photo ? [photo] : [whole, main].filter((each): each is Picture => each !== undefined)),
    [photo, whole, main],
  );
  return (
    <>
      <SheetView {...where} layers={layers} asked={asked} />
      {layers.length === 0 &&
        (last ? (
          <img className="bed-last" src={last} alt="" style={boxOf(where.place, where.aspect)} />
        ) : (
          <div className="bed-waiting">Drawing…</div>
        ))}
    </>
  );
}
