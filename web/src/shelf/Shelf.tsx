import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Spinner } from "react-bootstrap";
import { useDropzone } from "react-dropzone";
import { Link } from "react-router";
import { answered, client } from "../api/client";
import { SHEETS, useCatalogue, usePhotos } from "../api/queries";
import { Trouble } from "../shared/Trouble";
import { PhotoCard } from "./PhotoCard";
import { SheetCard } from "./SheetCard";
import { UnreadableList } from "./UnreadableList";
import { UploadList } from "./UploadList";
import { useUploads } from "./useUploads";
import { useRemoval } from "./useRemoval";

/** Sheets with their last picture, and photos. Photos and sheet files can be dropped anywhere. */
export function Shelf() {
  const queries = useQueryClient();
  const uploads = useUploads();
  const removal = useRemoval();
  const sheets = useQuery({
    queryKey: SHEETS,
    queryFn: () => answered(client.GET("/api/sheets")),
  });
  const photos = usePhotos();
  useCatalogue();
  const drop = useDropzone({ onDrop: uploads.add, noClick: true, noKeyboard: true });

  const failed = sheets.error ?? photos.error;
  return (
    <div {...drop.getRootProps()} className={`shelf ${drop.isDragActive ? "shelf-drop" : ""}`}>
      <input {...drop.getInputProps()} aria-label="Photo and sheet files" />
      <header className="shelf-head">
        <h1 className="word-mark mb-0">
          Fl<span>i</span>nz
        </h1>
        <p>Photographs become black-and-white artwork that prints.</p>
        <Link to="/recipes" className="btn btn-plain">
          Recipe book
        </Link>
        <Button onClick={drop.open}>Bring in photos</Button>
      </header>
      <main>
        {failed && (
          <Trouble sentence={failed.message}>
            <Button variant="link" className="p-0" onClick={() => queries.invalidateQueries()}>
              Try again
            </Button>
          </Trouble>
        )}
        <UploadList uploads={uploads.list} onDismiss={uploads.dismiss} />
        <UnreadableList />
        {removal.last && (
          <p className="shelf-undo" role="status">
            “{removal.last.title}” was taken off the shelf.{" "}
            <Button variant="link" className="p-0" onClick={removal.undo}>
              Put it back
            </Button>
          </p>
        )}
        {(sheets.isPending || photos.isPending) && (
          <div className="waiting">
            <Spinner size="sm" /> Opening the shelf…
          </div>
        )}
        {sheets.data && sheets.data.length > 0 && (
          <section aria-labelledby="sheets-title">
            <h2 id="sheets-title">Sheets</h2>
            <ul className="shelf-sheets">
              {sheets.data.map((record) => (
                <SheetCard
                  key={record.id}
                  record={record}
                  onRemove={() => removal.remove("sheet", String(record.id), record.sheet.title)}
                />
              ))}
            </ul>
          </section>
        )}
        {photos.data && (
          <section aria-labelledby="photos-title">
            <h2 id="photos-title">Photos</h2>
            {photos.data.length === 0 && (
              <p className="shelf-empty">
                No photos yet. Drop some anywhere on this page, or{" "}
                <Button variant="link" className="p-0 align-baseline" onClick={drop.open}>
                  pick files
                </Button>
                : JPEG, PNG, TIFF or WebP, of any size up to 150 million pixels. Sheet files
                (.flinz) too.
              </p>
            )}
            <ul className="shelf-photos">
              {photos.data.map((photo) => (
                <PhotoCard
                  key={photo.id}
                  photo={photo}
                  onRemove={() => removal.remove("photo", photo.id, photo.title)}
                />
              ))}
            </ul>
          </section>
        )}
      </main>
      {drop.isDragActive && <div className="shelf-veil">Let go to bring these in</div>}
    </div>
  );
}
