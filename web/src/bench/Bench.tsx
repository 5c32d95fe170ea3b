import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Spinner } from "react-bootstrap";
import { answered, client, type PhotoRecord, type SheetRecord } from "../api/client";
import { PHOTOS, SHEETS, useCatalogue } from "../api/queries";
import { lastPicture } from "../sheet/lastPicture";
import { NotOpened } from "../shared/NotOpened";
import { ReadyBench } from "./ReadyBench";
import { useSheet } from "../sheet/useSheet";

/** The work: the run of stages, the chosen one's dials, and the sheet. */
export function Bench({ id }: { id: number }) {
  const queries = useQueryClient();
  // The shelf has the sheet and its last picture already, as a rule.
  const [known] = useState(() =>
    queries.getQueryData<SheetRecord[]>(SHEETS)?.find((each) => each.id === id),
  );
  const work = useSheet(id, known);
  const { content } = work;
  const sheet = content.state === "ready" ? content.sheet : null;
  const photo = useQuery({
    queryKey: ["photo", sheet?.picture.photo],
    queryFn: () =>
      answered(
        client.GET("/api/photos/{photo_id}", {
          params: { path: { photo_id: sheet!.picture.photo } },
        }),
      ),
    enabled: sheet !== null,
    staleTime: Infinity,
    // The shelf has it already, as a rule.
    initialData: () =>
      queries.getQueryData<PhotoRecord[]>(PHOTOS)?.find((each) => each.id === sheet?.picture.photo),
    // While another photo is put under the sheet the bench stays as it is.
    placeholderData: keepPreviousData,
  });
  const catalogue = useCatalogue();
  const failed = content.state === "failed" ? content.sentence : "";
  const sentence = failed || photo.error?.message || catalogue.error?.message;
  if (sentence) return <NotOpened sentence={sentence} />;
  if (!sheet || !photo.data || !catalogue.data) {
    return (
      <main className="waiting">
        <Spinner size="sm" /> Laying out the sheet…
      </main>
    );
  }
  return (
    <ReadyBench
      id={id}
      work={work}
      sheet={sheet}
      photo={photo.data}
      catalogue={catalogue.data}
      lastPicture={known && lastPicture(known)}
    />
  );
}
