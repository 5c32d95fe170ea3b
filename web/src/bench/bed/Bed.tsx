import { WatchSpots } from "./WatchSpots";
import { kindOf, settingsOf } from "../../sheet/stages";
import type { Holder } from "../../sheet/useHolder";
import type { Choosing } from "../choosing/useChoosing";
import { JudgedSheet } from "../judging/JudgedSheet";
import type { Judging } from "../judging/useJudging";
import type { TheBench } from "../theBench";
import { BedTrouble } from "./BedTrouble";
import { FadeLayer, hasFadeHandles } from "./FadeLayer";
import { LiveSheet } from "./LiveSheet";
import { PlacingNote } from "./PlacingNote";
import { PinLayer } from "./PinLayer";
import { SheetView } from "../../live/SheetView";
import { SplitHandle } from "./SplitHandle";
import { TestStrip } from "./TestStrip";
import type { Compare } from "./useCompare";
import type { Looking } from "./useLooking";
import { CropLayer } from "../cropping/CropLayer";
import type { Cropping } from "../cropping/useCropping";
import { PaintLayer } from "../hand/PaintLayer";
import type { Hand } from "../hand/useHand";
import { PickLayer } from "./PickLayer";
import { PlaceLayer } from "../placing/PlaceLayer";
import type { Picking } from "./usePicking";
import type { Pinning } from "./usePinning";
import { visibleRegion } from "../../live/zoom";

interface BedProps {
  bench: TheBench;
  choosing: Choosing;
  looking: Looking;
  compare: Compare;
  judging: Judging;
  pinning: Pinning;
  picking: Picking;
  hand: Hand;
  cropping: Cropping;
  asDrawn: boolean;
  holder: Holder;
  onCopy: () => void;
  /** A note that lies on the bed. */
  children: React.ReactNode;
}

/** The bed: the sheet, what it is compared with, watch spots, highlights, the test strip. */
export function Bed(props: BedProps) {
  const { bench, choosing, looking, compare, judging, pinning, picking, hand, holder } = props;
  const { cropping } = props;
  const { work, sheet, photo, catalogue } = bench;
  const { plate } = choosing;
  const { zoom, aspect, live } = looking;
  const { area, place, setElement, drag, showRegion } = zoom;
  const beside = compare.layout === "beside";
  const spot = sheet.watch[0];
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

  return (
    <main
      className="bed"
      ref={setElement}
      tabIndex={0}
      aria-label="The sheet: arrows move it, plus and minus come closer and go farther away"
      data-area="the sheet"
      data-page-start
      data-layout={compare.layout}
      onPointerDown={drag}
      onKeyDown={zoom.keyed}
    >
      <div className="pane" style={{ width: area.width }}>
        <LiveSheet
          pictures={live.pictures}
          photo={looking.photoHeld ? looking.photoPicture : undefined}
          area={area}
          place={place}
          aspect={aspect}
          label={looking.photoHeld ? `Photo: ${photo.title}` : `Drawing: ${sheet.title}`}
          last={bench.lastPicture}
        />
        {compare.layout === "split" && (
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
        <JudgedSheet
          catalogue={catalogue}
          judging={judging}
          place={place}
          aspect={aspect}
          onJump={showRegion}
          onStep={choosing.choose}
          onOpen={hand.openLost}
        />
        {hand.isOn && (
          <PaintLayer
            hand={hand}
            pictures={live.pictures}
            area={area}
            place={place}
            aspect={aspect}
            pxPerMm={place.edge / Math.max(looking.sizeMm.width, looking.sizeMm.height)}
          />
        )}
        {cropping.isOn && <CropLayer cropping={cropping} place={place} aspect={aspect} />}
        {choosing.step === "photo" && !hand.isOn && !cropping.isOn && (
          <PlaceLayer
            sheet={sheet}
            plate={plate}
            pictures={live.pictures}
            place={place}
            aspect={aspect}
            sizeMm={looking.sizeMm}
            asDrawn={props.asDrawn}
            onChange={work.change}
          />
        )}
        {choosing.step === "ink" && !hand.isOn && hasFadeHandles(sheet, plate) && (
          <FadeLayer
            sheet={sheet}
            plate={plate}
            place={place}
            aspect={aspect}
            onChange={work.change}
          />
        )}
        <PickLayer picking={picking} place={place} aspect={aspect} />
        {pinning.isOn && <PinLayer place={place} aspect={aspect} onPin={pinning.pin} />}
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
        offersEyes={
          kindOf(catalogue, "draw", settingsOf(sheet, plate, "draw"))?.answers_to_eyes ?? false
        }
        panels={looking.panels}
        onChange={work.change}
      />
      {choosing.strip && (
        <TestStrip
          key={choosing.strip.title}
          sheet={sheet}
          plateId={plate.id}
          of={choosing.strip}
          others={choosing.dials.filter(
            (dial) => dial.kind === "dial" && dial.name !== choosing.strip?.dial?.name,
          )}
          settings={choosing.settings}
          now={choosing.now}
          area={{ width: area.width * (beside ? 2 : 1), height: area.height }}
          aspect={aspect}
          fitEdge={looking.fitEdge}
          // At the first watch spot, or in the middle of what shows.
          start={middleOf(
            spot
              ? [spot.left, spot.top, spot.right, spot.bottom]
              : visibleRegion(place, area, aspect),
          )}
          onTake={choosing.takeFromStrip}
          onLeave={() => choosing.setStrip(null)}
        />
      )}
      <PlacingNote live={live} />
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
      {props.children}
    </main>
  );
}

function middleOf([left, top, right, bottom]: [number, number, number, number]) {
  return { x: (left + right) / 2, y: (top + bottom) / 2 };
}
