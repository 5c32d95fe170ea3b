import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, client, type Running, unanswered } from "../api/client";
import { IDLE } from "./words";

/** The drawing of an edition's files: begun, watched and stopped. */
export function useRun(
  id: number,
  isRunning: boolean,
  /** Whether files are still to be drawn. */
  hasMore: boolean,
  onTrouble: (sentence: string) => void,
) {
  const queries = useQueryClient();
  const [run, setRun] = useState<Running>(IDLE);
  const [isAsked, setAsked] = useState(false);
  const isWatched = isRunning || isAsked;

  useEffect(() => {
    if (!isWatched) return undefined;
    const renew = () => queries.invalidateQueries({ queryKey: ["edition", id] });
    const source = new EventSource(`/api/editions/${id}/events`);
    let ended = 0;
    let isLeft = false;
    source.onmessage = (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as Running;
      if (told.is_running) {
        setRun(told);
        if (told.ended !== ended) void renew();
        ended = told.ended;
        return;
      }
      source.close();
      // It is over once what it left is known: until then the files that are told of are older.
      void renew().then(() => {
        if (isLeft) return;
        setRun(told);
        setAsked(false);
      });
    };
    source.onerror = () => {
      // The browser tries again by itself unless the stream was closed for good.
      if (source.readyState !== EventSource.CLOSED) return;
      setAsked(false);
      setRun(IDLE);
    };
    return () => {
      isLeft = true;
      source.close();
    };
  }, [isWatched, id, queries]);

  // What draws them takes a moment to begin: it does so while they are looked at.
  useEffect(() => {
    if (!hasMore) return;
    const path = { edition_id: id };
    unanswered(client.POST("/api/editions/{edition_id}/ready", { params: { path } }));
  }, [id, hasMore]);

  const params = { path: { edition_id: id } };
  return {
    run: isWatched ? run : IDLE,
    start: async (entries: number[] | null = null) => {
      try {
        const begun = await answered(
          client.POST("/api/editions/{edition_id}/run", { params, body: { entries } }),
        );
        onTrouble("");
        setRun(begun);
        if (begun.is_running) setAsked(true);
      } catch (error) {
        onTrouble((error as Error).message);
      }
    },
    stop: () => unanswered(client.POST("/api/editions/{edition_id}/stop", { params })),
  };
}
