import { useState } from "react";
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import { answered, client } from "../api/client";
import { newGesture } from "../shared/gesture";
import { useSteady } from "../shared/steady";
import { isPicture } from "../sheet/sources";
import { titleOf, withSettings } from "../sheet/stages";
import { useHolder } from "../sheet/useHolder";
import { Bed } from "./bed/Bed";
import { Note } from "./bed/Note";
import { useChangedShapes } from "./bed/useChangedShapes";
import { useCompare } from "./bed/useCompare";
import { useLooking } from "./bed/useLooking";
import { usePinning } from "./bed/usePinning";
import { Run } from "./choosing/Run";
import { useChoosing } from "./choosing/useChoosing";
import { stripOfPairs } from "./bed/strip";
import { usePicking } from "./bed/usePicking";
import { focusDial } from "./dials/dialFocus";
import { useCropping } from "./cropping/useCropping";
import { FindDial } from "./dials/FindDial";
import { DialPanel } from "./dials/DialPanel";
import { useHand } from "./hand/useHand";
import { LiveFigures } from "./judging/FiguresLine";
import { useJudging } from "./judging/useJudging";
import { Dialogs } from "./keeping/Dialogs";
import { useKeeping } from "./keeping/useKeeping";
import { InkDiscs } from "./plates/InkDiscs";
import { BenchKeys } from "./BenchKeys";
import type { TheBench } from "./theBench";
import { TopBar } from "./TopBar";

