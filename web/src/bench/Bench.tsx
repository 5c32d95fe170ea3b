import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Button, Spinner } from "react-bootstrap";
import { Link } from "react-router";
import {
  answered,
  type Catalogue,
  client,
  type PhotoRecord,
  type Plate,
  type Sheet,
} from "../api/client";
import { useHeldKey, useKey } from "../app/keys";
import { Trouble } from "../shared/Trouble";
import { DialPanel } from "./DialPanel";
import { FiguresLine } from "./FiguresLine";
import { Run } from "./Run";
import { SheetView } from "./SheetView";
import { type Step, STEP_WORDS, STEPS } from "./stages";
import { TopBar } from "./TopBar";
import { type Picture, useLive } from "./useLive";
import { useSheet } from "./useSheet";
import { useViews } from "./useViews";
import { useZoom } from "./useZoom";

/** The work: the run of stages, the chosen one's dials, and the sheet. */
export function Bench({ id }: { id: number }) {
  const work = useSheet(id);
  const { content } = work;
  const sheet = content.state === "ready" ? content.sheet : null;
  const photo = useQuery({
    queryKey: ["photo", sheet?.photo],
    queryFn: () =>
      answered(
        client.GET("/api/photos/{photo_id}", { params: { path: { photo_id: sheet!.photo } } }),
      ),
    enabled: sheet !== null,
    staleTime: Infinity,
  });
  const catalogue = useQuery({
    queryKey: ["catalogue"],
    queryFn: () => answered(client.GET("/api/catalogue")),
    staleTime: Infinity,
  });
  const failed = content.state === "failed" ? content.sentence : "";
  const sentence = failed || photo.error?.message || catalogue.error?.message;
  if (sentence) {
    return (
      <main className="waiting">
        <Trouble sentence={sentence} />
        <Link to="/">Back to the shelf</Link>
      </main>
    );
  }
  const plate = sheet?.plates[0];
  if (!sheet || !photo.data || !catalogue.data || !plate) {
    return (
      <main className="waiting">
        <Spinner size="sm" /> Laying out the sheet…
      </main>
    );
  }
  return (
    <ReadyBench
      id={id}
      work={work}
      sheet={sheet}
      plate={plate}
      photo={photo.data}
      catalogue={catalogue.data}
    />
  );
}

interface ReadyBenchProps {
  id: number;
  work: ReturnType<typeof useSheet>;
  sheet: Sheet;
  plate: Plate;
  photo: PhotoRecord;
  catalogue: Catalogue;
}

