import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useQueryClient } from "@tanstack/react-query";
import {
  addFont,
  type Catalogue,
  type Lying,
  type Plate,
  readMark,
  type Sheet,
} from "../../api/client";
import { FONTS, useFonts } from "../../api/queries";
import { FileButton } from "../../shared/FileButton";
import { newGesture } from "../../shared/gesture";
import { plateLabel, withCopy, withPlate } from "../../sheet/plates";
import { madeOf, withMade, withPosition, withSource } from "../../sheet/sources";
import { ChoosePhoto } from "./ChoosePhoto";
import { LaidNumbers } from "./LaidNumbers";
import { MarkPad } from "./MarkPad";
import { Pens } from "./Pens";
import { WordsField } from "./WordsField";

interface SourceFaceProps {
  catalogue: Catalogue;
  sheetId: number;
  sheet: Sheet;
  plate: Plate;
  lying: Lying | undefined;
  asDrawn: boolean;
  onAsDrawn: (asDrawn: boolean) => void;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  onChoosePlate: (plate: string) => void;
  onFlush: () => Promise<boolean>;
  onTrouble: (sentence: string) => void;
}

/** How far another like this lies beside it, mm. */
const BESIDE_MM = 12;

/** What a plate is drawn from, where that is not the sheet's photo: its words, font, mark, photo. */
export function SourceFace(props: SourceFaceProps) {
  const { catalogue, sheet, plate, lying, onChange } = props;
  const { source } = plate;
  const [isChoosing, setChoosing] = useState(false);
  const isFull = sheet.plates.length >= catalogue.limits.plates;

  function take(made: Record<string, unknown>, words: string, gesture = newGesture()) {
    onChange(withSource(sheet, plate.id, withMade(source, made)), words, gesture);
  }

  function another(words: string, isMoved: boolean) {
    const copied = withCopy(sheet, plate.id);
    const copy = copied.sheet.plates.find((each) => each.id === copied.chosen)!;
    const moved =
      isMoved && lying
        ? withPosition(copied.sheet, copy, {
            x: Number((lying.x + BESIDE_MM).toFixed(2)),
            y: Number((lying.y + BESIDE_MM).toFixed(2)),
          })
        : copied.sheet;
    onChange(moved, `Plates: ${words} ${plateLabel(sheet, plate.id)}`, newGesture());
    props.onChoosePlate(copied.chosen);
  }

  return (
    <div className="source-face">
      {source.kind === "lettering" && (
        <>
          <WordsField sheet={sheet} plate={plate} label="Words" rows={3} onChange={onChange} />
          {lying && lying.missing && lying.missing.length > 0 && (
            <p className="soft" role="status">
              This face has no {lying.missing.map((each) => `“${each}”`).join(", ")}; nothing is set
              there. Choose another face.
            </p>
          )}
          <OwnFont
            chosen={source.lettering.own}
            onChoose={(own, name) => take({ own }, own ? `Words: set in ${name}` : "Words: face")}
            onTrouble={props.onTrouble}
          />
        </>
      )}
      {source.kind === "lines" && (
        <Pens
          sheetId={props.sheetId}
          sheet={sheet}
          plate={plate}
          source={source}
          onTake={(pen, name) => {
            const taken = { ...source, pen: name, lines: { ...source.lines, ...pen } };
            const words = name ? `Lines: drawn by ${name}` : "Lines: a pen of their own";
            onChange(withSource(sheet, plate.id, taken), words, newGesture());
          }}
          onFlush={props.onFlush}
          onTrouble={props.onTrouble}
        />
      )}
      {source.kind === "lines" && source.lines.nib === "marks" && (
        <OwnMark
          onTake={(mark_path) => take({ mark_path, mark: "own" }, "Lines: a mark of your own")}
          onTrouble={props.onTrouble}
        />
      )}
      {source.kind === "photo" && (
        <Button size="sm" variant="plain" onClick={() => setChoosing(true)}>
          {source.picture.photo ? "Another photo here…" : "Choose the photo…"}
        </Button>
      )}
      {source.kind === "sheet" && (
        <Form.Check
          type="switch"
          id="sheet-live"
          label="Live: follows that sheet; off, it stays as it was"
          checked={source.live}
          onChange={(event) => {
            const live = event.currentTarget.checked;
            const words = live ? "Sheet within: live" : "Sheet within: as it was";
            onChange(withSource(sheet, plate.id, { ...source, live }), words, newGesture());
          }}
        />
      )}
      {lying && <LaidNumbers {...props} lying={lying} />}
      {source.kind !== "beneath" && source.kind !== "copier" && (
        <p className="source-acts">
          <Button
            size="sm"
            variant="plain"
            disabled={isFull || !lying}
            onClick={() => another("another like", true)}
          >
            Another like this
          </Button>
          {source.kind === "lettering" && (
            <Button
              size="sm"
              variant="plain"
              disabled={isFull}
              title="A second plate that goes through the same stages; its words are yours to change"
              onClick={() => another("same settings as", true)}
            >
              Same settings, other words
            </Button>
          )}
        </p>
      )}
      <ChoosePhoto
        show={isChoosing}
        onLeave={() => setChoosing(false)}
        onChoose={(photo) => {
          setChoosing(false);
          if (source.kind !== "photo") return;
          const picture = { ...source.picture, photo: photo.id };
          const name = plate.name === "Second photo" ? photo.title : plate.name;
          const changed = withSource(sheet, plate.id, { ...source, picture });
          onChange(
            withPlate(changed, plate.id, (each) => ({ ...each, name })),
            `Photo of a plate: ${photo.title}`,
            newGesture(),
          );
        }}
      />
      {madeOf(source) === null && source.kind === "beneath" && (
        <p className="soft">
          It draws what all plates before it print. With <em>Covers</em> it takes their place.
        </p>
      )}
    </div>
  );
}

