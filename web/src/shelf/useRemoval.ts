import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client } from "../api/client";

interface Removed {
  kind: "photo" | "sheet";
  id: string;
  title: string;
}

/** Takes things off the shelf, and puts the last one back. */
export function useRemoval() {
  const queries = useQueryClient();
  const [last, setLast] = useState<Removed | null>(null);

  async function remove(kind: Removed["kind"], id: string, title: string) {
    await (kind === "photo"
      ? answered(client.DELETE("/api/photos/{photo_id}", { params: { path: { photo_id: id } } }))
      : answered(
          client.DELETE("/api/sheets/{sheet_id}", { params: { path: { sheet_id: Number(id) } } }),
        ));
    setLast({ kind, id, title });
    await queries.invalidateQueries();
  }

  async function undo() {
    if (!last) return;
    await (last.kind === "photo"
      ? answered(
          client.POST("/api/photos/{photo_id}/restore", {
            params: { path: { photo_id: last.id } },
          }),
        )
      : answered(
          client.POST("/api/sheets/{sheet_id}/restore", {
            params: { path: { sheet_id: Number(last.id) } },
          }),
        ));
    setLast(null);
    await queries.invalidateQueries();
  }

  return { last, remove, undo };
}