function ReadyBench({ id, work, sheet, plate, photo, catalogue }: ReadyBenchProps) {
  const [step, setStep] = useState<Step>("draw");
  const [shown, setShown] = useState<"sheet" | "stage">("sheet");
  const [photoHeld, setPhotoHeld] = useState(false);
  const native = croppedSize(photo, sheet);
  const aspect = native.width / native.height;
  const exportEdge = Math.max(native.width, native.height);
  const { setElement: setBed, area, place, drag, ...zoom } = useZoom(aspect, exportEdge);
  const { views, photoViews } = useViews({
    plate,
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
    () => ({ ...sheet, plates: [plate] }),
    // The photo's own picture depends on nothing else of the sheet.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [sheet.photo, sheet.crop],
  );
  const photoLive = useLive(photoSheet, photoViews);

  const choose = useCallback((next: Step) => setStep(next), []);
  const showLarge = useCallback((next: Step) => {
    setStep(next);
    setShown("stage");
  }, []);
  useHeldKey("photo", setPhotoHeld);
  useKey("fit", zoom.fit);
  useKey("exportPixels", zoom.oneToOne);
  useKey("closer", zoom.closer);
  useKey("farther", zoom.farther);
  useKey("undo", () => void work.undo("undo"));
  useKey("redo", () => void work.undo("redo"));
  useKey("earlier", () => setStep(neighbour(step, -1)));
  useKey("later", () => setStep(neighbour(step, +1)));
  useKey("large", () => setShown(shown === "sheet" ? "stage" : "sheet"));

  const main = live.pictures.get("main");
  const whole = live.pictures.get("whole");
  const photoPicture = photoLive.pictures.get("photo");
  const layers = useMemo(
    () =>
      photoHeld && photoPicture
        ? [photoPicture]
        : [whole, main].filter((picture): picture is Picture => picture !== undefined),
    [photoHeld, photoPicture, whole, main],
  );
  const edgeMm = sheet.paper.long_edge;
  const sizeMm = {
    width: (edgeMm * native.width) / exportEdge,
    height: (edgeMm * native.height) / exportEdge,
  };
  const content = work.content;
  const history = content.state === "ready" ? content : { undo: null, redo: null };

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
        zoomWords={`${zoom.isFit ? "Whole" : "Zoom"} ${zoomPercent(place.edge, exportEdge)} %`}
        isFit={zoom.isFit}
        printRoom={`/sheets/${id}/print`}
        onTitle={(title) => work.change({ ...sheet, title }, `Title: ${title}`, "")}
        onUndo={() => void work.undo("undo")}
        onRedo={() => void work.undo("redo")}
        onShow={setShown}
        onHoldPhoto={setPhotoHeld}
        onFit={zoom.fit}
        onOneToOne={zoom.oneToOne}
        onCloser={zoom.closer}
        onFarther={zoom.farther}
      />
      <Run
        catalogue={catalogue}
        sheet={sheet}
        plate={plate}
        sizeMm={sizeMm}
        chosen={step}
        pictures={live.pictures}
        onChoose={choose}
        onShowLarge={showLarge}
      />
      <DialPanel
        catalogue={catalogue}
        sheet={sheet}
        plate={plate}
        step={step}
        pxPerMm={exportEdge / edgeMm}
        suggestions={main?.answer.suggestions ?? {}}
        pictures={live.pictures}
        photoWords={`${photo.title}, ${photo.width} × ${photo.height} px, ${photo.format}. ${photo.notes.join(" ")}`}
        onChange={work.change}
      />
      <main className="bed" ref={setBed} onPointerDown={drag}>
        <SheetView
          area={area}
          place={place}
          aspect={aspect}
          layers={layers}
          label={photoHeld ? `Photo: ${photo.title}` : `Drawing: ${sheet.title}`}
          asked={live.asked}
        />
        {main === undefined && <div className="bed-waiting">Drawing…</div>}
        <BedTrouble work={work} connected={live.connected} problem={live.problem} />
      </main>
      <FiguresLine
        answer={main?.answer}
        isBusy={(main?.answer.ask ?? 0) < live.asked || main?.answer.draft === true}
      />
    </div>
  );
}

interface BedTroubleProps {
  work: ReturnType<typeof useSheet>;
  connected: boolean;
  problem: string;
}

function BedTrouble({ work, connected, problem }: BedTroubleProps) {
  if (work.saving === "stale") {
    return (
      <div className="bed-trouble">
        <Trouble sentence={work.trouble}>
          <Button size="sm" variant="plain" onClick={() => void work.load()}>
            Load the newest version
          </Button>
        </Trouble>
      </div>
    );
  }
  if (!connected) {
    const sentence =
      "Flinz does not answer at the moment. The last picture and your changes are kept here; " +
      "this page goes on by itself as soon as it is back.";
    return (
      <div className="bed-trouble">
        <Trouble sentence={sentence} />
      </div>
    );
  }
  const sentence = work.trouble || problem;
  return sentence ? (
    <div className="bed-trouble">
      <Trouble sentence={sentence} />
    </div>
  ) : null;
}

/** Pixels of the part of the photo that the sheet shows. */
export function croppedSize(photo: PhotoRecord, sheet: Sheet) {
  const { crop } = sheet;
  const turned = crop.quarter_turns % 2 === 1;
  const width = turned ? photo.height : photo.width;
  const height = turned ? photo.width : photo.height;
  return {
    width: Math.max(1, Math.round(crop.right * width) - Math.round(crop.left * width)),
    height: Math.max(1, Math.round(crop.bottom * height) - Math.round(crop.top * height)),
  };
}

function zoomPercent(edge: number, exportEdge: number): string {
  return ((edge * window.devicePixelRatio * 100) / exportEdge).toFixed(0);
}

function neighbour(step: Step, by: number): Step {
  const place = Math.min(STEPS.length - 1, Math.max(0, STEPS.indexOf(step) + by));
  return STEPS[place] ?? step;
}
