import { useCallback, useEffect, useRef, useState } from "react";
import { answered, client, ProblemError, type Sheet, type SheetRecord } from "../api/client";
import { useNewestKnown } from "../api/queries";
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

async function newest(id: number): Promise<SheetRecord> {
  return answered(client.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } }));
}

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
  const listeners = useRef(new Set<(sheet: Sheet) => void>());

  const tell = useNewestKnown();

  const show = useCallback(
    (record: SheetRecord) => {
      revision.current = record.revision;
      setContent(ready(record));
      tell(record);
    },
    [tell],
  );

  const load = useCallback(async () => {
    try {
      show(await newest(id));
      pending.current = [];
      since.current = null;
      forget(id);
      setSaving("saved");
      setTrouble("");
    } catch (error) {
      setContent({ state: "failed", sentence: (error as Error).message });
    }
  }, [id, show]);

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
          revision.current = record.revision;
          if (pending.current.length === 0) {
            setContent((present) =>
              present.state === "ready"
                ? {
                    ...present,
                    // Plates in step take over what the one ahead of them came to.
                    sheet: record.sheet.plates.some((each) => each.follows)
                      ? record.sheet
                      : present.sheet,
                    revision: record.revision,
                    undo: record.undo ?? null,
                    redo: record.redo ?? null,
                  }
                : present,
            );
            forget(id);
            tell(record);
            setSaving("saved");
            setTrouble("");
          }
        } catch (error) {
          const problem = error as ProblemError;
          if (isRefused(problem)) {
            // It would be refused again, and what came after it is based on it.
            await load();
            setTrouble(`${problem.message} The change was taken back.`);
          } else {
            setTrouble(problem.message);
            setSaving(problem.status === 409 ? "stale" : "offline");
          }
          return;
        }
      }
    },
    [id, load, tell],
  );

  const save = useCallback(
    async (isAll: boolean) => {
      while (busy.current) await busy.current;
      busy.current = send(isAll).finally(() => {
        busy.current = null;
      });
      await busy.current;
    },
    [send],
  );

  /** Save what is pending; whether all of it is saved then. */
  const flush = useCallback(async (): Promise<boolean> => {
    await save(true);
    return pending.current.length === 0;
  }, [save]);

  /** The first look at a sheet: what was known of it may have been overtaken meanwhile. */
  const open = useCallback(async () => {
    try {
      const record = await newest(id);
      const isIdle = () => pending.current.length === 0 && !busy.current;
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
  }, [flush, id, show]);

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
      since.current ??= Date.now();
      const wait = Math.min(QUIET_MS, LONGEST_WAIT_MS - (Date.now() - since.current));
      // What is changed while this is on its way waits for a rest of its own: a hand that goes on
      // turning would have each of its moves saved, and drafts wait for that.
      timer.current = window.setTimeout(() => void save(false), Math.max(0, wait));
    },
    [save],
  );

  const step = useCallback(
    async (direction: "undo" | "redo") => {
      if (!(await flush())) return;
      const path = { sheet_id: id };
      const url =
        direction === "undo" ? "/api/sheets/{sheet_id}/undo" : "/api/sheets/{sheet_id}/redo";
      try {
        show(await answered(client.POST(url, { params: { path } })));
        setTrouble("");
      } catch (error) {
        setTrouble((error as Error).message);
      }
    },
    [flush, id, show],
  );

  /** Do what the server does to a sheet as one step, such as going back to a pull. */
  const remake = useCallback(
    async (work: (base: number) => Promise<SheetRecord>) => {
      if (!(await flush())) return false;
      try {
        show(await work(revision.current));
        setTrouble("");
        return true;
      } catch (error) {
        setTrouble((error as Error).message);
        return false;
      }
    },
    [flush, show],
  );

  /** Save what was changed here over what was changed elsewhere; both stay in the history. */
  const takeOver = useCallback(async () => {
    try {
      revision.current = (await newest(id)).revision;
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

  const follows = content.state === "ready" && followsOthers(content.sheet);
  useEffect(() => {
    if (!follows) return undefined;
    // Whoever comes back to this tab may have changed in another what is laid on this sheet.
    async function renew() {
      const isIdle = () => pending.current.length === 0 && !busy.current;
      if (!isIdle()) return;
      try {
        const record = await newest(id);
        if (record.revision !== revision.current || !isIdle()) return;
        setContent((present) => (isSame(present, record) ? present : ready(record)));
      } catch {
        // It stays as it was; whatever is done next says what is wrong.
      }
    }
    const came = () => void renew();
    window.addEventListener("focus", came);
    return () => window.removeEventListener("focus", came);
  }, [follows, id]);

  useEffect(() => {
    if (saving !== "offline") return;
    const again = window.setInterval(() => void flush(), RETRY_MS);
    return () => window.clearInterval(again);
  }, [saving, flush]);

  useEffect(() => {
    const kept = () => putBy(id, { base: revision.current, changes: pending.current });
    // What a page sends as it is left may not arrive, and browsers bound how much that may be.
    const leave = (event: Event) => {
      if (pending.current.length === 0) return;
      if (!kept() && event.type === "beforeunload") event.preventDefault();
      void flush();
    };
    window.addEventListener("beforeunload", leave);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("beforeunload", leave);
      window.removeEventListener("pagehide", leave);
      void flush().then((isSaved) => isSaved || kept());
    };
  }, [flush, id]);

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
