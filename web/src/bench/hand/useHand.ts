import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import {
  answered,
  client,
  type Plate,
  ProblemError,
  reached,
  type SaidStroke,
  type Sheet,
} from "../../api/client";
import { sending } from "../../api/newest";
import { newGesture } from "../../shared/gesture";
import { asOwn, withCopy, withPlate } from "../../sheet/plates";
import { isPicture, pictureOf } from "../../sheet/sources";
import { kindOf, settingsOf, stepOf } from "../../sheet/stages";
import type { Choosing } from "../choosing/useChoosing";
import type { TheBench } from "../theBench";
import { keepWaiting, takeWaiting, type Waiting } from "./waiting";

export type KeptTo = "everywhere" | "subject" | "backdrop";

/** How the hand goes: with a brush, point by point, round an area, or by pieces of the drawing. */
export interface Brush {
  by: "brush" | "points" | "area" | "piece" | "alike";
  /** Where it may go. */
  keptTo: KeptTo;
  /** Over which tones of the photo, from black 0 to white 1. */
  toneFrom: number;
  toneTo: number;
  /** Its width, mm on paper. */
  sizeMm: number;
  hardness: number;
  strength: number;
  /** Whether the pressure of a pen narrows it. */
  hasPressure: boolean;
}

export type Point = [number, number, number];

/** Ways to see a cutout: the dropped part hatched, on black, on white, or the cutout alone. */
export const CUTOUT_VIEWS = [
  ["cutout", "Hatched"],
  ["cutout-black", "On black"],
  ["cutout-white", "On white"],
  ["cutout-alone", "Alone"],
] as const;
export type CutoutView = (typeof CUTOUT_VIEWS)[number][0];

/** The brush to begin with. */
export const START: Brush = {
  by: "brush",
  keptTo: "everywhere",
  toneFrom: 0,
  toneTo: 1,
  sizeMm: 14,
  hardness: 0.5,
  strength: 1,
  hasPressure: true,
};

