import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { addPhoto, openSheetFile } from "../api/client";
import { PHOTOS, SHEETS } from "../api/queries";

export interface Upload {
  key: number;
  name: string;
  state: "waiting" | "ready" | "failed";
  sentence: string;
  /** Where the next step with it is. */
  leads?: string;
  /** The photo that it became. */
  photo?: string;
}

let keys = 0;

/**
 * Brings in photos and sheet files one after another; a bad one says why and the others still come
 * in. add returns the ids of the photos.
 */
export function useUploads() {
  const queries = useQueryClient();
  const [list, setList] = useState<Upload[]>([]);

  const add = useCallback(
    async (files: File[]): Promise<string[]> => {
      const started = files.map((file) => ({ file, key: (keys += 1) }));
      const fresh = started.map(({ file, key }): Upload => {
        return { key, name: file.name, state: "waiting", sentence: "" };
      });
      setList((present) => [...present.filter((u) => u.state === "waiting"), ...fresh]);
      const photos: string[] = [];
      for (const { file, key } of started) {
        const end = await broughtIn(file);
        setList((present) => present.map((u) => (u.key === key ? { ...u, ...end } : u)));
        if (end.photo) photos.push(end.photo);
        await queries.invalidateQueries({ queryKey: PHOTOS });
        if (isSheetFile(file)) await queries.invalidateQueries({ queryKey: SHEETS });
      }
      return photos;
    },
    [queries],
  );

  /** Put away what is said of all that is over. */
  const dismiss = useCallback(() => {
    setList((present) => present.filter((u) => u.state === "waiting"));
  }, []);

  return { list, add, dismiss };
}

function isSheetFile(file: File): boolean {
  return file.name.toLowerCase().endsWith(".flinz");
}

async function broughtIn(file: File): Promise<Omit<Upload, "key" | "name">> {
  try {
    if (isSheetFile(file)) {
      const record = await openSheetFile(file);
      return { state: "ready", sentence: "", leads: `/sheets/${record.id}` };
    }
    const photo = await addPhoto(file);
    return {
      state: "ready",
      sentence: photo.notes.join(" "),
      leads: `/photos/${photo.id}/contact`,
      photo: photo.id,
    };
  } catch (error) {
    return { state: "failed", sentence: (error as Error).message };
  }
}
