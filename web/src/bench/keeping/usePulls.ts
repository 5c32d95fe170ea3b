import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client, type PullRecord } from "../../api/client";

/**
 * A sheet's pulls, fetched once they are wanted, and what can be done with them; the last one
 * deleted can be put back.
 */
export function usePulls(id: number, wanted: boolean, onTrouble: (sentence: string) => void) {
  const queries = useQueryClient();
  const [deleted, setDeleted] = useState<PullRecord | null>(null);
  const list = useQuery({
    queryKey: ["pulls", id],
    queryFn: () =>
      answered(client.GET("/api/sheets/{sheet_id}/pulls", { params: { path: { sheet_id: id } } })),
    enabled: wanted,
  });

  /** Do something to the pulls; whether it was done. */
  async function act(work: Promise<unknown>): Promise<boolean> {
    let isDone = true;
    try {
      await work;
    } catch (error) {
      isDone = false;
      onTrouble((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ["pulls", id] });
    return isDone;
  }

  const one = (pull: PullRecord) => ({ params: { path: { sheet_id: id, pull_id: pull.id } } });

  async function keep(name: string) {
    const params = { path: { sheet_id: id } };
    return act(answered(client.POST("/api/sheets/{sheet_id}/pulls", { params, body: { name } })));
  }

  async function rename(pull: PullRecord, name: string) {
    await act(
      answered(
        client.PUT("/api/sheets/{sheet_id}/pulls/{pull_id}", { ...one(pull), body: { name } }),
      ),
    );
  }

  async function remove(pull: PullRecord) {
    const url = "/api/sheets/{sheet_id}/pulls/{pull_id}";
    if (await act(answered(client.DELETE(url, one(pull))))) setDeleted(pull);
  }

  async function putBack() {
    if (!deleted) return;
    const url = "/api/sheets/{sheet_id}/pulls/{pull_id}/restore";
    if (await act(answered(client.POST(url, one(deleted))))) setDeleted(null);
  }

  return { list: list.data ?? [], deleted, keep, rename, remove, putBack };
}
