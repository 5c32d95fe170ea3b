import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
  answered,
  client,
  type EditionCard,
  type PhotoRecord,
  type SheetRecord,
} from "../api/client";
import { useGone } from "../shared/gone";

/** Takes things off the shelf, and puts them back where they were. */
export function useRemoval() {
  const queries = useQueryClient();
  const photos = useGone<PhotoRecord>((photo) => photo.id);
  const sheets = useGone<SheetRecord>((record) => record.id);
  const [goneEdition, setGoneEdition] = useState<EditionCard | null>(null);
  const [trouble, setTrouble] = useState("");

  async function act(work: Promise<unknown>, then: () => void) {
    try {
      await work;
      setTrouble("");
      then();
    } catch (error) {
      setTrouble((error as Error).message);
    }
    await queries.invalidateQueries();
  }

  const ofPhoto = (photo: PhotoRecord) => ({ params: { path: { photo_id: photo.id } } });
  const ofSheet = (record: SheetRecord) => ({ params: { path: { sheet_id: record.id } } });

  const ofEdition = (edition: EditionCard) => ({ params: { path: { edition_id: edition.id } } });

  return {
    photos,
    sheets,
    goneEdition,
    trouble,
    say: setTrouble,
    removeEdition: (edition: EditionCard) =>
      act(answered(client.DELETE("/api/editions/{edition_id}", ofEdition(edition))), () =>
        setGoneEdition(edition),
      ),
    putEditionBack: (edition: EditionCard) =>
      act(answered(client.POST("/api/editions/{edition_id}/restore", ofEdition(edition))), () =>
        setGoneEdition(null),
      ),
    removePhoto: (photo: PhotoRecord, list: PhotoRecord[]) =>
      act(answered(client.DELETE("/api/photos/{photo_id}", ofPhoto(photo))), () =>
        photos.took(photo, list),
      ),
    putPhotoBack: (photo: PhotoRecord) =>
      act(answered(client.POST("/api/photos/{photo_id}/restore", ofPhoto(photo))), () =>
        photos.back(photo),
      ),
    removeSheet: (record: SheetRecord, list: SheetRecord[]) =>
      act(answered(client.DELETE("/api/sheets/{sheet_id}", ofSheet(record))), () =>
        sheets.took(record, list),
      ),
    putSheetBack: (record: SheetRecord) =>
      act(answered(client.POST("/api/sheets/{sheet_id}/restore", ofSheet(record))), () =>
        sheets.back(record),
      ),
  };
}
