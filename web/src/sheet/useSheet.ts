import { useCallback, useEffect, useRef, useState } from "react";
import { answered, client, ProblemError, type Sheet, type SheetRecord } from "../api/client";
import { isSending, newestSheet, sending, storedSheet } from "../api/newest";
import { useNewestKnown } from "../api/queries";
import { useComingBack } from "../shared/useComingBack";
import { forget, putBy, stillUnsent, takenUp, type Change } from "./unsent";

const QUIET_MS = 200;
const LONGEST_WAIT_MS = 1000;
const RETRY_MS = 2000;

export type Saving = "saved" | "saving" | "offline" | "stale";

export const SAVING_WORDS: Record<Saving, string> = {
  saved: "saved",
  saving: "saving…",
  offline: "not saved yet",
  stale: "changed elsewhere",
};

export type SheetState =
  | { state: "waiting" }
  | { state: "failed"; sentence: string }
  | {
      state: "ready";
      sheet: Sheet;
      revision: number;
      undo: string | null;
      redo: string | null;
    };

function ready(record: SheetRecord): SheetState {
  return {
    state: "ready",
    sheet: record.sheet,
    revision: record.revision,
    undo: record.undo ?? null,
    redo: record.redo ?? null,
  };
}

/** Whether a change can never be saved, however often it is sent. */
function isRefused(problem: ProblemError): boolean {
  return problem.status >= 400 && problem.status < 500 && problem.status !== 409;
}

/** Whether a sheet is drawn from others that it is to follow. */
const followsOthers = (sheet: Sheet) =>
  sheet.plates.some(({ source }) => source.kind === "sheet" && source.live);

const isSame = (present: SheetState, record: SheetRecord) =>
  present.state === "ready" && JSON.stringify(present.sheet) === JSON.stringify(record.sheet);

/**
 * A sheet that is saved as it is changed. Changes of one gesture are one step; while the server
 * cannot be reached they wait here and are sent again. known: the record as a list had it, to
 * begin with until the newest comes.
 */
