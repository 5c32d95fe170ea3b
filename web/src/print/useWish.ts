import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client, type PngWish, type Wish } from "../api/client";

/** What is wished of the sheet's file: as it left last, or as it is. What is changed is kept. */
export function useWish(sheetId: number) {
  const params = { path: { sheet_id: sheetId } };
  const last = useQuery({
    queryKey: ["leaving", sheetId],
    queryFn: () => answered(client.GET("/api/sheets/{sheet_id}/leaving", { params })),
    gcTime: 0,
    staleTime: Infinity,
  });
  const [changed, setChanged] = useState<Wish | null>(null);
  const wanted: Wish | undefined = changed ?? last.data;

  function set(change: Partial<Wish>) {
    if (!wanted) return;
    const next = { ...wanted, ...change };
    setChanged(next);
    // What is not kept is only asked again the next time.
    void client.PUT("/api/sheets/{sheet_id}/leaving", { params, body: next as PngWish });
  }

  return { wanted, set, error: last.error };
}
