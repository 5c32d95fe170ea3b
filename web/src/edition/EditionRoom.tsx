import { useState } from "react";
import { Button, ButtonGroup, Spinner } from "react-bootstrap";
import { useDropzone } from "react-dropzone";
import type { Edition, EntryRecord } from "../api/client";
import { useKey } from "../shared/keys";
import { NotOpened } from "../shared/NotOpened";
import { StaleWays } from "../shared/StaleWays";
import { TitleField } from "../shared/TitleField";
import { Trouble } from "../shared/Trouble";
import { UndoButtons } from "../shared/UndoButtons";
import { UploadList } from "../shared/UploadList";
import { useLeadingTo } from "../shared/useLeadingTo";
import { useUploads } from "../shared/useUploads";
import { WordMark } from "../shared/WordMark";
import { ChooseBy } from "./ChooseBy";
import { ChoosePhotos } from "./ChoosePhotos";
import { EditionPanel } from "./EditionPanel";
import { EntryCards } from "./EntryCards";
import { useEdition } from "./useEdition";
import { useRun } from "./useRun";
import { counted } from "./words";

/** Many photos drawn alike: looked at first, then made into files. */
export function EditionRoom({ id }: { id: number }) {
  const work = useEdition(id);
  const { record } = work;
  const running = useRun(
    id,
    record?.is_running ?? false,
    record ? counted(record.entries).left > 0 : false,
    work.say,
  );
  const uploads = useUploads();
  const lead = useLeadingTo();
  const [dialog, setDialog] = useState<"by" | "photos" | null>(null);
  useKey("undo", () => void work.undo());
  useKey("redo", () => void work.redo());

  /** Photos that are not in it yet come last. */
  function bringIn(photos: string[]) {
    const count = photos.length === 1 ? "a photo" : `${photos.length} photos`;
    return work.change((now) => ({ entries: withPhotos(now, photos) }), `Bring in ${count}`);
  }

  /** Change what the edition says of one photo. */
  function turn(entry: EntryRecord, change: Partial<Edition["entries"][number]>, words: string) {
    void work.change(
      (now) => ({
        entries: now.entries.map((each) => (each.id === entry.id ? { ...each, ...change } : each)),
      }),
      words,
    );
  }

  async function dropped(files: File[]) {
    const photos = await uploads.add(files);
    if (photos.length > 0) await bringIn(photos);
  }

  const drop = useDropzone({
    onDrop: (files) => void dropped(files),
    noClick: true,
    noKeyboard: true,
  });

  if (work.failed) return <NotOpened sentence={work.failed} />;
  if (!record) {
    return (
      <main className="waiting">
        <Spinner size="sm" /> Opening the edition…
      </main>
    );
  }
  const present = new Set(record.edition.entries.map((entry) => entry.photo));

  return (
    <div {...drop.getRootProps()} className="edition-room">
      <input {...drop.getInputProps()} aria-label="Photo files for the edition" />
      <header className="top-bar" data-area="the bar">
        <WordMark />
        <h1 tabIndex={-1} data-page-start>
          Edition
        </h1>
        <TitleField
          of="edition"
          title={record.edition.title}
          onTitle={(title) => void work.change(() => ({ title }), `Title: ${title}`)}
        />
        <span className="top-gap" />
        <ButtonGroup size="sm">
          <UndoButtons
            undo={record.undo}
            redo={record.redo}
            onUndo={() => void work.undo()}
            onRedo={() => void work.redo()}
          />
        </ButtonGroup>
        <Button size="sm" variant="plain" onClick={() => setDialog("photos")}>
          Photos from the shelf
        </Button>
        <Button size="sm" variant="plain" onClick={drop.open}>
          Bring in photos
        </Button>
      </header>
      <main className="edition-main" data-area="the photos">
        {work.trouble && (
          <Trouble sentence={work.trouble}>
            {work.isStale && <StaleWays onLoad={() => void work.reload()} />}
          </Trouble>
        )}
        <UploadList uploads={uploads.list} onDismiss={uploads.dismiss} />
        {record.notes.map((note) => (
          <Trouble key={note} sentence={note} />
        ))}
        {record.entries.length === 0 ? (
          <div className="edition-empty">
            <h2>No photos yet</h2>
            <p>
              Drop files or a whole folder anywhere here, or choose from the shelf. Each is shown as
              it will be, before anything is made.
            </p>
            <Button onClick={() => setDialog("photos")}>Photos from the shelf</Button>
          </div>
        ) : (
          <EntryCards
            record={record}
            run={running.run}
            onLeaveOut={(entry, left_out) =>
              turn(entry, { left_out }, `${left_out ? "Leave out" : "Take in"} ${entry.title}`)
            }
            onAdjust={(entry) =>
              void lead(async () => {
                const sheet = await work.adjust(entry.id);
                return sheet ? `/sheets/${sheet}` : null;
              })
            }
            onAsOthers={(entry) => turn(entry, { sheet: 0 }, `${entry.title} as the others`)}
            onAgain={(entry) => void running.start([entry.id])}
          />
        )}
      </main>
      <EditionPanel
        record={record}
        work={work}
        run={running.run}
        onStart={() => void running.start()}
        onStop={running.stop}
        onChooseBy={() => setDialog("by")}
      />
      <ChooseBy
        show={dialog === "by"}
        photo={record.edition.entries.find((entry) => !entry.left_out)?.photo ?? ""}
        onLeave={() => setDialog(null)}
        onChoose={(by, words) => {
          setDialog(null);
          void work.change(() => by, `Drawn by ${words}`);
        }}
      />
      <ChoosePhotos
        show={dialog === "photos"}
        present={present}
        onLeave={() => setDialog(null)}
        onChoose={(photos) => {
          setDialog(null);
          void bringIn(photos);
        }}
      />
      {drop.isDragActive && <div className="shelf-veil">Let go to bring these in</div>}
    </div>
  );
}

/** The entries of an edition with photos added that are not among them. */
function withPhotos(edition: Edition, photos: string[]): Edition["entries"] {
  const entries = edition.entries;
  const present = new Set(entries.map((entry) => entry.photo));
  const fresh = [...new Set(photos)].filter((photo) => !present.has(photo));
  // A number that was used once names another photo's file.
  const last = Math.max(0, ...entries.map((entry) => entry.id));
  return [
    ...entries,
    ...fresh.map((photo, k) => ({ id: last + 1 + k, photo, left_out: false, sheet: 0 })),
  ];
}
