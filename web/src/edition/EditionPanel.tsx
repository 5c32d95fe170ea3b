import { Button, Form, ProgressBar } from "react-bootstrap";
import type { EditionRecord, Running, Wish } from "../api/client";
import { useCatalogue } from "../api/queries";
import { FileChoices } from "../shared/FileChoices";
import { FormatSelect } from "../shared/FormatSelect";
import { useTyped } from "../shared/useTyped";
import { wishOf } from "../shared/wishOf";
import { LetteringWords } from "./LetteringWords";
import type { EditionWork } from "./useEdition";
import { counted, drawWords, shareDone, timeLeft } from "./words";

interface EditionPanelProps {
  record: EditionRecord;
  work: EditionWork;
  run: Running;
  onStart: () => void;
  onStop: () => void;
  onChooseBy: () => void;
}

/** What the photos are drawn by, what lettering says, and the files. */
export function EditionPanel({
  record,
  work,
  run,
  onStart,
  onStop,
  onChooseBy,
}: EditionPanelProps) {
  const { edition } = record;
  const formats = useCatalogue().data?.formats ?? [];
  const wanted = edition.wish as unknown as Wish;
  const has = new Set(formats.find((each) => each.name === wanted.format)?.wishes);
  const wish = (next: Wish, words: string) =>
    void work.change(
      () => ({ wish: next as unknown as typeof edition.wish }),
      words,
      `file ${words}`,
    );

  function become(name: string) {
    const format = formats.find((each) => each.name === name);
    if (!format) return;
    wish(wishOf(format, wanted), `Format: ${format.label}`);
  }

  return (
    <aside
      className="side-panel edition-panel"
      aria-label="How they are drawn"
      data-area="the files"
    >
      <h2>Drawn by</h2>
      <div className="edition-by">
        <strong>{record.by.replaceAll("-", " ") || "nothing"}</strong>
        <span className="soft">{edition.sheet ? " (a sheet)" : " (a recipe)"}</span>
        <Button size="sm" variant="plain" onClick={onChooseBy}>
          Another…
        </Button>
      </div>
      {edition.sheet ? (
        <Form.Check
          id="edition-matched"
          className="mb-2"
          label="Match tones to each photo"
          checked={edition.tones !== "numbers"}
          onChange={(event) => {
            const tones = event.currentTarget.checked ? "matched" : "numbers";
            void work.change(() => ({ tones }), `Tones: ${tones}`);
          }}
        />
      ) : null}
      {record.lettering.length > 0 && <LetteringWords record={record} work={work} />}
      <h2>Files</h2>
      <Form.Group controlId="edition-format" className="mb-2">
        <Form.Label>Format</Form.Label>
        <FormatSelect formats={formats} value={wanted.format} onChoose={become} />
      </Form.Group>
      <FileChoices
        wanted={wanted}
        has={has}
        onChange={(change) =>
          wish({ ...wanted, ...change }, `File: ${Object.keys(change).join(", ")}`)
        }
      />
      <NamesField record={record} work={work} />
      <RunBox record={record} run={run} onStart={onStart} onStop={onStop} />
    </aside>
  );
}

function NamesField({ record, work }: { record: EditionRecord; work: EditionWork }) {
  const typed = useTyped(record.edition.names, (text) => {
    const names = text.trim();
    if (names && names !== record.edition.names) {
      void work.change(() => ({ names }), `Names: ${names}`.slice(0, 200));
    }
  });
  const first = record.entries.filter((entry) => entry.name).slice(0, 2);
  return (
    <Form.Group controlId="edition-names" className="mb-3">
      <Form.Label>Names</Form.Label>
      <Form.Control size="sm" maxLength={200} {...typed} />
      <Form.Text>
        {first.map((entry) => (
          <span key={entry.id} className="edition-name">
            {entry.name}
          </span>
        ))}
        There are {record.fields.map((field) => `{${field}}`).join(", ")}.
      </Form.Text>
    </Form.Group>
  );
}

interface RunBoxProps {
  record: EditionRecord;
  run: Running;
  onStart: () => void;
  onStop: () => void;
}

/** Draws the files, says how far that is, and hands them out. */
function RunBox({ record, run, onStart, onStop }: RunBoxProps) {
  const count = counted(record.entries);
  const address = `/api/editions/${record.id}`;
  return (
    <div
      className="edition-run"
      data-testid="edition-run"
      data-done={count.done}
      data-all={count.all}
    >
      {run.is_running ? (
        <>
          <p role="status">
            {run.is_waiting
              ? "Waits for its turn."
              : `${run.ended} of ${run.total} drawn${
                  run.seconds_left != null ? `, ${timeLeft(run.seconds_left)}` : ""
                }.`}
          </p>
          <div className="print-work">
            <ProgressBar now={shareDone(run) * 100} aria-label="Files being drawn" />
            <Button variant="plain" size="sm" onClick={onStop}>
              Stop
            </Button>
          </div>
        </>
      ) : (
        <Button onClick={onStart} disabled={count.left === 0}>
          {drawWords(count)}
        </Button>
      )}
      {count.done > 0 && (
        <a className="btn btn-plain" href={`${address}/zip`} download>
          Download {count.done === count.all ? "all" : count.done} as ZIP
        </a>
      )}
      {count.all > 0 && (
        <a className="btn btn-plain" href={`${address}/contact`} download>
          Contact print for the wall
        </a>
      )}
    </div>
  );
}
