import { useLayoutEffect, useMemo, useRef, useState } from "react";
import { answered, client, type Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { stepOf } from "../../sheet/stages";
import type { Choosing } from "../choosing/useChoosing";
import type { TheBench } from "../theBench";

/** How the hand goes: with a brush, or round an area. */
export interface Brush {
  by: "brush" | "area";
  /** Its width, mm on paper. */
  sizeMm: number;
  hardness: number;
  strength: number;
  /** Whether the pressure of a pen narrows it. */
  hasPressure: boolean;
}

export type Point = [number, number, number];

/** The brush to begin with. */
export const START: Brush = {
  by: "brush",
  sizeMm: 14,
  hardness: 0.5,
  strength: 1,
  hasPressure: true,
};

/** Hand work at the chosen stage: its face, verb and brush, and the strokes that are made. */
export function useHand({ id, work, sheet, catalogue }: TheBench, choosing: Choosing) {
  const [wanted, setWanted] = useState(false);
  const [verbs, setVerbs] = useState<Record<string, string>>({});
  const [brush, setBrush] = useState(START);
  const [isHidden, setHidden] = useState(false);
  const { plate, step } = choosing;
  const offered = stepOf(catalogue, step).verbs;
  const isOn = wanted && offered.length > 0;
  const verb = offered.find((each) => each.name === verbs[step]) ?? offered[0];
  // Strokes are sent one after another: each is added to the list that the one before came to.
  const queue = useRef(Promise.resolve());
  const newest = useRef(sheet);
  useLayoutEffect(() => {
    newest.current = sheet;
  }, [sheet]);

  /** Do one thing after all that is under way; what fails is said. */
  function after(act: () => Promise<void>): Promise<void> {
    queue.current = queue.current.then(act).catch((error: Error) => work.setTrouble(error.message));
    return queue.current;
  }

  /** Make a stroke of points on the sheet (shares of it, and pressure). */
  function paint(points: Point[]): Promise<void> {
    if (!verb) return Promise.resolve();
    const { title } = stepOf(catalogue, step);
    const body = {
      sheet_id: id,
      plate: plate.id,
      stage: step as "tone",
      verb: verb.name as "lighten",
      by: brush.by,
      size_mm: brush.sizeMm,
      hardness: brush.hardness,
      strength: brush.strength,
      points: brush.hasPressure ? points : points.map(([x, y]): Point => [x, y, 1]),
    };
    return after(async () => {
      if (!(await work.flush())) return;
      const list = await answered(client.POST("/api/hand/paint", { body }));
      const where = brush.by === "area" ? "an area" : `${brush.sizeMm.toFixed(0)} mm`;
      const words = `${title}: ${verb.label.toLowerCase()}, ${where}`;
      work.change(withHand(newest.current, plate.id, step, list.id), words, newGesture());
      await work.flush();
    });
  }

  /** Take back the last stroke of the stage, or all of them. */
  function takeBack(what: "last" | "all"): Promise<void> {
    const list = plate.hand[step as "tone"];
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
      const changed = withHand(newest.current, plate.id, step, next);
      work.change(changed, `${title}: ${words}`, newGesture());
      await work.flush();
    });
  }

  const shown = useMemo(
    () => (isHidden && isOn ? withHand(sheet, plate.id, step, null) : sheet),
    [isHidden, isOn, sheet, plate.id, step],
  );

  return {
    offered,
    isOn,
    show: setWanted,
    verb: verb?.name ?? "",
    choose: (name: string) => setVerbs((present) => ({ ...present, [step]: name })),
    brush,
    setBrush: (change: Partial<Brush>) => setBrush((present) => ({ ...present, ...change })),
    hasWork: plate.hand[step as "tone"] !== undefined,
    isHidden,
    hide: setHidden,
    paint,
    takeBack,
    /** The sheet as it is to be shown: without this stage's hand work while that is hidden. */
    shown,
  };
}

/** A sheet with another list of strokes at a stage of a plate; null for none. */
export function withHand(sheet: Sheet, plateId: string, stage: string, list: string | null): Sheet {
  const plates = sheet.plates.map((each) => {
    if (each.id !== plateId) return each;
    const hand = Object.fromEntries(Object.entries(each.hand).filter(([name]) => name !== stage));
    return { ...each, hand: list === null ? hand : { ...hand, [stage]: list } };
  });
  return { ...sheet, plates };
}

export type Hand = ReturnType<typeof useHand>;