export function useSheet(id: number, known?: SheetRecord) {
  const [content, setContent] = useState<SheetState>(() =>
    known ? ready(known) : { state: "waiting" },
  );
  const [saving, setSaving] = useState<Saving>("saved");
  const [trouble, setTrouble] = useState("");
  const revision = useRef(known?.revision ?? 0);
  const pending = useRef<Change[]>([]);
  const busy = useRef<Promise<void> | null>(null);
  const timer = useRef<number | undefined>(undefined);
  // Since when something waits that is not on its way.
  const since = useRef<number | null>(null);
  const isLeft = useRef(false);
  const listeners = useRef(new Set<(sheet: Sheet) => void>());

  const tell = useNewestKnown();

  const show = useCallback(
    (record: SheetRecord) => {
      revision.current = record.revision;
      // What was turned meanwhile is saved on top of it.
      const last = pending.current.at(-1);
      setContent(ready(last ? { ...record, sheet: last.sheet } : record));
      tell(record);
    },
    [tell],
  );

  const load = useCallback(async () => {
    try {
      const record = await storedSheet(id);
      pending.current = [];
      show(record);
      since.current = null;
      forget(id);
      setSaving("saved");
      setTrouble("");
    } catch (error) {
      setContent({ state: "failed", sentence: (error as Error).message });
    }
  }, [id, show]);

  /** What has been saved, as the server has it now. */
  const took = useCallback(
    (record: SheetRecord) => {
      revision.current = record.revision;
      if (pending.current.length > 0) return;
      // Plates in step take over what the one ahead of them came to.
      const isInStep = record.sheet.plates.some((each) => each.follows);
      setContent((present) => {
        if (present.state !== "ready") return present;
        return ready(isInStep ? record : { ...record, sheet: present.sheet });
      });
      forget(id);
      tell(record);
      setSaving("saved");
      setTrouble("");
    },
    [id, tell],
  );

  /** Whether what was changed meanwhile was changed from here, and only the answer was lost. */
  const arrived = useCallback(async (): Promise<boolean> => {
    const record = await storedSheet(id);
    const sent = { base: revision.current, changes: pending.current };
    const { base, changes } = stillUnsent(sent, record);
    if (base === sent.base) return false;
    pending.current = changes;
    took(record);
    return true;
  }, [id, took]);

  const send = useCallback(
    async (isAll: boolean): Promise<void> => {
      window.clearTimeout(timer.current);
      let left = pending.current.length;
      while (pending.current.length > 0 && (isAll || left > 0)) {
        const change = pending.current[0]!;
        left -= 1;
        if (left <= 0) since.current = null;
        setSaving("saving");
        try {
          const record = await answered(
            client.PUT("/api/sheets/{sheet_id}", {
              params: { path: { sheet_id: id } },
              body: { ...change, base: revision.current },
            }),
          );
          pending.current.shift();
          took(record);
        } catch (error) {
          const problem = error as ProblemError;
          if (isRefused(problem)) {
            // It would be refused again, and what came after it is based on it.
            await load();
            setTrouble(`${problem.message} The change was taken back.`);
            return;
          }
          const isStale = problem.status === 409;
          if (isStale && (await arrived().catch(() => false))) continue;
          setTrouble(problem.message);
          setSaving(isStale ? "stale" : "offline");
          return;
        }
      }
    },
    [arrived, id, load, took],
  );

  /** Do one thing with the server at a time. */
  const alone = useCallback(async (work: () => Promise<void>): Promise<void> => {
    while (busy.current) await busy.current;
    busy.current = work().finally(() => {
      busy.current = null;
    });
    await busy.current;
  }, []);

  const save = useCallback(
    (isAll: boolean) =>
      sending(
        id,
        alone(() => send(isAll)),
      ),
    [alone, id, send],
  );

  /** Save what is pending; whether all of it is saved then. */
  const flush = useCallback(async (): Promise<boolean> => {
    await save(true);
    return pending.current.length === 0;
  }, [save]);

  /** Keep in this browser what is pending; false if there is no room for it. */
  const keep = useCallback(
    () => putBy(id, { base: revision.current, changes: pending.current }),
    [id],
  );

  /** Save what is pending, or keep it: nobody is here any more who could have it sent again. */
  const sendLast = useCallback(
    () =>
      sending(
        id,
        flush().then((isSaved) => isSaved || keep()),
      ),
    [flush, id, keep],
  );

  /** Whether nothing is changed that is not saved. */
  const isIdle = useCallback(() => pending.current.length === 0 && !busy.current, []);

  /** The first look at a sheet: what was known of it may have been overtaken meanwhile. */
  const open = useCallback(async () => {
    // What is turned before that has come would be based on what it changes.
    if (isSending(id)) {
      revision.current = 0;
      setContent({ state: "waiting" });
    }
    try {
      const record = await newestSheet(id);
      const kept = isIdle() ? takenUp(id) : null;
      const unsent = kept && stillUnsent(kept, record);
      const last = unsent?.changes.at(-1);
      if (unsent && last) {
        // What was changed before the page was left is saved now, or told apart.
        setContent(ready({ ...record, sheet: last.sheet }));
        pending.current = unsent.changes;
        revision.current = unsent.base;
        await flush();
        return;
      }
      const isNewer = record.revision !== revision.current;
      // What is being turned already is saved on top, or told apart when it is.
      if (isNewer && isIdle()) show(record);
    } catch (error) {
      setContent({ state: "failed", sentence: (error as Error).message });
    }
  }, [flush, id, isIdle, show]);

  /** Calls listener with each change at once, before the page shows it; returns what ends that. */
  const hear = useCallback((listener: (sheet: Sheet) => void) => {
    const all = listeners.current;
    all.add(listener);
    return () => void all.delete(listener);
  }, []);

  const change = useCallback(
    (sheet: Sheet, words: string, gesture: string) => {
      for (const listener of listeners.current) listener(sheet);
      setContent((present) => (present.state === "ready" ? { ...present, sheet } : present));
      setSaving((present) => (present === "saved" ? "saving" : present));
      const last = pending.current.at(-1);
      // The first in the queue may be on its way already; only a later one can be replaced.
      if (last && last.gesture === gesture && (pending.current.length > 1 || !busy.current)) {
        pending.current[pending.current.length - 1] = { sheet, words, gesture };
      } else {
        pending.current.push({ sheet, words, gesture });
      }
      window.clearTimeout(timer.current);
      // What comes to something only after the page was left has nobody who goes on turning.
      if (isLeft.current) return void sendLast();
      since.current ??= Date.now();
      const wait = Math.min(QUIET_MS, LONGEST_WAIT_MS - (Date.now() - since.current));
      // What is changed while this is on its way waits for a rest of its own: a hand that goes on
      // turning would have each of its moves saved, and drafts wait for that.
      timer.current = window.setTimeout(() => void save(false), Math.max(0, wait));
    },
    [save, sendLast],
  );

  /** Do what the server does to a sheet as one step, such as going back to a pull. */
  const remake = useCallback(
    (work: (base: number) => Promise<SheetRecord>): Promise<boolean> => {
      async function remade() {
        if (!(await flush())) return false;
        let isDone = false;
        // What is turned meanwhile waits for what this comes to.
        await alone(async () => {
          try {
            show(await work(revision.current));
            setTrouble("");
            isDone = true;
          } catch (error) {
            setTrouble((error as Error).message);
          }
        });
        return isDone;
      }
      return sending(id, remade());
    },
    [alone, flush, id, show],
  );

  const step = useCallback(
    async (direction: "undo" | "redo") => {
      const path = { sheet_id: id };
      const url =
        direction === "undo" ? "/api/sheets/{sheet_id}/undo" : "/api/sheets/{sheet_id}/redo";
      await remake(() => answered(client.POST(url, { params: { path } })));
    },
    [id, remake],
  );

  /** Save what was changed here over what was changed elsewhere; both stay in the history. */
  const takeOver = useCallback(async () => {
    try {
      revision.current = (await storedSheet(id)).revision;
      await flush();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  }, [flush, id]);

  useEffect(() => {
    // State is set only after the answer; the rule cannot see past the call.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    void open();
  }, [open]);

  /** Whoever comes back may have changed it elsewhere meanwhile, or what is laid on it. */
  const renew = useCallback(() => {
    if (!isIdle()) return;
    const compare = (record: SheetRecord) => {
      if (!isIdle()) return;
      if (record.revision !== revision.current) show(record);
      else if (followsOthers(record.sheet))
        setContent((present) => (isSame(present, record) ? present : ready(record)));
    };
    // Where it cannot be asked for it stays; whatever is done next says what is wrong.
    newestSheet(id).then(compare, () => undefined);
  }, [id, isIdle, show]);
  useComingBack(renew);

  useEffect(() => {
    if (saving !== "offline") return;
    const again = window.setInterval(() => void flush(), RETRY_MS);
    return () => window.clearInterval(again);
  }, [saving, flush]);

  useEffect(() => {
    isLeft.current = false;
    // What a page sends as it is left may not arrive, and browsers bound how much that may be.
    const leave = (event: Event) => {
      if (pending.current.length === 0) return;
      if (!keep() && event.type === "beforeunload") event.preventDefault();
      void flush();
    };
    window.addEventListener("beforeunload", leave);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("beforeunload", leave);
      window.removeEventListener("pagehide", leave);
      isLeft.current = true;
      void sendLast();
    };
  }, [flush, keep, sendLast]);

  return {
    content,
    saving,
    trouble,
    setTrouble,
    change,
    hear,
    load,
    flush,
    remake,
    takeOver,
    undo: step,
  };
}

export type Work = ReturnType<typeof useSheet>;
