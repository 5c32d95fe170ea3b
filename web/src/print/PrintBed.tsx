import { useMemo } from "react";
import type { BadDay, Check, ExportSize, Sheet, View, Wish } from "../api/client";
import { useAsked, usePicture } from "../live/pictures";
import { SheetView } from "../live/SheetView";
import { useLive } from "../live/useLive";
import { useZoom } from "../live/useZoom";
import { viewOf, WHOLE } from "../live/views";
import { boxOf, fitted, visibleRegion } from "../live/zoom";
import { useKey } from "../shared/keys";
import { Trouble } from "../shared/Trouble";
import { ZoomButtons } from "../shared/ZoomButtons";

/** A file of shapes is looked at as if it were printed so finely. */
const SEEN_DPI = 300;

interface PrintBedProps {
  sheet: Sheet;
  wanted: Wish;
  size: ExportSize;
  /** Seen as a rough press would print it, and not as it leaves. */
  badDay: BadDay | null;
  /** Places to be shown. */
  spots: Check["spots"];
  /** The key of the tracing whose changed shapes are shown; "" for none. */
  traced: string;
}

/** The picture as it will leave, on its paper with its measures; closer, pixel by pixel. */
export function PrintBed({ sheet, wanted, size, badDay, spots, traced }: PrintBedProps) {
  const aspect = size.width_px / size.height_px;
  const exportEdge = Math.max(size.width_px, size.height_px);
  const { area, place, isFit, setElement, ...acts } = useZoom(aspect, exportEdge, 1);
  const { fit, oneToOne, closer, farther, drag, keyed } = acts;
  const ratio = window.devicePixelRatio;
  // Never finer than the file: closer than its pixels they are only larger.
  const edge = Math.min(exportEdge, Math.max(1, Math.round(place.edge * ratio)));
  const fitEdge = Math.min(exportEdge, Math.round(fitted(area, aspect).edge * ratio));
  const isClose = edge > fitEdge;
  const [left, top, right, bottom] = isClose ? visibleRegion(place, area, aspect) : WHOLE;
  const leaves = useMemo(
    // What it is called and how it is packed changes no pixel; what has none is seen in colour.
    () => {
      if (wanted.format === "plotter") return wanted as View["leaves"];
      const { depth = "colour", greys = "cut", dpi, long_edge_px } = wanted;
      const size = wanted.depth ? { dpi, long_edge_px } : { dpi: SEEN_DPI };
      return { format: "png", depth, greys, ...size } as View["leaves"];
    },
    [wanted],
  );
  const views = useMemo(() => {
    if (area.width === 0) return [];
    const how = { ...(badDay ? { bad_day: badDay } : { leaves }), traced };
    const main = viewOf("main", edge, { region: [left, top, right, bottom], ...how });
    return isClose ? [main, viewOf("whole", fitEdge, how)] : [main];
  }, [area.width, edge, fitEdge, isClose, left, top, right, bottom, leaves, badDay, traced]);
  const live = useLive(sheet, views);
  const whole = usePicture(live.pictures, "whole");
  const main = usePicture(live.pictures, "main");
  const layers = useMemo(
    () => [isClose ? whole : undefined, main].filter((each) => each !== undefined),
    [isClose, whole, main],
  );
  useKey("fit", fit);
  useKey("exportPixels", oneToOne);
  useKey("closer", closer);
  useKey("farther", farther);
  const asked = useAsked(live.pictures);
  const isBusy = layers.length > 0 && (main?.answer.ask ?? 0) < asked;
  const percent = (place.edge * ratio * 100) / exportEdge;

  return (
    <div
      className="bed print-bed"
      ref={setElement}
      role="group"
      tabIndex={0}
      aria-label="The picture as it will leave: arrows move it, plus and minus come closer and go farther away"
      data-area="the picture"
      onPointerDown={drag}
      onKeyDown={keyed}
    >
      <SheetView
        area={area}
        place={place}
        aspect={aspect}
        layers={layers}
        label={`As it will leave: ${sheet.title}`}
        asked={asked}
      />
      {layers.length === 0 && <div className="bed-waiting">Drawing…</div>}
      {isBusy && (
        <div className="print-busy" role="status">
          Drawing it as it will leave…
        </div>
      )}
      {!isBusy && main?.answer.plotted && (
        <div className="print-said" data-testid="plotted">
          {main.answer.plotted}
        </div>
      )}
      {isFit && layers.length > 0 && (
        <div className="measures" aria-hidden="true" style={boxOf(place, aspect)}>
          <span className="measure measure-width">{size.width_mm.toFixed(1)} mm</span>
          <span className="measure measure-height">{size.height_mm.toFixed(1)} mm</span>
        </div>
      )}
      {(spots ?? []).length > 0 && (
        <div className="check-spots" aria-hidden="true" style={boxOf(place, aspect)}>
          {spots?.map((spot) => (
            <span
              key={`${spot.x} ${spot.y}`}
              style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }}
            />
          ))}
        </div>
      )}
      {layers.length > 0 && (size.pages ?? []).length > 0 && (
        <div className="page-boxes" aria-hidden="true" style={boxOf(place, aspect)}>
          {size.pages?.map((page) => (
            <div
              key={page.name}
              style={{
                left: `${(page.left * 100) / size.width_mm}%`,
                top: `${(page.top * 100) / size.height_mm}%`,
                width: `${(page.width * 100) / size.width_mm}%`,
                height: `${(page.height * 100) / size.height_mm}%`,
              }}
            >
              <span>{page.name}</span>
            </div>
          ))}
        </div>
      )}
      <ZoomButtons
        isFit={isFit}
        percent={percent}
        onFit={fit}
        onCloser={closer}
        onFarther={farther}
        onOneToOne={oneToOne}
      />
      {live.problem && (
        <div className="bed-trouble">
          <Trouble sentence={live.problem} />
        </div>
      )}
    </div>
  );
}
