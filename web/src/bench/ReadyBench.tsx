import { useCallback, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import {
  answered,
  type Catalogue,
  client,
  type DialSpec,
  type PhotoRecord,
  type Sheet,
  type WatchSpot,
} from "../api/client";
import { newGesture } from "../shared/gesture";
import { useSteady } from "../shared/steady";
import { Bed } from "./Bed";
import type { Layout } from "./compare";
import { croppedSize } from "./crop";
import { DialPanel } from "./DialPanel";
import { Dialogs, type Open } from "./Dialogs";
import { LiveFigures } from "./FiguresLine";
import { InkDiscs } from "./InkDiscs";
import { cssPxPerMm, isCalibrated } from "./paperScale";
import { useCount, usePicture } from "./pictures";
import { type Changed, withShown } from "./plates";
import { Run } from "./Run";
import {
  kindOf,
  settingsOf,
  type Step,
  STEP_WORDS,
  STEPS,
  valueWords,
  withSettings,
} from "./stages";
import { TopBar } from "./TopBar";
import { useBenchKeys } from "./useBenchKeys";
import { useCompare } from "./useCompare";
import { useHolder } from "./useHolder";
import { type Highlight, useJudging } from "./useJudging";
import { useLive } from "./useLive";
import { usePulls } from "./usePulls";
import type { useSheet } from "./useSheet";
import { useViews } from "./useViews";
import { useZoom } from "./useZoom";
import { MOST_SPOTS, withSpot } from "./watch";
import { fitted, visibleRegion } from "./zoom";

const MAIN = ["main"];

interface ReadyBenchProps {
  id: number;
  work: ReturnType<typeof useSheet>;
  sheet: Sheet;
  photo: PhotoRecord;
  catalogue: Catalogue;
  /** Address of the picture that shows until the first one is drawn. */
  lastPicture?: string | undefined;
}

/** The work, once everything it needs is there. */
export function ReadyBench(props: ReadyBenchProps) {
  const { id, work, sheet, photo, catalogue } = props;
  const navigate = useNavigate();
  const [step, setStep] = useState<Step>("draw");
  const [plateId, setPlateId] = useState("");
  const [shown, setShown] = useState<"sheet" | "stage">("sheet");
  const [photoHeld, setPhotoHeld] = useState(false);
  const [layout, setLayout] = useState<Layout>("alone");
  const [pinning, setPinning] = useState(false);
  const [strip, setStrip] = useState<DialSpec | null>(null);
  const [touched, setTouched] = useState<string>("");
  const [highlight, setHighlight] = useState<Highlight | null>(null);
  const [open, setOpen] = useState<Open>("");
  const [said, setSaid] = useState("");
  const plate = sheet.plates.find((each) => each.id === plateId) ?? sheet.plates[0]!;
  const content = work.content;
  const history = content.state === "ready" ? content : { undo: null, redo: null, revision: 0 };
  const native = croppedSize(photo, sheet);
  const aspect = native.width / native.height;
  const exportEdge = Math.max(native.width, native.height);
  const edgeMm = sheet.paper.long_edge;
  const zoom = useZoom(aspect, exportEdge, layout === "beside" ? 2 : 1);
  const { area, place } = zoom;
  const fitEdge = fitted(area, aspect).edge;
  const { main, views, photoViews } = useViews({
    plate,
    spots: sheet.watch,
    catalogue,
    step,
    shown,
    place,
    area,
    aspect,
    exportEdge,
  });
  const live = useLive(sheet, views);
  const photoSheet = useMemo(
    () => ({ ...sheet, plates: [plate], watch: [] }),
    // The photo's own picture depends on nothing else of the sheet.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [sheet.photo, sheet.crop],
  );
  // All else comes after what one came to see: the photo to compare with, and the pulls.
  const hasBegun = useCount(live.pictures, MAIN) > 0;
  const photoLive = useLive(hasBegun ? photoSheet : null, photoViews);
  const pulls = usePulls(id, hasBegun || live.problem !== "", work.setTrouble);
  const photoPicture = usePicture(photoLive.pictures, "photo");
  const compare = useCompare({
    sheet,
    pulls: pulls.list,
    main,
    photo: photoPicture,
    layout,
    onLayout: setLayout,
  });
  // A test strip wants all the machine has.
  const judged = useJudging(id, history.revision, work.saving === "saved" && strip === null);
  const holder = useHolder(id, work.flush, work.load);

  const settings = settingsOf(sheet, plate, step);
  const dials = (kindOf(catalogue, step, settings)?.dials ?? []).filter(
    (dial) => dial.kind === "dial",
  );

  const choose = useCallback((next: Step) => {
    setStep(next);
    setStrip(null);
  }, []);
  const showLarge = useCallback((next: Step) => {
    setStep(next);
    setShown("stage");
  }, []);

  function changePlates(changed: Changed) {
    work.change(changed.sheet, changed.words, newGesture());
    setPlateId(changed.chosen);
  }

  function pin(spot: WatchSpot) {
    setPinning(false);
    work.change(withSpot(sheet, spot), "Watch spot: pin", newGesture());
  }

  function askForPin() {
    if (sheet.watch.length >= MOST_SPOTS) {
      setSaid(`A sheet has up to ${MOST_SPOTS} watch spots. Take one away first.`);
      return;
    }
    if (pinning) {
      // The second press pins the middle of what shows: no pointer is needed.
      const [left, top, right, bottom] = visibleRegion(place, area, aspect);
      const [x, y] = [(left + right) / 2, (top + bottom) / 2];
      const [w, h] = [(right - left) / 8, (bottom - top) / 8];
      pin({ name: "", left: x - w, top: y - h, right: x + w, bottom: y + h, is_eye: false });
      return;
    }
    setPinning(true);
  }

  function takeFromStrip(values: Record<string, number>) {
    const next = { ...settings, ...values };
    const words = dials
      .filter((dial) => dial.name in values)
      .map((dial) => `${dial.label} ${valueWords(dial, next)}`);
    work.change(
      withSettings(sheet, plate.id, step, next),
      `${STEP_WORDS[step].title}: ${words.join(", ")}`,
      newGesture(),
    );
    setStrip(null);
  }

  function keepPull(name = `Pull ${pulls.list.length + 1}`) {
    void work.flush().then(() => pulls.keep(name));
    setSaid(`“${name}” is kept.`);
  }

  async function swapPhoto(other: PhotoRecord) {
    setOpen("");
    let refitted: string[] = [];
    const done = await work.remake(async (base) => {
      const params = { path: { sheet_id: id } };
      const body = { base, photo: other.id };
      const swapped = await answered(client.POST("/api/sheets/{sheet_id}/photo", { params, body }));
      refitted = swapped.refitted;
      return swapped.record;
    });
    if (!done) return;
    const fittedWords =
      refitted.length > 0
        ? `Fitted to it: ${refitted.join("; ")}.`
        : "No dial stood at a suggested value, so every dial is as it was.";
    setSaid(`The sheet is now drawn from “${other.title}”. ${fittedWords}`);
  }

  async function copy() {
    try {
      const body = { sheet: { ...sheet, title: `${sheet.title}, copy`.slice(0, 200) } };
      const record = await answered(client.POST("/api/sheets/copy", { body }));
      navigate(`/sheets/${record.id}`);
    } catch (error) {
      work.setTrouble((error as Error).message);
    }
  }

  function goTo(direction: "undo" | "redo") {
    const words = history[direction];
    void work.undo(direction);
    if (words) setSaid(`${direction === "undo" ? "Undone" : "Done again"}: ${words}`);
  }

  function showPaperSize() {
    if (isCalibrated()) zoom.showAt(edgeMm * cssPxPerMm());
    else setOpen("ruler");
  }

  function leave() {
    setPinning(false);
    setStrip(null);
    setHighlight(null);
  }

  useBenchKeys(
    {
      fit: zoom.fit,
      exportPixels: zoom.oneToOne,
      paperSize: showPaperSize,
      closer: zoom.closer,
      farther: zoom.farther,
      split: () => compare.toggle("split"),
      beside: () => compare.toggle("beside"),
      strip: () => setStrip(dials.find((dial) => dial.name === touched) ?? dials[0] ?? null),
      watch: askForPin,
      lost: () => setHighlight(highlight === "lost" ? null : "lost"),
      keepPull: () => keepPull(),
      pulls: () => setOpen("pulls"),
      direction: () => navigate(`/sheets/${id}/contact`),
      nextPlate: () => {
        const next = (sheet.plates.indexOf(plate) + 1) % sheet.plates.length;
        setPlateId(sheet.plates[next]!.id);
      },
      hidePlate: () => changePlates(withShown(sheet, plate.id, !plate.shown)),
      undo: () => goTo("undo"),
      redo: () => goTo("redo"),
      earlier: () => choose(neighbour(step, -1)),
      later: () => choose(neighbour(step, +1)),
      large: () => setShown(shown === "sheet" ? "stage" : "sheet"),
      leave,
    },
    setPhotoHeld,
  );

  const topBar = useSteady({
    onTitle: (title: string) => work.change({ ...sheet, title }, `Title: ${title}`, newGesture()),
    onUndo: () => goTo("undo"),
    onRedo: () => goTo("redo"),
    onShow: setShown,
    onHoldPhoto: setPhotoHeld,
    onLayout: setLayout,
    onAgainst: compare.choose,
    onFit: zoom.fit,
    onOneToOne: zoom.oneToOne,
    onPaperSize: showPaperSize,
    onRuler: () => setOpen("ruler"),
    onCloser: zoom.closer,
    onFarther: zoom.farther,
    onPin: askForPin,
    onKeepPull: () => keepPull(),
    onPulls: () => setOpen("pulls"),
    onKeepRecipe: () => setOpen("recipe"),
    onOtherPhoto: () => setOpen("photo"),
  });

  const sizeMm = {
    width: (edgeMm * native.width) / exportEdge,
    height: (edgeMm * native.height) / exportEdge,
  };

  return (
    <div className="bench">
      <TopBar
        title={sheet.title}
        saving={work.saving}
        undo={history.undo}
        redo={history.redo}
        shown={shown}
        stageTitle={STEP_WORDS[step].title}
        photoHeld={photoHeld}
        layout={layout}
        against={compare.key}
        choices={compare.names}
        zoomWords={`${zoom.isFit ? "Whole" : "Zoom"} ${zoomPercent(place.edge, exportEdge)} %`}
        isFit={zoom.isFit}
        pinning={pinning}
        sheetId={id}
        {...topBar}
      />
      <div className="bench-side" inert={holder.isElsewhere}>
        <Run
          catalogue={catalogue}
          sheet={sheet}
          plate={plate}
          sizeMm={sizeMm}
          chosen={step}
          pictures={live.pictures}
          discs={
            <InkDiscs
              sheet={sheet}
              chosen={plate.id}
              onChoose={setPlateId}
              onChange={changePlates}
              onTrouble={work.setTrouble}
            />
          }
          onChoose={choose}
          onShowLarge={showLarge}
        />
        <DialPanel
          catalogue={catalogue}
          sheet={sheet}
          plate={plate}
          step={step}
          pxPerMm={exportEdge / edgeMm}
          pictures={live.pictures}
          photoWords={`${photo.title}, ${photo.width} × ${photo.height} px, ${photo.format}. ${photo.notes.join(" ")}`}
          onChange={work.change}
          onStrip={setStrip}
          onTouch={(dial) => setTouched(dial.name)}
          onOtherPhoto={() => setOpen("photo")}
        />
      </div>
      <Bed
        work={work}
        sheet={sheet}
        plate={plate}
        step={step}
        dials={dials}
        settings={settings}
        zoom={zoom}
        aspect={aspect}
        fitEdge={fitEdge}
        photo={photoHeld ? photoPicture : undefined}
        label={photoHeld ? `Photo: ${photo.title}` : `Drawing: ${sheet.title}`}
        live={live}
        lastPicture={props.lastPicture}
        compare={compare}
        judged={judged}
        holder={holder}
        pinning={pinning}
        strip={strip}
        highlight={highlight}
        said={said}
        onPin={pin}
        onTake={takeFromStrip}
        onHighlight={setHighlight}
        onStep={choose}
        onCopy={() => void copy()}
        onSaid={setSaid}
        onLeave={leave}
      />
      <LiveFigures
        pictures={live.pictures}
        plate={plate}
        reports={judged.reports}
        lostShare={judged.lost?.share}
        isFresh={judged.isFresh}
        highlight={highlight}
        onHighlight={setHighlight}
      />
      <Dialogs
        open={open}
        sheetId={id}
        sheet={sheet}
        pulls={pulls}
        onKeepPull={keepPull}
        onGoBack={(pull) => {
          setOpen("");
          const params = { path: { sheet_id: id, pull_id: pull.id } };
          const url = "/api/sheets/{sheet_id}/pulls/{pull_id}/go-back";
          void work.remake((base) => answered(client.POST(url, { params, body: { base } })));
        }}
        onCompare={(pull) => {
          setOpen("");
          compare.choose(`pull ${pull.id}`);
        }}
        onPhoto={(other) => void swapPhoto(other)}
        onCalibrated={() => {
          setOpen("");
          zoom.showAt(edgeMm * cssPxPerMm());
        }}
        onKeptRecipe={(name) => {
          setOpen("");
          setSaid(`“${name}” is in the recipe book.`);
        }}
        onLeave={() => setOpen("")}
      />
    </div>
  );
}

function zoomPercent(edge: number, exportEdge: number): string {
  return ((edge * window.devicePixelRatio * 100) / exportEdge).toFixed(0);
}

function neighbour(step: Step, by: number): Step {
  const place = Math.min(STEPS.length - 1, Math.max(0, STEPS.indexOf(step) + by));
  return STEPS[place] ?? step;
}
