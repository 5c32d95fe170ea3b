import { answered, client, type EditionRecord } from "../api/client";

/** Begin an edition of photos, or of a finished sheet that photos are put under. */
export function beginEdition(of: { photos?: string[]; sheet?: number; title?: string }) {
  const body = {
    photos: of.photos ?? [],
    recipe: "pencil",
    sheet: of.sheet ?? 0,
    title: of.title ?? "",
  };
  return answered(client.POST("/api/editions", { body })) as Promise<EditionRecord>;
}
