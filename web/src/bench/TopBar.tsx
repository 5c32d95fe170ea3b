import { useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { Link } from "react-router";
import type { Saving } from "./useSheet";

interface TopBarProps {
  title: string;
  saving: Saving;
  undo: string | null;
  redo: string | null;
  shown: "sheet" | "stage";
  stageTitle: string;
  photoHeld: boolean;
  zoomWords: string;
  isFit: boolean;
  printRoom: string;
  onTitle: (title: string) => void;
  onUndo: () => void;
  onRedo: () => void;
  onShow: (shown: "sheet" | "stage") => void;
  onHoldPhoto: (held: boolean) => void;
  onFit: () => void;
  onOneToOne: () => void;
  onCloser: () => void;
  onFarther: () => void;
}

const SAVING_WORDS: Record<Saving, string> = {
  saved: "saved",
  saving: "saving…",
  offline: "not saved yet",
  stale: "changed elsewhere",
};

/** Word mark, title, undo, what is shown, zoom, and the way to the print room. */
export function TopBar(props: TopBarProps) {
  return (
    <header className="top-bar">
      <Link to="/" className="word-mark" aria-label="Flinz, to the shelf">
        Fl<span>i</span>nz
      </Link>
      <TitleField title={props.title} onTitle={props.onTitle} />
      <span className="saving" role="status" data-saving={props.saving}>
        {SAVING_WORDS[props.saving]}
      </span>
      <ButtonGroup size="sm" aria-label="History">
        <Button
          variant="plain"
          disabled={props.undo === null}
          title={props.undo ? `Undo: ${props.undo}` : "Nothing to undo"}
          onClick={props.onUndo}
        >
          Undo
        </Button>
        <Button
          variant="plain"
          disabled={props.redo === null}
          title={props.redo ? `Redo: ${props.redo}` : "Nothing to do again"}
          onClick={props.onRedo}
        >
          Redo
        </Button>
      </ButtonGroup>
      <span className="top-gap" />
      <ButtonGroup size="sm" aria-label="What is shown">
        <Button
          variant="plain"
          active={props.shown === "sheet" && !props.photoHeld}
          aria-pressed={props.shown === "sheet"}
          onClick={() => props.onShow("sheet")}
        >
          Sheet
        </Button>
        <Button
          variant="plain"
          active={props.shown === "stage" && !props.photoHeld}
          aria-pressed={props.shown === "stage"}
          title="Show what leaves the chosen stage"
          onClick={() => props.onShow("stage")}
        >
          {props.stageTitle}
        </Button>
        <Button
          variant="plain"
          active={props.photoHeld}
          aria-pressed={props.photoHeld}
          title="Hold to see the photo (key P)"
          onPointerDown={() => props.onHoldPhoto(true)}
          onPointerUp={() => props.onHoldPhoto(false)}
          onPointerLeave={() => props.onHoldPhoto(false)}
          onKeyDown={(event) => event.key === " " && props.onHoldPhoto(true)}
          onKeyUp={() => props.onHoldPhoto(false)}
          onBlur={() => props.onHoldPhoto(false)}
        >
          Hold: photo
        </Button>
      </ButtonGroup>
      <ButtonGroup size="sm" aria-label="Zoom">
        <Button variant="plain" aria-label="Farther away" onClick={props.onFarther}>
          −
        </Button>
        <Button variant="plain" active={props.isFit} onClick={props.onFit} title="Whole sheet (W)">
          {props.zoomWords}
        </Button>
        <Button variant="plain" onClick={props.onOneToOne} title="Export pixels (E)">
          1:1
        </Button>
        <Button variant="plain" aria-label="Closer" onClick={props.onCloser}>
          +
        </Button>
      </ButtonGroup>
      <Link to={props.printRoom} className="btn btn-primary btn-sm">
        Print room
      </Link>
    </header>
  );
}

function TitleField({ title, onTitle }: { title: string; onTitle: (title: string) => void }) {
  const [text, setText] = useState<string | null>(null);

  function take() {
    const typed = text?.trim();
    if (typed && typed !== title) onTitle(typed.slice(0, 200));
    setText(null);
  }

  return (
    <input
      className="title-field"
      aria-label="Title of the sheet"
      value={text ?? title}
      maxLength={200}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setText(null);
      }}
    />
  );
}
