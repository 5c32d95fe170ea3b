import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  answered,
  client,
  type Act,
  type Beneath,
  type ChangedShapes,
  type ProblemError,
  type Sheet,
  type Wish,
} from "../api/client";
import { sending } from "../api/newest";
import { newGesture } from "../shared/gesture";
import { expected, isAmong, shapesOf, type Shape } from "./shapes";
import type { Traced } from "../sheet/useTracing";

const NO_WISH: Partial<Wish> = {};
const NONE = { key: "", numbers: [] as readonly number[] };

interface ShapesProps {
  id: number;
  traced: Traced | null;
  sheet: Sheet | null;
  wish: Partial<Wish> | undefined;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  /** The server no longer holds the tracing. */
  onGone: () => void;
}

/**
 * The shapes of a tracing with the sheet's changes made to them, what is chosen, and what can be
 * done to it: the server says what that comes to.
 */
export function useShapes({ id, traced, sheet, wish = NO_WISH, onChange, onGone }: ShapesProps) {
  const [changed, setChanged] = useState<ChangedShapes | null>(null);
  const [choice, setChoice] = useState(NONE);
  const [trouble, setTrouble] = useState("");
  // What is being done, in order: shown at once, until the server has said what each comes to.
  const [doing, setDoing] = useState<readonly Act[]>([]);
  // What the server's last answer was about: what was asked and is known already is not asked again.
  const shown = useRef<{ key: string; changes: unknown }>({ key: "", changes: null });
  const key = traced?.key ?? "";
  const changes = sheet?.shapes;
  const latest = useRef({ sheet, onChange, onGone, wish, own: NONE.numbers });

  const ask = useCallback(
    async (
      of: string,
      now: NonNullable<Sheet["shapes"]>,
      act: (Act & { shapes: number[] }) | null,
    ) => {
      const body = { key: of, wish: latest.current.wish as never, changes: now, act };
      try {
        const answer = await answered(
          client.POST("/api/sheets/{sheet_id}/shapes/changed", {
            params: { path: { sheet_id: id } },
            body,
          }),
        );
        setTrouble("");
        return answer;
      } catch (error) {
        const problem = error as ProblemError;
        if (problem.status === 404) latest.current.onGone();
        else setTrouble(problem.message);
        return null;
      }
    },
    [id],
  );

  useEffect(() => {
    if (!key || !changes) return undefined;
    if (shown.current.key === key && shown.current.changes === changes) return undefined;
    let isOver = false;
    void ask(key, changes, null).then((answer) => {
      if (isOver || !answer) return;
      shown.current = { key, changes };
      setChanged(answer);
    });
    return () => {
      isOver = true;
    };
  }, [key, changes, ask]);

  const queue = useRef<Promise<unknown>>(Promise.resolve());
  /**
   * Do something to shapes, to what is chosen where none are named, as one step; gesture is the
   * same for what goes on.
   */
  const act = useCallback(
    (of: Act, gesture = newGesture()) => {
      const what = { shapes: [...latest.current.own], ...of };
      setDoing((before) => [...before, what]);
      const run = async () => {
        const now = latest.current.sheet;
        const answer = now && key ? await ask(key, now.shapes ?? [], what) : null;
        setDoing((before) => before.filter((each) => each !== what));
        if (!now || !answer) return;
        const next = { ...now, shapes: answer.changes };
        shown.current = { key, changes: next.shapes };
        latest.current = { ...latest.current, sheet: next };
        setChanged(answer);
        latest.current.onChange(next, answer.said, gesture);
      };
      queue.current = queue.current.then(run, run);
      return sending(id, queue.current);
    },
    [id, key, ask],
  );

  const known = useMemo(() => (traced ? shapesOf(traced.shapes, changed) : []), [traced, changed]);
  const shapes = useMemo(() => doing.reduce(expected, known as readonly Shape[]), [known, doing]);
  // Numbers are those of one tracing.
  const chosen = choice.key === key ? choice.numbers : NONE.numbers;
  // In the order that they were chosen: what is joined is as the first one.
  const chosenShapes = useMemo(() => {
    const place = new Map(chosen.map((number, k) => [number, k]));
    const first = (shape: Shape) =>
      Math.min(...shape.of.map((each) => place.get(each) ?? Infinity));
    return shapes
      .filter((each) => (each.isThere || each.hidden) && isAmong(each, place))
      .map((shape) => ({ shape, at: first(shape) }))
      .sort((one, other) => one.at - other.at)
      .map(({ shape }) => shape);
  }, [shapes, chosen]);
  useEffect(() => {
    const own = chosenShapes.flatMap((each) => each.of);
    latest.current = { sheet, onChange, onGone, wish, own };
  });
  /** Choose shapes; what was chosen before stays where they are added, and is left if it was. */
  const choose = useCallback(
    (some: readonly Shape[], isAdded = false) => {
      const own = some.flatMap((each) => each.of);
      setChoice((before) => {
        if (!isAdded || before.key !== key) return { key, numbers: own };
        const known = new Set(before.numbers);
        const left = new Set(own);
        const numbers =
          own.length > 0 && own.every((each) => known.has(each))
            ? before.numbers.filter((each) => !left.has(each))
            : [...before.numbers, ...own.filter((each) => !known.has(each))];
        return { key, numbers };
      });
    },
    [key],
  );

  return {
    shapes,
    changed,
    chosenShapes,
    choose,
    act,
    trouble,
    beneath: useBeneath(id, key, changes, wish),
  };
}

const NOTHING: Beneath[] = [];

/** What is printed beneath all shapes, as they are changed; the last that is known meanwhile. */
function useBeneath(
  id: number,
  key: string,
  changes: Sheet["shapes"] | undefined,
  wish: Partial<Wish>,
) {
  const [found, setFound] = useState<Beneath[]>(NOTHING);
  const isWanted = (wish.under_layer ?? null) !== null || (wish.outline ?? 0) > 0;
  useEffect(() => {
    if (!key || !changes || !isWanted) return undefined;
    let isOver = false;
    const params = { path: { sheet_id: id } };
    const body = { key, changes, wish: wish as never };
    answered(client.POST("/api/sheets/{sheet_id}/shapes/beneath", { params, body })).then(
      (answer) => !isOver && setFound(answer),
      // A tracing that is held no longer is asked for again where shapes are.
      () => undefined,
    );
    return () => {
      isOver = true;
    };
  }, [id, key, changes, wish, isWanted]);
  return isWanted ? found : NOTHING;
}
