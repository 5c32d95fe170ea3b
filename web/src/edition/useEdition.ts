import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client, type Edition, type EditionRecord, ProblemError } from "../api/client";
import { EDITIONS } from "../api/queries";

// By edition, the last of what is asked: a page that is left and come back to goes on behind it.
const askedLast = new Map<number, Promise<unknown>>();

/** An edition, changed by steps that are saved as they are made, one after another. */
export function useEdition(id: number) {
  const queries = useQueryClient();
  const path = { edition_id: id };
  const params = { path };
  const key = ["edition", id];
  const newest = () => answered(client.GET("/api/editions/{edition_id}", { params }));
  const asked = useQuery({ queryKey: key, queryFn: newest, retry: false });
  const [trouble, setTrouble] = useState("");
  const [isStale, setStale] = useState(false);

  async function take(record: EditionRecord) {
    // An older answer that is still on its way must not come over it.
    await queries.cancelQueries({ queryKey: key });
    queries.setQueryData(key, record);
    void queries.invalidateQueries({ queryKey: EDITIONS });
    setTrouble("");
    setStale(false);
  }

  /** Do what asks the server for the edition's next record, after all that was asked before. */
  function next(ask: (now: EditionRecord) => Promise<EditionRecord>): Promise<void> {
    const run = async () => {
      const now = queries.getQueryData<EditionRecord>(key);
      if (!now) return;
      try {
        await take(await ask(now));
      } catch (error) {
        setTrouble((error as Error).message);
        setStale(error instanceof ProblemError && error.status === 409);
      }
    };
    const done = (askedLast.get(id) ?? Promise.resolve()).then(run, run);
    askedLast.set(id, done);
    return done;
  }

  return {
    record: asked.data,
    failed: asked.error?.message,
    trouble,
    isStale,
    say: setTrouble,
    /** What is changed next is changed of the newest version. */
    reload: () => next(newest),
    change: (make: (now: Edition) => Partial<Edition>, words: string, gesture = "") =>
      next((now) => {
        const edition = { ...now.edition, ...make(now.edition) };
        const body = { base: now.revision, edition, words, gesture };
        return answered(client.PUT("/api/editions/{edition_id}", { params, body }));
      }),
    undo: () => next(() => answered(client.POST("/api/editions/{edition_id}/undo", { params }))),
    redo: () => next(() => answered(client.POST("/api/editions/{edition_id}/redo", { params }))),
    /** Give a photo a sheet of its own; its number. */
    adjust: async (entry: number) => {
      let sheet = 0;
      await next(async () => {
        const own = { path: { ...path, entry_id: entry } };
        const answer = await answered(
          client.POST("/api/editions/{edition_id}/entries/{entry_id}/adjust", { params: own }),
        );
        sheet = answer.sheet;
        return answer.record;
      });
      return sheet;
    },
  };
}

export type EditionWork = ReturnType<typeof useEdition>;
