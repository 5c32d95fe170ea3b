import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answered, client, asSent, type FormatSpec, unanswered, type Wish } from "../api/client";
import { wishOf } from "../shared/wishOf";

/**
 * What is wished of the sheet's file: as it left last, or as it is. What is changed is kept.
 * isAsked: whether anybody wants to know.
 */
export function useWish(sheetId: number, isAsked = true) {
  const params = { path: { sheet_id: sheetId } };
  const queries = useQueryClient();
  const last = useQuery({
    queryKey: ["leaving", sheetId],
    queryFn: () => answered(client.GET("/api/sheets/{sheet_id}/leaving", { params })),
    gcTime: 0,
    staleTime: Infinity,
    enabled: isAsked,
  });
  const [changed, setChanged] = useState<Wish | null>(null);
  const keeping = useRef<Promise<unknown>>(Promise.resolve());
  const [others, setOthers] = useState<Partial<Wish>>({});
  const wanted = changed ?? (last.data as Wish | undefined);

  function set(change: Partial<Wish>) {
    if (wanted) keep({ ...wanted, ...change });
  }

  /**
   * The wish for another format, changed: with what both have. What only others have waits for
   * them.
   */
  function become(format: FormatSpec, change: Partial<Wish> = {}) {
    if (!wanted) return;
    const known = { ...others, ...wanted, ...change };
    setOthers(known);
    keep(wishOf(format, known));
  }

  function keep(next: Wish) {
    setChanged(next);
    // Another page may begin with it before this one has gone.
    queries.setQueryData(["leaving", sheetId], next);
    // One after the other, so that the last one stays. What is not kept is asked again next time.
    const send = () =>
      client.PUT("/api/sheets/{sheet_id}/leaving", { params, body: asSent(next), keepalive: true });
    keeping.current = keeping.current.then(send, send);
    unanswered(keeping.current);
  }

  return { wanted, set, become, error: last.error };
}