interface OwnFontProps {
  chosen: string;
  onChoose: (id: string, name: string) => void;
  onTrouble: (sentence: string) => void;
}

/** A font of one's own in place of a face that ships. */
function OwnFont({ chosen, onChoose, onTrouble }: OwnFontProps) {
  const fonts = useFonts();
  const queries = useQueryClient();

  async function bring(picked: File) {
    try {
      const font = await addFont(picked);
      await queries.invalidateQueries({ queryKey: FONTS });
      onChoose(font.id, font.name);
    } catch (error) {
      onTrouble((error as Error).message);
    }
  }

  return (
    <div className="source-own">
      {fonts.data && fonts.data.length > 0 && (
        <Form.Select
          size="sm"
          aria-label="A font of your own"
          value={chosen}
          onChange={(event) => {
            const font = fonts.data.find((each) => each.id === event.currentTarget.value);
            onChoose(font?.id ?? "", font?.name ?? "");
          }}
        >
          <option value="">A face from below</option>
          {fonts.data.map((font) => (
            <option key={font.id} value={font.id}>
              {font.name}
            </option>
          ))}
        </Form.Select>
      )}
      <FileButton
        size="sm"
        variant="plain"
        accept=".ttf,.otf,.woff2"
        files="Font file"
        onFiles={([picked]) => void bring(picked!)}
      >
        Bring a font…
      </FileButton>
    </div>
  );
}

interface OwnMarkProps {
  onTake: (path: string) => void;
  onTrouble: (sentence: string) => void;
}

/** A mark of one's own, drawn on a pad or from the paths of an SVG file. */
function OwnMark({ onTake, onTrouble }: OwnMarkProps) {
  const [isDrawing, setDrawing] = useState(false);

  async function read(picked: File) {
    try {
      onTake((await readMark(picked)).path);
    } catch (error) {
      onTrouble((error as Error).message);
    }
  }

  return (
    <div className="source-mark">
      <Button size="sm" variant="plain" onClick={() => setDrawing(true)}>
        Draw a mark…
      </Button>
      <FileButton
        size="sm"
        variant="plain"
        accept=".svg,image/svg+xml"
        files="SVG file of a mark"
        onFiles={([picked]) => void read(picked!)}
      >
        From an SVG file…
      </FileButton>
      <MarkPad
        show={isDrawing}
        onLeave={() => setDrawing(false)}
        onTake={(path) => {
          setDrawing(false);
          onTake(path);
        }}
      />
    </div>
  );
}
