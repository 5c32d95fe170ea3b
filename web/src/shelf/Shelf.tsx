import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Spinner } from "react-bootstrap";
import { useDropzone } from "react-dropzone";
import { Link } from "react-router";
import { useCatalogue, useEditions, usePhotos, useSheets } from "../api/queries";
import { beginEdition } from "../shared/beginEdition";
import { GoneWords } from "../shared/gone";
import { useRoving } from "../shared/roving";
import { useLeadingTo } from "../shared/useLeadingTo";
import { Trouble } from "../shared/Trouble";
import { type Order, editionsFound, photosFound, sheetsFound } from "./finding";
import { EditionList } from "./EditionList";
import { PhotoCard } from "./PhotoCard";
import { SheetCard } from "./SheetCard";
import { UnreadableList } from "./UnreadableList";
import { UploadList } from "../shared/UploadList";
import { useRemoval } from "./useRemoval";
import { useUploads } from "../shared/useUploads";

/** Where more than so many things lie, they are searched and ordered. */
const MANY = 10;

/** Photos, and beside them the sheets with their last picture. Photos and sheet files can be dropped anywhere. */
export function Shelf() {
  const queries = useQueryClient();
  const uploads = useUploads();
  const removal = useRemoval();
  const sheets = useSheets();
  const photos = usePhotos();
  const catalogue = useCatalogue().data;
  const drop = useDropzone({ onDrop: uploads.add, noClick: true, noKeyboard: true });
  const [typed, setTyped] = useState("");
  const editions = useEditions();
  const [chosen, setChosen] = useState<string[]>([]);
  const lead = useLeadingTo();
  const [order, setOrder] = useState<Order>("new");
  const photoList = useRoving<HTMLUListElement>();
  const sheetList = useRoving<HTMLUListElement>();

  const failed = sheets.error ?? photos.error;
  const everyPhoto = photos.data ?? [];
  const everySheet = sheets.data ?? [];
  const foundPhotos = photosFound(everyPhoto, typed, order);
  const foundEditions = editionsFound(editions.data ?? [], typed, order);
  const foundSheets = sheetsFound(everySheet, typed, order, catalogue);
  /** In the order of the shelf, whatever the order they were chosen in. */
  async function drawMany() {
    const photos = foundPhotos.map((photo) => photo.id).filter((id) => chosen.includes(id));
    try {
      await lead(async () => `/editions/${(await beginEdition({ photos })).id}`);
    } catch (error) {
      removal.say((error as Error).message);
    }
  }

  const pickFiles = (
    <Button variant="link" className="p-0 align-baseline" onClick={drop.open}>
      pick files
    </Button>
  );
  return (
    <div {...drop.getRootProps()} className={`shelf ${drop.isDragActive ? "shelf-drop" : ""}`}>
      <input {...drop.getInputProps()} aria-label="Photo and sheet files" />
      <header className="shelf-head" data-area="the bar">
        <h1 className="word-mark mb-0" tabIndex={-1} data-page-start>
          Fl<span>i</span>nz
        </h1>
        <p>Photographs become black-and-white artwork that prints.</p>
        {everyPhoto.length + everySheet.length > MANY && (
          <>
            <Form.Control
              type="search"
              size="sm"
              className="find-recipe"
              placeholder="Find a photo or sheet"
              aria-label="Find a photo or sheet"
              value={typed}
              onChange={(event) => setTyped(event.currentTarget.value)}
            />
            <Form.Select
              size="sm"
              className="shelf-order"
              aria-label="Order of photos and sheets"
              value={order}
              onChange={(event) => setOrder(event.currentTarget.value as Order)}
            >
              <option value="new">newest first</option>
              <option value="name">by name</option>
            </Form.Select>
          </>
        )}
        <Link to="/recipes" className="btn btn-plain btn-sm">
          Recipe book
        </Link>
        <Button size="sm" onClick={drop.open}>
          Bring in photos
        </Button>
      </header>
      <main>
        {failed && (
          <Trouble sentence={failed.message}>
            <Button variant="link" className="p-0" onClick={() => queries.invalidateQueries()}>
              Try again
            </Button>
          </Trouble>
        )}
        {removal.trouble && <Trouble sentence={removal.trouble} />}
        <UploadList uploads={uploads.list} onDismiss={uploads.dismiss} />
        <UnreadableList />
        {(sheets.isPending || photos.isPending) && !failed && (
          <div className="waiting">
            <Spinner size="sm" /> Opening the shelf…
          </div>
        )}
        <div className="shelf-both">
          {photos.data && (
            <section aria-labelledby="photos-title" data-area="the photos">
              <h2 id="photos-title">
                Photos <span className="soft">{everyPhoto.length || ""}</span>
              </h2>
              {everyPhoto.length === 0 && (
                <p className="shelf-empty">
                  No photos yet. Drop some anywhere on this page, or {pickFiles}: JPEG, HEIC, AVIF,
                  PNG, TIFF or WebP, of any size up to 150 million pixels. Sheet files (.flinz) too.
                </p>
              )}
              {everyPhoto.length > 0 && foundPhotos.length === 0 && (
                <p className="shelf-empty">No photo has these words.</p>
              )}
              <ul className="shelf-photos" {...photoList}>
                {removal.photos.among(foundPhotos).map(({ item: photo, isGone }) =>
                  isGone ? (
                    <li key={photo.id}>
                      <GoneWords
                        title={photo.title}
                        words="was taken off the shelf."
                        onBack={() => void removal.putPhotoBack(photo)}
                      />
                    </li>
                  ) : (
                    <PhotoCard
                      key={photo.id}
                      photo={photo}
                      isChosen={chosen.includes(photo.id)}
                      onChosen={(isChosen) =>
                        setChosen((now) =>
                          isChosen ? [...now, photo.id] : now.filter((each) => each !== photo.id),
                        )
                      }
                      onRemove={() => void removal.removePhoto(photo, foundPhotos)}
                    />
                  ),
                )}
              </ul>
            </section>
          )}
          {sheets.data && (
            <div>
              {foundEditions.length > 0 && (
                <EditionList
                  editions={foundEditions}
                  onRemove={(edition) => void removal.removeEdition(edition)}
                />
              )}
              {removal.goneEdition && (
                <GoneWords
                  title={removal.goneEdition.title}
                  words="was taken off the shelf, and its files away."
                  onBack={() => void removal.putEditionBack(removal.goneEdition!)}
                />
              )}
              <section aria-labelledby="sheets-title" data-area="the sheets">
                <h2 id="sheets-title">
                  Sheets <span className="soft">{everySheet.length || ""}</span>
                </h2>
                {everySheet.length === 0 && photos.data && (
                  <p className="shelf-empty">
                    {everyPhoto.length === 0
                      ? "Here your drawings will lie, each with its last picture."
                      : "No sheets yet. Press a photo: every recipe is drawn on it, and the one you choose becomes a sheet."}
                  </p>
                )}
                {everySheet.length > 0 && foundSheets.length === 0 && (
                  <p className="shelf-empty">No sheet has these words.</p>
                )}
                <ul className="shelf-sheets" {...sheetList}>
                  {removal.sheets.among(foundSheets).map(({ item: record, isGone }) =>
                    isGone ? (
                      <li key={record.id}>
                        <GoneWords
                          title={record.sheet.title}
                          words="was taken off the shelf."
                          onBack={() => void removal.putSheetBack(record)}
                        />
                      </li>
                    ) : (
                      <SheetCard
                        key={record.id}
                        record={record}
                        catalogue={catalogue}
                        onRemove={() => void removal.removeSheet(record, foundSheets)}
                      />
                    ),
                  )}
                </ul>
              </section>
            </div>
          )}
        </div>
      </main>
      {chosen.length > 0 && (
        <div className="shelf-chosen" role="region" aria-label="Chosen photos">
          <span role="status">
            {chosen.length === 1 ? "1 photo" : `${chosen.length} photos`} chosen
          </span>
          <Button size="sm" onClick={() => void drawMany()}>
            Begin an edition
          </Button>
          <Button
            size="sm"
            variant="plain"
            onClick={() => setChosen(foundPhotos.map((photo) => photo.id))}
          >
            Choose all {foundPhotos.length}
          </Button>
          <Button size="sm" variant="plain" onClick={() => setChosen([])}>
            Choose none
          </Button>
        </div>
      )}
      {drop.isDragActive && <div className="shelf-veil">Let go to bring these in</div>}
    </div>
  );
}
