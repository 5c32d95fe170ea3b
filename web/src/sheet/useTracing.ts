import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  answered,
  client,
  type ProblemError,
  type Shapes,
  type Sheet,
  type Wish,
  unanswered,
} from "../api/client";

/** What of a wish belongs to files of shapes, whichever they are. */
const VECTOR = [
  "closeness",
  "corners",
  "specks",
  "pinholes",
  "tones",
  "under_layer",
  "under_holes",
  "under_colour",
  "outline",
] as const;
const AGAIN_MS = 1500;

export type TracingState =
  | { state: "working"; share: number }
  | { state: "stopped" }
  | { state: "failed"; sentence: string }
  | { state: "ready" };

export interface Traced {
  key: string;
  shapes: Shapes;
}

/** A tracing by its key, with its shapes where these were asked for. */
interface Found {
  key: string;
  shapes: Shapes | null;
}

/** The wish of a file of shapes, from what is wished of any. */
export function vectorWish(wanted: Wish) {
  const found = VECTOR.filter((name) => wanted[name] !== undefined);
  return Object.fromEntries(found.map((name) => [name, wanted[name]])) as Partial<Wish>;
}

/** The tracing of a saved sheet with its shapes; the last one stays until another is there. */
export function useTracing(
  id: number,
  sheet: Sheet | null,
  wish: Partial<Wish> | undefined,
  saved: boolean,
) {
  const { found, state, stop, again } = useFound(id, sheet, wish, saved, false);
  const traced = useMemo(
    (): Traced | null => (found?.shapes ? { key: found.key, shapes: found.shapes } : null),
    [found],
  );
  return { traced, state, stop, again };
}

/**
 * The key by which a sheet is drawn with its changed shapes; "" where nothing is changed, and until
 * it was traced once. What else was changed of the sheet is traced anew once it is saved: until
 * then the key is the last one, by which shapes lie about where they lay. Meanwhile words say how
 * far that is, and sentence why it failed.
 */
export function useTracedKey(
  id: number,
  sheet: Sheet | null,
  wish: Partial<Wish> | undefined,
  saved: boolean,
): { key: string; words: string; sentence: string } {
  const isChanged = hasChangedShapes(sheet);
  const { found, state } = useFound(id, isChanged ? sheet : null, wish, saved, true);
  const percent = state.state === "working" ? Math.round(state.share * 100) : null;
  return {
    key: (isChanged && found?.key) || "",
    words:
      isChanged && percent !== null ? `Changed shapes are being looked for, ${percent} %.` : "",
    sentence: isChanged && state.state === "failed" ? state.sentence : "",
  };
}

/** Whether shapes of a sheet were changed in the Tracing. */
export const hasChangedShapes = (sheet: Sheet | null) => (sheet?.shapes ?? []).length > 0;

/** A tracing, asked for until it is there. What is only changed of its shapes needs none. */
function useFound(
  id: number,
  sheet: Sheet | null,
  wish: Partial<Wish> | undefined,
  saved: boolean,
  isKeyOnly: boolean,
) {
  const [found, setFound] = useState<Found | null>(null);
  const [state, setState] = useState<TracingState>({ state: "working", share: 0 });
  const [round, setRound] = useState(0);
  const known = useRef("");
  const drawn = useMemo(() => {
    if (!sheet) return "";
    const { paper, picture, plates, cutouts } = sheet;
    return JSON.stringify([paper, picture, plates, cutouts, wish]);
  }, [sheet, wish]);
  const over = useRef(() => true);
  /** Its key, and what is being traced. */
  const underWay = useRef<{ key: string; of: string } | null>(null);
  const giveUp = useCallback(() => {
    const key = underWay.current?.key;
    underWay.current = null;
    if (key === undefined) return;
    const params = { path: { sheet_id: id } };
    const body = { key, share: 0 };
    unanswered(client.POST("/api/sheets/{sheet_id}/shapes/stop", { params, body }));
  }, [id]);
  useEffect(() => {
    // What is traced is no longer the sheet: the next one need not wait for it.
    if (underWay.current?.of !== drawn) giveUp();
  }, [drawn, giveUp]);
  useEffect(() => {
    if (drawn === "" || !wish || !saved) return undefined;
    let isOver = false;
    over.current = () => (isOver = true);
    let timer: number | undefined;
    const params = { path: { sheet_id: id } };
    async function ask() {
      try {
        const body = { wish: wish as never, known: known.current, key_only: isKeyOnly };
        const answer = await answered(
          client.POST("/api/sheets/{sheet_id}/shapes", { params, body }),
        );
        if (isOver) return;
        underWay.current = answer.share < 1 ? { key: answer.key, of: drawn } : null;
        if (answer.share < 1) {
          setState({ state: "working", share: answer.share });
          void ask();
          return;
        }
        if (isKeyOnly || answer.shapes) {
          known.current = answer.key;
          setFound({ key: answer.key, shapes: answer.shapes ?? null });
        }
        setState({ state: "ready" });
      } catch (error) {
        if (isOver) return;
        underWay.current = null;
        const problem = error as ProblemError;
        if (problem.later) timer = window.setTimeout(() => void ask(), AGAIN_MS);
        else setState({ state: "failed", sentence: problem.message });
      }
    }
    void ask();
    return () => {
      isOver = true;
      window.clearTimeout(timer);
    };
  }, [id, drawn, wish, saved, round, isKeyOnly]);

  const stop = useCallback(() => {
    over.current();
    giveUp();
    setState({ state: "stopped" });
  }, [giveUp]);
  /** Ask anew: after a stop, or where the server no longer holds it. */
  const again = useCallback(() => {
    known.current = "";
    setState({ state: "working", share: 0 });
    setRound((before) => before + 1);
  }, []);
  return { found, state, stop, again };
}
