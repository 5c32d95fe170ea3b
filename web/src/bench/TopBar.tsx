import { memo, useState } from "react";
import { Button, ButtonGroup, Dropdown } from "react-bootstrap";
import { Link } from "react-router";
import type { Layout } from "./compare";
import type { Saving } from "./useSheet";

interface TopBarProps {
  title: string;
  saving: Saving;
  undo: string | null;
  redo: string | null;
  shown: "sheet" | "stage";
  stageTitle: string;
  photoHeld: boolean;
  layout: Layout;
  against: string;
  choices: [string, string][];
  zoomWords: string;
  isFit: boolean;
  pinning: boolean;
  sheetId: number;
  onTitle: (title: string) => void;
  onUndo: () => void;
  onRedo: () => void;
  onShow: (shown: "sheet" | "stage") => void;
  onHoldPhoto: (held: boolean) => void;
  onLayout: (layout: Layout) => void;
  onAgainst: (key: string) => void;
  onFit: () => void;
  onOneToOne: () => void;
  onPaperSize: () => void;
  onRuler: () => void;
  onCloser: () => void;
  onFarther: () => void;
  onPin: () => void;
  onKeepPull: () => void;
  onPulls: () => void;
  onKeepRecipe: () => void;
  onOtherPhoto: () => void;
}

const SAVING_WORDS: Record<Saving, string> = {
  saved: "saved",
  saving: "saving…",
  offline: "not saved yet",
  stale: "changed elsewhere",
};

/** Word mark, title, undo, what is shown and compared, zoom, what is kept, the print room. */
export const TopBar = memo(function TopBar(props: TopBarProps) {
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
          aria-label="Hold: photo"
          title="Hold to see the photo (key P)"
          onPointerDown={() => props.onHoldPhoto(true)}
          onPointerUp={() => props.onHoldPhoto(false)}
          onPointerLeave={() => props.onHoldPhoto(false)}
          onKeyDown={(event) => event.key === " " && props.onHoldPhoto(true)}
          onKeyUp={() => props.onHoldPhoto(false)}
          onBlur={() => props.onHoldPhoto(false)}
        >
          Photo
        </Button>
      </ButtonGroup>
      <CompareMenu {...props} />
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
        <Button
          variant="plain"
          onClick={props.onPaperSize}
          title="The size it has on paper (S)"
          aria-label="mm, the size on paper"
        >
          mm
        </Button>
        <Button variant="plain" aria-label="Closer" onClick={props.onCloser}>
          +
        </Button>
      </ButtonGroup>
      <Button
        size="sm"
        variant="plain"
        active={props.pinning}
        aria-pressed={props.pinning}
        title="Pin a detail that stays magnified: drag on the sheet (O)"
        onClick={props.onPin}
      >
        Watch
      </Button>
      <SheetMenu {...props} />
      <Link to={`/sheets/${props.sheetId}/print`} className="btn btn-primary btn-sm">
        Print room
      </Link>
    </header>
  );
});

function CompareMenu(props: TopBarProps) {
  const words: Record<Layout, string> = { alone: "Compare", split: "Halves", beside: "Beside" };
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="plain" active={props.layout !== "alone"}>
        {words[props.layout]}
      </Dropdown.Toggle>
      <Dropdown.Menu className="compare-menu">
        <Dropdown.Item active={props.layout === "alone"} onClick={() => props.onLayout("alone")}>
          The drawing alone
        </Dropdown.Item>
        <Dropdown.Item active={props.layout === "split"} onClick={() => props.onLayout("split")}>
          In halves <kbd>H</kbd>
        </Dropdown.Item>
        <Dropdown.Item active={props.layout === "beside"} onClick={() => props.onLayout("beside")}>
          Side by side <kbd>B</kbd>
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Header>with</Dropdown.Header>
        {props.choices.map(([key, label]) => (
          <Dropdown.Item
            key={key}
            active={props.against === key}
            onClick={() => props.onAgainst(key)}
          >
            {label}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

function SheetMenu(props: TopBarProps) {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="plain">
        Keep
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item onClick={props.onKeepPull}>
          Keep a pull <kbd>K</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={props.onPulls}>
          All pulls… <kbd>Shift K</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={props.onKeepRecipe}>Keep as recipe…</Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as={Link} to={`/sheets/${props.sheetId}/contact`}>
          Contact sheet <kbd>C</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={props.onOtherPhoto}>Another photo…</Dropdown.Item>
        <Dropdown.Item as={Link} to="/recipes">
          Recipe book
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item onClick={props.onRuler}>Measure this screen…</Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
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