/** Hand work at the chosen stage: its face, verb and brush, and the strokes that are made. */
export function useHand(
  { id, work, sheet, catalogue }: TheBench,
  choosing: Choosing,
  say: (words: string) => void,
) {
  const [wanted, setWanted] = useState(false);
  const [verbs, setVerbs] = useState<Record<string, string>>({});
  const [brush, setBrush] = useState(START);
  const [isHidden, setHidden] = useState(false);
  const [tinted, setTinted] = useState({ touched: false, mask: false });
  const [unfinished, setUnfinished] = useState<SaidStroke | null>(null);
  const [isApart, setApart] = useState(false);
  const [seen, setSeen] = useState<CutoutView>("cutout");
  const { plate, step } = choosing;
  // At the photo what the hand can do depends on what the plate is drawn from.
  const kind = step === "photo" ? kindOf(catalogue, step, settingsOf(sheet, plate, step)) : null;
  const offered = kind ? kind.verbs : stepOf(catalogue, step).verbs;
  const stage = kind?.hand || step;
  const isOn = wanted && offered.length > 0;
  // Only of a drawing pieces are taken.
  const isOfDrawing = stage !== "photo" && stage !== "lines";
  const ways = waysAt(stage, isOfDrawing);
  const hand = ways.includes(brush.by) ? brush : { ...brush, by: "brush" as const };
  // To the server a line of points is one of a brush.
  const by = hand.by === "points" ? "brush" : hand.by;
  const verb = offered.find((each) => each.name === verbs[step]) ?? offered[0];
  // Strokes are sent one after another: each is added to the list that the one before came to.
  const queue = useRef(Promise.resolve());
  const newest = useRef(sheet);
  const saving = useRef(work.saving);
  const waiting = useRef<Waiting[]>([]);
  useLayoutEffect(() => {
    newest.current = sheet;
    saving.current = work.saving;
  }, [sheet, work.saving]);

  /** Do one thing after all that is under way; what fails is said. */
  function after(act: () => Promise<void>): Promise<void> {
    queue.current = queue.current.then(act).catch((error: Error) => work.setTrouble(error.message));
    return queue.current;
  }

  /** Wait until all of the sheet is saved; false where another page holds it. */
  async function saved(): Promise<boolean> {
    return reached(
      async () => {
        if (await work.flush()) return true;
        if (saving.current === "stale") return false;
        throw new ProblemError(0, "The sheet is not saved yet.");
      },
      () => undefined,
    );
  }

  /** A stroke of the chosen verb and brush, as the server is told of it. */
  function said(points: Point[]): SaidStroke {
    return {
      plate: plate.id,
      stage: stage as "tone",
      verb: verb!.name as "lighten",
      by,
      size_mm: brush.sizeMm,
      hardness: brush.hardness,
      strength: brush.strength,
      kept_to: step === "photo" ? "everywhere" : brush.keptTo,
      tone_from: Math.min(brush.toneFrom, brush.toneTo),
      tone_to: Math.max(brush.toneFrom, brush.toneTo),
      points: brush.hasPressure ? points : points.map(([x, y]): Point => [x, y, 1]),
    };
  }

  /** Show a stroke while it is being made: a copy of its points, or null to forget it. */
  function trace(points: Point[] | null) {
    const isShown = points && verb && by === "brush" && stage !== "photo";
    setUnfinished(isShown ? said([...points]) : null);
  }

  /** Make a stroke of points on the sheet (shares of it, and pressure). */
  function paint(points: Point[]): Promise<void> {
    if (!verb) return Promise.resolve();
    const { title } = stepOf(catalogue, step);
    const mm = `${brush.sizeMm.toFixed(0)} mm`;
    const where = { brush: mm, area: "an area", piece: "a piece", alike: "pieces" }[by];
    const words = `${title}: ${verb.label.toLowerCase()}, ${where}`;
    return send({ stroke: said(points), words }).finally(() => setUnfinished(null));
  }

  /** Have a stroke drawn, after those before it. */
  function send(one: Waiting): Promise<void> {
    waiting.current.push(one);
    const { stroke, words } = one;
    const arrived = () => {
      waiting.current = waiting.current.filter((each) => each !== one);
    };
    return after(async () => {
      // A stroke made while the server is stopped stays with the page, and arrives later.
      if (!(await saved())) return;
      const body = { sheet_id: id, ...stroke };
      const list = await reached(
        () => answered(client.POST("/api/hand/paint", { body })),
        (problem) => work.setTrouble(problem.message),
      );
      arrived();
      const changed = withHand(newest.current, stroke.plate, stroke.stage, list.id);
      work.change(changed, words, newGesture());
      setUnfinished(null);
      await work.flush();
    }).finally(arrived);
  }

  // What was painted while the server was stopped, and the page closed, arrives now.
  useEffect(() => {
    for (const one of takeWaiting(id)) void send(one);
    const leave = () => {
      if (waiting.current.length > 0) keepWaiting(id, waiting.current);
    };
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      void sending(id, queue.current);
    };
    // Once a sheet: what is sent uses what is newest then.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);

  /** Go on with an area drawn otherwise: the plate prints beside it, a copy of it within. */
  function drawApart(points: Point[]): Promise<void> {
    setApart(false);
    const body = { sheet_id: id, plate: plate.id, soft_mm: 1, points };
    return after(async () => {
      if (!(await work.flush())) return;
      const { beside, within } = await answered(client.POST("/api/hand/apart", { body }));
      const copied = withCopy(newest.current, plate.id);
      const first = withHand(copied.sheet, plate.id, "ink", beside.id);
      const both = withHand(first, copied.chosen, "ink", within.id);
      choosing.changePlates({ ...copied, sheet: both, words: "An area drawn otherwise" });
      choosing.choose("draw");
      setWanted(false);
      await work.flush();
    });
  }

  /** Open what is lost round a place of the sheet, by just so much light as halves the loss. */
  function openLost(x: number, y: number): Promise<void> {
    const body = { sheet_id: id, plate: plate.id, x, y };
    return after(async () => {
      if (!(await work.flush())) return;
      const done = await answered(client.POST("/api/hand/open", { body }));
      const percent = (share: number) => `${(share * 100).toFixed(0)} %`;
      const words = `Tone: ${done.verb} by ${done.stops} stops; lost there was ${percent(done.before)}, is ${percent(done.after)}`;
      work.change(withHand(newest.current, plate.id, "tone", done.id), words, newGesture());
      await work.flush();
      say(`${words}. Nothing else changed.`);
    });
  }

  /** Take back the last stroke of the stage, or all of them. */
  function takeBack(what: "last" | "all"): Promise<void> {
    const list = handOf(sheet, plate, stage);
    const { title } = stepOf(catalogue, step);
    if (!list) return Promise.resolve();
    return after(async () => {
      let next: string | null = null;
      if (what === "last") {
        const params = { path: { list_id: list } };
        const { count } = await answered(client.GET("/api/hand/lists/{list_id}", { params }));
        const body = { of: list, without: [count - 1], add: [] };
        const fewer = await answered(client.POST("/api/hand/strokes", { body }));
        next = fewer.count > 0 ? fewer.id : null;
      }
      const words = what === "last" ? "take back a stroke" : "take back all hand work";
      const changed = withHand(newest.current, plate.id, stage, next);
      work.change(changed, `${title}: ${words}`, newGesture());
      await work.flush();
    });
  }

  const shown = useMemo(
    () => (isHidden && isOn ? withHand(sheet, plate.id, stage, null) : sheet),
    [isHidden, isOn, sheet, plate.id, stage],
  );

  const tint = (what: "touched" | "mask") => (tinted[what] ? what : null);

  return {
    offered,
    isOn,
    show: setWanted,
    verb: verb?.name ?? "",
    choose: (name: string) => setVerbs((present) => ({ ...present, [step]: name })),
    // To go round what is drawn otherwise no brush is wanted.
    brush: isApart ? { ...brush, by: "area" as const } : hand,
    /** Whether lines are drawn, by the plate's pen. */
    isLines: stage === "lines",
    /** Whether strokes are kept to parts, and pieces of the drawing taken. */
    takesPieces: isOfDrawing,
    canSetApart: step === "ink" && sheet.plates.length < catalogue.limits.plates,
    isApart,
    setApart,
    openLost: (x: number, y: number) => void openLost(x, y),
    ways,
    setBrush: (change: Partial<Brush>) => {
      // What was begun another way is forgotten.
      if (change.by) setUnfinished(null);
      setBrush((present) => ({ ...present, ...change }));
    },
    hasWork: handOf(sheet, plate, stage) !== undefined,
    /** How the cutout is seen while it is worked on; null while it is not. */
    cutoutView: isOn && stage === "photo" ? seen : null,
    /** What is seen instead of the sheet while it is worked on by hand, or its mask looked at. */
    instead: isOn
      ? stage === "photo"
        ? seen
        : stage === "lines"
          ? null
          : tint("touched")
      : step === "ink"
        ? tint("mask")
        : null,
    tinted,
    setTinted: (change: Partial<typeof tinted>) => setTinted((now) => ({ ...now, ...change })),
    see: setSeen,
    seeNext: () => {
      const names = CUTOUT_VIEWS.map(([name]) => name);
      setSeen(names[(names.indexOf(seen) + 1) % names.length]!);
    },
    turnOver: () => setWanted(!isOn),
    isHidden,
    hide: setHidden,
    unfinished,
    trace,
    paint: isApart ? drawApart : paint,
    takeBack,
    /** The sheet as it is to be shown: without this stage's hand work while that is hidden. */
    shown,
  };
}

/** How the hand may go at a stage. */
function waysAt(stage: string, isOfDrawing: boolean): readonly Brush["by"][] {
  if (stage === "lines") return ["brush", "points", "area"];
  return isOfDrawing ? ["brush", "area", "piece", "alike"] : ["brush", "area"];
}

/** The list of strokes at a step: of the plate, or of the photo's cutout, which plates share. */
export function handOf(sheet: Sheet, plate: Plate, step: string): string | undefined {
  const isLines = step === "photo" && plate.source.kind === "lines";
  if (step === "photo" && isPicture(plate.source)) {
    return sheet.cutouts[pictureOf(sheet, plate).photo];
  }
  return plate.hand[(isLines ? "lines" : step) as "tone"];
}

/** A sheet with another list of strokes at a stage of a plate; null for none. */
export function withHand(sheet: Sheet, plateId: string, stage: string, list: string | null): Sheet {
  if (stage === "photo") {
    const plate = sheet.plates.find((each) => each.id === plateId);
    const { photo } = plate ? pictureOf(sheet, plate) : sheet.picture;
    const others = Object.entries(sheet.cutouts).filter(([name]) => name !== photo);
    const own = list === null ? [] : [[photo, list] as const];
    return { ...sheet, cutouts: Object.fromEntries([...others, ...own]) };
  }
  return withPlate(sheet, plateId, (each) => {
    const hand = Object.fromEntries(Object.entries(each.hand).filter(([name]) => name !== stage));
    return { ...asOwn(each, stage), hand: list === null ? hand : { ...hand, [stage]: list } };
  });
}

export type Hand = ReturnType<typeof useHand>;
