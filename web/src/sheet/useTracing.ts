import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  answered,
  client,
  type ProblemError,
  type Shapes,
  type Sheet,
  type Wish,
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

/** The wish of a file of shapes, from what is wished of any. */
export function vectorWish(wanted: Wish) {
  const found = VECTOR.filter((name) => wanted[name] !== undefined);
  return Object.fromEntries(found.map((name) => [name, wanted[name]])) as Partial<Wish>;
}

/**
 * The tracing of a saved sheet, asked for until it is there; the last one stays meanwhile. What is
 * only changed of its shapes needs none.
 */
export function useTracing(
  id: number,
  sheet: Sheet | null,
  wish: Partial<Wish> | undefined,
  saved: boolean,
) {
  const [traced, setTraced] = useState<Traced | null>(null);
  const [state, setState] = useState<TracingState>({ state: "working", share: 0 });
  const [round, setRound] = useState(0);
  const known = useRef("");
  const drawn = useMemo(() => {
    if (!sheet) return "";
    const { paper, picture, plates, cutouts } = sheet;
    return JSON.stringify([paper, picture, plates, cutouts]);
  }, [sheet]);
  const current = useRef("");
  const over = useRef(() => true);
  useEffect(() => {
    if (drawn === "" || !wish || !saved) return undefined;
    let isOver = false;
    over.current = () => (isOver = true);
    let timer: number | undefined;
    const params = { path: { sheet_id: id } };
    async function ask() {
      try {
        const body = { wish: wish as never, known: known.current };
        const answer = await answered(
          client.POST("/api/sheets/{sheet_id}/shapes", { params, body }),
        );
        if (isOver) return;
        current.current = answer.key;
        if (answer.share < 1) {
          setState({ state: "working", share: answer.share });
          void ask();
          return;
        }
        if (answer.shapes) {
          known.current = answer.key;
          setTraced({ key: answer.key, shapes: answer.shapes });
        }
        setState({ state: "ready" });
      } catch (error) {
        if (isOver) return;
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
  }, [id, drawn, wish, saved, round]);

  const stop = useCallback(() => {
    over.current();
    const body = { key: current.current, share: 0 };
    void client.POST("/api/sheets/{sheet_id}/shapes/stop", {
      params: { path: { sheet_id: id } },
      body,
    });
    setState({ state: "stopped" });
  }, [id]);
  /** Ask anew: after a stop, or where the server no longer holds it. */
  const again = useCallback(() => {
    known.current = "";
    setState({ state: "working", share: 0 });
    setRound((before) => before + 1);
  }, []);
  return { traced, state, stop, again };
}
