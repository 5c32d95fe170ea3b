import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { RecipeRecord } from "../api/client";
import { RecipeWords, type Words } from "../shared/RecipeWords";
import { DrawnImage } from "../shared/DrawnImage";

interface RecipeCardProps {
  record: RecipeRecord;
  label: string;
  photo: string;
  onChange: (words: Words) => void;
  /** Begin a sheet of the chosen photo with it. */
  onDraw: () => void;
  onDuplicate: () => void;
  onRemove: () => void;
}

/** One recipe of the book. Own ones can be renamed, noted on and deleted. */
export function RecipeCard(props: RecipeCardProps) {
  const { record, label, photo } = props;
  const { name, purpose, notes, plates } = record.recipe;
  const [words, setWords] = useState<Words | null>(null);
  const looks = plates.map((plate) => plate.draw.look.replaceAll("-", " ")).join(" over ");
  const tones =
    record.recipe.tones === "matched" ? "Its tones follow the photo." : "Its tones are numbers.";
  return (
    <li className="book-card" aria-label={label}>
      {photo && (
        <button type="button" className="picture-button" onClick={props.onDraw}>
          <DrawnImage
            src={`/api/recipes/${record.ref}/picture?photo=${photo}&long_edge_px=320`}
            alt={`${label} on the chosen photo`}
          />
          <span className="picture-action">Draw this photo with it</span>
        </button>
      )}
      {words ? (
        <Form
          className="book-form"
          onSubmit={(event) => {
            event.preventDefault();
            props.onChange(words);
            setWords(null);
          }}
        >
          <RecipeWords words={words} size="sm" onChange={setWords} />
          <div className="book-acts">
            <Button type="submit" size="sm">
              Keep these words
            </Button>
            <Button variant="plain" size="sm" onClick={() => setWords(null)}>
              Leave as it was
            </Button>
          </div>
        </Form>
      ) : (
        <>
          <h3>{label}</h3>
          <p>{purpose}</p>
          {notes && <p className="book-notes">{notes}</p>}
          <p className="soft">
            {plates.length === 1 ? "One plate" : `${plates.length} plates`}: {looks}. {tones}
          </p>
          <div className="book-acts">
            {record.own && (
              <Button variant="link" onClick={() => setWords({ name, purpose, notes })}>
                rename, notes
              </Button>
            )}
            <Button variant="link" aria-label={`duplicate ${label}`} onClick={props.onDuplicate}>
              duplicate
            </Button>
            <a href={`/api/recipes/${record.ref}/file`} download aria-label={`export ${label}`}>
              export
            </a>
            {record.own && (
              <Button
                variant="link"
                className="card-remove"
                aria-label={`delete ${label}`}
                onClick={props.onRemove}
              >
                delete
              </Button>
            )}
          </div>
        </>
      )}
    </li>
  );
}
