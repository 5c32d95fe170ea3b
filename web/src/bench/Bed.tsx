import type { DialSpec, Plate, Sheet, WatchSpot } from "../api/client";
import { BedTrouble } from "./BedTrouble";
import { Highlights } from "./Highlights";
import { LiveSheet } from "./LiveSheet";
import type { Picture } from "./pictures";
import { PinLayer } from "./PinLayer";
import { SheetView } from "./SheetView";
import { SplitHandle } from "./SplitHandle";
import type { Settings, Step } from "./stages";
import { TestStrip } from "./TestStrip";
import type { useCompare } from "./useCompare";
import type { useHolder } from "./useHolder";
import { type Highlight, spotsOf, type useJudging } from "./useJudging";
import type { Live } from "./useLive";
import type { useSheet } from "./useSheet";
import type { useZoom } from "./useZoom";
import { spotEdge } from "./watch";
import { SPOT_PANEL, WatchSpots } from "./WatchSpots";
import { visibleRegion } from "./zoom";

interface BedProps {
  work: ReturnType<typeof useSheet>;
  sheet: Sheet;
  plate: Plate;
  step: Step;
  dials: DialSpec[];
  settings: Settings;
  zoom: ReturnType<typeof useZoom>;
  aspect: number;
  fitEdge: number;
  /** The photo, while it is held over the drawing. */
  photo: Picture | undefined;
  label: string;
  live: Live;
  lastPicture: string | undefined;
  compare: ReturnType<typeof useCompare>;
  judged: ReturnType<typeof useJudging>;
  holder: ReturnType<typeof useHolder>;
  pinning: boolean;
  strip: DialSpec | null;
  highlight: Highlight | null;
  said: string;
  onPin: (spot: WatchSpot) => void;
  onTake: (values: Record<string, number>) => void;
  onHighlight: (highlight: Highlight | null) => void;
  onStep: (step: Step) => void;
  onCopy: () => void;
  onSaid: (words: string) => void;
  onLeave: () => void;
}

/** The bed: the sheet, what it is compared with, watch spots, highlights, the test strip. */
export function Bed(props: BedProps) {
  const { work, sheet, plate, zoom, aspect, live, compare, judged, holder, strip } = props;
  const { area, place, setElement, drag, showRegion } = zoom;
  const comparison = (
    <SheetView
      name="other-canvas"
      area={area}
      place={place}
      aspect={aspect}
      layers={compare.layers}
      label={`Compared with ${compare.words}`}
      asked={0}
    />
  );
  const beside = compare.layout === "beside";
  const split = compare.layout === "split";

  function toDial(step: Step, label: string) {
    props.onHighlight(null);
    props.onStep(step);
    // The dial is there once the page has drawn the stage.
    window.setTimeout(() => focusDial(label), 0);
  }

  return (
    <main className="bed" ref={setElement} onPointerDown={drag} data-layout={compare.layout}>
      <div className="pane" style={{ width: area.width }}>
        <LiveSheet
          pictures={live.pictures}
          photo={props.photo}
          area={area}
          place={place}
          aspect={aspect}
          label={props.label}
          last={props.lastPicture}
        />
        {split && (
          <>
            <div
              className="pane-other"
              style={{ clipPath: `inset(0 0 0 ${compare.split * area.width}px)` }}
            >
              {comparison}
            </div>
            <SplitHandle
              area={area}
              at={compare.split}
              words={compare.words}
              onMove={compare.setSplit}
            />
          </>
        )}
        {props.highlight && (
          <Highlights
            highlight={props.highlight}
            place={place}
            aspect={aspect}
            spots={judged.reports ? spotsOf(judged.reports, props.highlight) : []}
            lostMap={judged.lost?.map}
            lostPlaces={(judged.lost?.places ?? []).map((each) => [
              each.left,
              each.top,
              each.right,
              each.bottom,
            ])}
            onJump={showRegion}
            onDial={toDial}
            onLeave={() => props.onHighlight(null)}
          />
        )}
        {props.pinning && <PinLayer place={place} aspect={aspect} onPin={props.onPin} />}
      </div>
      {beside && (
        <div className="pane pane-beside" style={{ width: area.width }}>
          {comparison}
          <span className="pane-words">{compare.words}</span>
        </div>
      )}
      <WatchSpots
        sheet={sheet}
        place={place}
        aspect={aspect}
        pictures={live.pictures}
        offersEyes={plate.draw.look === "threshold"}
        magnified={(spot) => spotEdge(spot, SPOT_PANEL, aspect) / place.edge}
        onChange={work.change}
      />
      {strip && (
        <TestStrip
          key={strip.name}
          sheet={sheet}
          plateId={plate.id}
          stage={props.step}
          dial={strip}
          others={props.dials.filter((dial) => dial.name !== strip.name)}
          settings={props.settings}
          area={{ width: area.width * (beside ? 2 : 1), height: area.height }}
          aspect={aspect}
          fitEdge={props.fitEdge}
          start={middleOf(sheet, visibleRegion(place, area, aspect))}
          onTake={props.onTake}
          onLeave={props.onLeave}
        />
      )}
      <BedTrouble
        saving={work.saving}
        sentence={work.trouble || live.problem}
        connected={live.connected}
        isElsewhere={holder.isElsewhere}
        onWorkHere={holder.takeOver}
        onCopy={props.onCopy}
        onLoad={() => void work.load()}
        onTakeOver={() => void work.takeOver()}
      />
      {props.said && (
        <div className="bed-said" role="status" onPointerDown={(event) => event.stopPropagation()}>
          {props.said}
          <button type="button" aria-label="Put this note away" onClick={() => props.onSaid("")}>
            ×
          </button>
        </div>
      )}
    </main>
  );
}

/** Where a test strip begins: at the first watch spot, or in the middle of what shows. */
function middleOf(sheet: Sheet, region: [number, number, number, number]) {
  const spot = sheet.watch[0];
  const [left, top, right, bottom] = spot ? [spot.left, spot.top, spot.right, spot.bottom] : region;
  return { x: (left + right) / 2, y: (top + bottom) / 2 };
}

function focusDial(label: string) {
  for (const each of document.querySelectorAll<HTMLLabelElement>(".dial label")) {
    if (each.textContent?.trim() !== label) continue;
    each.closest("details")?.setAttribute("open", "");
    const range = each.closest(".dial")?.querySelector<HTMLInputElement>("input[type=range]");
    range?.scrollIntoView({ block: "center" });
    range?.focus();
  }
}