/** The work, once everything it needs is there: puts the bench's parts together. */
export function ReadyBench(bench: TheBench) {
  const { id, work, sheet, photo, catalogue } = bench;
  const navigate = useNavigate();
  const [said, say] = useState("");
  const [only, setOnly] = useState(false);
  const [finding, setFinding] = useState(false);
  const [asDrawn, setAsDrawn] = useState(false);
  const history =
    work.content.state === "ready" ? work.content : { undo: null, redo: null, revision: 0 };
  const choosing = useChoosing(bench);
  const hand = useHand(bench, choosing, say);
  const cropping = useCropping(bench, choosing);
  const shown = cropping.shown ?? hand.shown;
  const changed = useChangedShapes(bench, shown);
  const looking = useLooking(
    { ...bench, sheet: shown, photo: cropping.shown ? cropping.photo : photo },
    choosing,
    cropping.isOn ? "photo" : hand.instead,
    hand.unfinished,
    changed.traced,
    shown === sheet ? work.hear : null,
  );
  const pinning = usePinning(bench, looking, say);
  const picking = usePicking(bench, choosing, looking, say);
  const { live } = looking;
  const keeping = useKeeping(bench, looking.hasBegun || live.problem !== "", say);
  const compare = useCompare({
    catalogue,
    sheet,
    pulls: keeping.pulls.list,
    main: looking.main,
    photo: looking.photoPicture,
    layout: looking.layout,
    onLayout: looking.setLayout,
  });
  // A test strip wants all the machine has.
  const isQuiet = work.saving === "saved" && choosing.strip === null;
  const judging = useJudging(id, history.revision, isQuiet, live.pictures);
  const holder = useHolder(id, work.flush, work.load);

  function goTo(direction: "undo" | "redo") {
    const words = history[direction];
    void work.undo(direction);
    if (words) say(`${direction === "undo" ? "Undone" : "Done again"}: ${words}`);
  }

  async function goToStep(number: number, words: string) {
    const params = { path: { sheet_id: id, number } };
    const url = "/api/sheets/{sheet_id}/steps/{number}";
    const done = await work.remake(() => answered(client.POST(url, { params })));
    if (done) say(`The sheet is as it was after: ${words}`);
  }

  function takeSuggested() {
    const { last, step, plate, settings } = choosing;
    const value = last && live.pictures.suggestions[`${step}.${last.name}`];
    if (!last || value === undefined) return;
    const next = { ...settings, [last.name]: value };
    const changed = withSettings(sheet, plate.id, step, next, [`${step}.${last.name}`]);
    work.change(changed, `${last.label} as suggested`, newGesture());
  }

  const { zoom } = looking;
  const acts = useSteady({
    title: (title: string) => work.change({ ...sheet, title }, `Title: ${title}`, newGesture()),
    undo: () => goTo("undo"),
    redo: () => goTo("redo"),
    goTo: (step: number, words: string) => void goToStep(step, words),
    show: looking.setShown,
    holdPhoto: looking.holdPhoto,
    layout: looking.setLayout,
    against: compare.choose,
    fit: zoom.fit,
    exportPixels: zoom.oneToOne,
    paperSize: () => {
      if (!looking.showPaperSize()) keeping.setOpen("ruler");
    },
    closer: zoom.closer,
    farther: zoom.farther,
    watch: pinning.ask,
    only: () => setOnly((present) => !present),
    keepPull: () => keeping.keepPull(),
    edition: () => void keeping.drawMany(),
    open: keeping.setOpen,
  });
  const keys = useSteady({
    fit: acts.fit,
    exportPixels: acts.exportPixels,
    paperSize: acts.paperSize,
    closer: acts.closer,
    farther: acts.farther,
    split: () => compare.toggle("split"),
    beside: () => compare.toggle("beside"),
    strip: choosing.stripOfTouched,
    watch: acts.watch,
    lost: () => judging.setHighlight(judging.highlight === "lost" ? null : "lost"),
    keepPull: acts.keepPull,
    pulls: () => keeping.setOpen("pulls"),
    direction: () => navigate(`/sheets/${id}/contact`),
    nextPlate: choosing.nextPlate,
    hidePlate: choosing.hidePlate,
    undo: acts.undo,
    redo: acts.redo,
    earlier: choosing.earlier,
    later: choosing.later,
    large: looking.swapLarge,
    only: acts.only,
    hand: hand.turnOver,
    seen: hand.seeNext,
    find: () => {
      setOnly(false);
      setFinding(true);
    },
    suggest: takeSuggested,
    leave: () => {
      setOnly(false);
      pinning.leave();
      picking.leave();
      hand.show(false);
      cropping.leave();
      choosing.setStrip(null);
      judging.setHighlight(null);
    },
  });

  return (
    <div className={only ? "bench bench-only" : "bench"}>
      {only && (
        <Button size="sm" variant="plain" className="only-leave" onClick={acts.only}>
          Everything again <kbd>Q</kbd>
        </Button>
      )}
      <BenchKeys keys={keys} onPhoto={acts.holdPhoto} />
      <TopBar
        sheetId={id}
        revision={history.revision}
        title={sheet.title}
        saving={work.saving}
        undo={history.undo}
        redo={history.redo}
        shown={looking.photoHeld ? "photo" : looking.shown}
        stageTitle={
          choosing.step === "photo" && isPicture(choosing.plate.source)
            ? ""
            : titleOf(catalogue, choosing.plate, choosing.step)
        }
        layout={looking.layout}
        against={compare.key}
        choices={compare.names}
        zoomWords={looking.zoomWords}
        isFit={zoom.isFit}
        pinning={pinning.isOn}
        acts={acts}
      />
      <div className="bench-side" inert={holder.isElsewhere}>
        <Run
          catalogue={catalogue}
          sheet={sheet}
          plate={choosing.plate}
          sizeMm={looking.sizeMm}
          chosen={choosing.step}
          pictures={live.pictures}
          discs={
            <InkDiscs
              sheetId={id}
              catalogue={catalogue}
              sheet={sheet}
              most={catalogue.limits.plates}
              chosen={choosing.plate.id}
              onChoose={choosing.choosePlate}
              onChange={choosing.changePlates}
              onTrouble={work.setTrouble}
              onStep={choosing.choose}
            />
          }
          onChoose={choosing.choose}
          onShowLarge={looking.showLarge}
        />
        <DialPanel
          catalogue={catalogue}
          sheetId={id}
          sheet={sheet}
          plate={choosing.plate}
          step={choosing.step}
          pxPerMm={looking.pxPerMm}
          pictures={live.pictures}
          onNearLooks={looking.nearLooks}
          hand={hand}
          cropping={cropping}
          photo={photo}
          onChange={work.change}
          onStrip={choosing.layStrip}
          onPairs={(on) => choosing.setStrip(stripOfPairs(catalogue, on))}
          onTouch={choosing.touch}
          onPick={picking.ask}
          onFlush={work.flush}
          onOtherPhoto={() => keeping.setOpen("photo")}
          onStep={choosing.choose}
          asDrawn={asDrawn}
          onAsDrawn={setAsDrawn}
          onChoosePlate={choosing.choosePlate}
          onTrouble={work.setTrouble}
        >
          {finding && (
            <FindDial
              catalogue={catalogue}
              sheet={sheet}
              plate={choosing.plate}
              onGo={(ref) => {
                setFinding(false);
                choosing.choose(ref.step);
                // The dial is there once the page has drawn the stage.
                window.setTimeout(() => focusDial(ref), 0);
              }}
              onLeave={() => setFinding(false)}
            />
          )}
        </DialPanel>
      </div>
      <Bed
        bench={bench}
        choosing={choosing}
        looking={looking}
        compare={compare}
        judging={judging}
        pinning={pinning}
        picking={picking}
        hand={hand}
        cropping={cropping}
        asDrawn={asDrawn}
        holder={holder}
        onCopy={() => void keeping.copy()}
      >
        <Note words={said} onAway={() => say("")} />
        {changed.words && (
          <div className="bed-placing" role="status">
            {changed.words}
          </div>
        )}
      </Bed>
      <LiveFigures
        pictures={live.pictures}
        plate={choosing.plate}
        limits={catalogue.limits}
        reports={judging.reports}
        lostShare={judging.lost?.share}
        isFresh={judging.isFresh}
        highlight={judging.highlight}
        onHighlight={judging.setHighlight}
      />
      <Dialogs bench={bench} keeping={keeping} looking={looking} compare={compare} onSaid={say} />
    </div>
  );
}
