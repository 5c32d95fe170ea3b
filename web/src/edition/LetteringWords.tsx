import { Button, Form } from "react-bootstrap";
import { type EditionRecord, readTable } from "../api/client";
import { FileButton } from "../shared/FileButton";
import { useTyped } from "../shared/useTyped";
import type { EditionWork } from "./useEdition";

interface LetteringWordsProps {
  record: EditionRecord;
  work: EditionWork;
}

/** What each plate of lettering says: as it stands, or words of the photo. */
export function LetteringWords({ record, work }: LetteringWordsProps) {
  const { edition } = record;
  const table = edition.table ?? null;

  async function bringTable([file]: File[]) {
    if (!file) return;
    try {
      const read = await readTable(file);
      await work.change(() => ({ table: read }), `Table: ${file.name}`.slice(0, 200));
    } catch (error) {
      work.say((error as Error).message);
    }
  }

  return (
    <section aria-label="Words">
      <h2>Words</h2>
      {record.lettering.map((each) => (
        <PlateWords
          key={each.plate}
          label={each.name}
          asItStands={each.words}
          template={edition.words[each.plate]}
          fields={record.fields}
          onChange={(template) =>
            void work.change(
              (now) => {
                const words = { ...now.words };
                if (template === null) delete words[each.plate];
                else words[each.plate] = template;
                return { words };
              },
              `${each.name} says ${template ?? "what it said"}`.slice(0, 200),
            )
          }
        />
      ))}
      <div className="edition-table">
        <FileButton
          size="sm"
          variant="plain"
          accept=".csv,.tsv,.txt,text/csv"
          files="Table of words"
          onFiles={(files) => void bringTable(files)}
        >
          {table ? "Another table…" : "Words from a table (CSV)…"}
        </FileButton>
        {table && (
          <>
            <span className="soft">
              {table.lines.length} lines: {table.columns.slice(1).join(", ")}
            </span>
            <Button
              size="sm"
              variant="link"
              onClick={() => void work.change(() => ({ table: null }), "No table")}
            >
              without it
            </Button>
          </>
        )}
      </div>
    </section>
  );
}

interface PlateWordsProps {
  label: string;
  asItStands: string;
  template: string | undefined;
  fields: string[];
  onChange: (template: string | null) => void;
}

function PlateWords({ label, asItStands, template, fields, onChange }: PlateWordsProps) {
  const typed = useTyped(template ?? "", (text) => onChange(text));
  const only = fields.find((field) => template === `{${field}}`);
  const way = template === undefined ? "stands" : (only ?? "typed");
  return (
    <div className="edition-words">
      <Form.Select
        size="sm"
        aria-label={`${label} says`}
        value={way}
        onChange={(event) => {
          const next = event.currentTarget.value;
          if (next === "stands") onChange(null);
          else onChange(next === "typed" ? (template ?? asItStands) + " " : `{${next}}`);
        }}
      >
        <option value="stands">{asItStands.split("\n")[0]} (as it stands)</option>
        {fields.map((field) => (
          <option key={field} value={field}>
            the photo’s {field}
          </option>
        ))}
        <option value="typed">words with fields in braces…</option>
      </Form.Select>
      {way === "typed" && (
        <Form.Control
          size="sm"
          aria-label={`Words of ${label}`}
          placeholder="{title}, No. {number}"
          maxLength={2000}
          {...typed}
        />
      )}
    </div>
  );
}
