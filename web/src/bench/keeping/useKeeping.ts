import { useState } from "react";
import { answered, client, type PhotoRecord, type PullRecord } from "../../api/client";
import { beginEdition } from "../../shared/beginEdition";
import { useLeadingTo } from "../../shared/useLeadingTo";
import type { TheBench } from "../theBench";
import { usePulls } from "./usePulls";

/** Which dialog is open; "" for none. */
export type Open = "" | "pulls" | "recipe" | "photo" | "ruler";

/** What is kept of the sheet, gone back to or begun from it, and the dialogs for that. */
export function useKeeping(
  { id, work, sheet }: TheBench,
  hasBegun: boolean,
  say: (words: string) => void,
) {
  const lead = useLeadingTo();
  const [open, setOpen] = useState<Open>("");
  const pulls = usePulls(id, hasBegun, work.setTrouble);

  async function keepPull(name = `Pull ${pulls.list.length + 1}`) {
    // What the server has is kept: it must be what is seen here. Why it is not, the bed says.
    if ((await work.flush()) && (await pulls.keep(name))) say(`“${name}” is kept.`);
  }

  function goBack(pull: PullRecord) {
    setOpen("");
    const params = { path: { sheet_id: id, pull_id: pull.id } };
    const url = "/api/sheets/{sheet_id}/pulls/{pull_id}/go-back";
    void work.remake((base) => answered(client.POST(url, { params, body: { base } })));
  }

  async function swapPhoto(other: PhotoRecord, tones: "matched" | "numbers") {
    setOpen("");
    let refitted: string[] = [];
    const done = await work.remake(async (base) => {
      const params = { path: { sheet_id: id } };
      const body = { base, photo: other.id, tones };
      const swapped = await answered(client.POST("/api/sheets/{sheet_id}/photo", { params, body }));
      refitted = swapped.refitted;
      return swapped.record;
    });
    if (!done) return;
    const words =
      refitted.length > 0
        ? `Fitted to it: ${refitted.join("; ")}.`
        : "No dial stood at a suggested value, so every dial is as it was.";
    say(`The sheet is now drawn from “${other.title}”. ${words}`);
  }

  async function copy() {
    try {
      await lead(async () => {
        const body = { sheet: { ...sheet, title: `${sheet.title}, copy`.slice(0, 200) } };
        const record = await answered(client.POST("/api/sheets/copy", { body }));
        return `/sheets/${record.id}`;
      });
    } catch (error) {
      work.setTrouble((error as Error).message);
    }
  }

  /** An edition that is drawn by this sheet, its own photo first. */
  async function drawMany() {
    if (!(await work.flush())) return;
    try {
      await lead(async () => {
        const photos = sheet.picture?.photo ? [sheet.picture.photo] : [];
        const title = `${sheet.title}, many`.slice(0, 200);
        const record = await beginEdition({ photos, sheet: id, title });
        return `/editions/${record.id}`;
      });
    } catch (error) {
      work.setTrouble((error as Error).message);
    }
  }

  return { open, setOpen, pulls, keepPull, goBack, swapPhoto, copy, drawMany };
}

export type Keeping = ReturnType<typeof useKeeping>;
