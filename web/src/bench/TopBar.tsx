import { memo } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { Link } from "react-router";
import type { Layout } from "./bed/compare";
import { CompareMenu } from "./bed/CompareMenu";
import { type Open } from "./keeping/useKeeping";
import { SheetMenu } from "./keeping/SheetMenu";
import { TitleField } from "./keeping/TitleField";
import type { Saving } from "../sheet/useSheet";

/** What the top bar does; the same functions for as long as the bench is open. */
export interface BarActs {
  title: (title: string) => void;
  undo: () => void;
  redo: () => void;
  show: (shown: "sheet" | "stage") => void;
  holdPhoto: (held: boolean) => void;
  layout: (layout: Layout) => void;
  against: (key: string) => void;
  fit: () => void;
  exportPixels: () => void;
  paperSize: () => void;
  closer: () => void;
  farther: () => void;
  watch: () => void;
  keepPull: () => void;
  open: (dialog: Open) => void;
}

interface TopBarProps {
  sheetId: number;
  title: string;
  saving: Saving;
  undo: string | null;
  redo: string | null;
  shown: "sheet" | "stage" | "photo";
  stageTitle: string;
  layout: Layout;
  against: string;
  choices: [string, string][];
  zoomWords: string;
  isFit: boolean;
  pinning: boolean;
  acts: BarActs;
}

const SAVING_WORDS: Record<Saving, string> = {
  saved: "saved",
  saving: "saving…",
  offline: "not saved yet",
  stale: "changed elsewhere",
};

/** Word mark, title, undo, what is shown and compared, zoom, what is kept, the print room. */
export const TopBar = memo(function TopBar(props: TopBarProps) {
  const { acts } = props;
  return (
    <header className="top-bar">
      <Link to="/" className="word-mark" aria-label="Flinz, to the shelf">
        Fl<span>i</span>nz
      </Link>
      <TitleField title={props.title} onTitle={acts.title} />
      <span className="saving" role="status" data-saving={props.saving}>
        {SAVING_WORDS[props.saving]}
      </span>
      <History undo={props.undo} redo={props.redo} acts={acts} />
      <span className="top-gap" />
      <Shown shown={props.shown} stageTitle={props.stageTitle} acts={acts} />
      <CompareMenu
        layout={props.layout}
        against={props.against}
        choices={props.choices}
        onLayout={acts.layout}
        onAgainst={acts.against}
      />
      <Zoom words={props.zoomWords} isFit={props.isFit} acts={acts} />
      <Button
        size="sm"
        variant="plain"
        active={props.pinning}
        aria-pressed={props.pinning}
        title="Pin a detail that stays magnified: drag on the sheet (O)"
        onClick={acts.watch}
      >
        Watch
      </Button>
      <SheetMenu sheetId={props.sheetId} onKeepPull={acts.keepPull} onOpen={acts.open} />
      <Link to={`/sheets/${props.sheetId}/print`} className="btn btn-primary btn-sm">
        Print room
      </Link>
    </header>
  );
});

interface HistoryProps {
  undo: string | null;
  redo: string | null;
  acts: BarActs;
}

function History({ undo, redo, acts }: HistoryProps) {
  return (
    <ButtonGroup size="sm" aria-label="History">
      <Button
        variant="plain"
        disabled={undo === null}
        title={undo ? `Undo: ${undo}` : "Nothing to undo"}
        onClick={acts.undo}
      >
        Undo
      </Button>
      <Button
        variant="plain"
        disabled={redo === null}
        title={redo ? `Redo: ${redo}` : "Nothing to do again"}
        onClick={acts.redo}
      >
        Redo
      </Button>
    </ButtonGroup>
  );
}

interface ShownProps {
  shown: TopBarProps["shown"];
  stageTitle: string;
  acts: BarActs;
}

function Shown({ shown, stageTitle, acts }: ShownProps) {
  return (
    <ButtonGroup size="sm" aria-label="What is shown">
      <Button
        variant="plain"
        active={shown === "sheet"}
        aria-pressed={shown === "sheet"}
        onClick={() => acts.show("sheet")}
      >
        Sheet
      </Button>
      <Button
        variant="plain"
        active={shown === "stage"}
        aria-pressed={shown === "stage"}
        title="Show what leaves the chosen stage"
        onClick={() => acts.show("stage")}
      >
        {stageTitle}
      </Button>
      <Button
        variant="plain"
        active={shown === "photo"}
        aria-pressed={shown === "photo"}
        aria-label="Hold: photo"
        title="Hold to see the photo (key P)"
        onPointerDown={() => acts.holdPhoto(true)}
        onPointerUp={() => acts.holdPhoto(false)}
        onPointerLeave={() => acts.holdPhoto(false)}
        onKeyDown={(event) => event.key === " " && acts.holdPhoto(true)}
        onKeyUp={() => acts.holdPhoto(false)}
        onBlur={() => acts.holdPhoto(false)}
      >
        Photo
      </Button>
    </ButtonGroup>
  );
}

interface ZoomProps {
  words: string;
  isFit: boolean;
  acts: BarActs;
}

function Zoom({ words, isFit, acts }: ZoomProps) {
  return (
    <ButtonGroup size="sm" aria-label="Zoom">
      <Button variant="plain" aria-label="Farther away" onClick={acts.farther}>
        −
      </Button>
      <Button variant="plain" active={isFit} onClick={acts.fit} title="Whole sheet (W)">
        {words}
      </Button>
      <Button variant="plain" onClick={acts.exportPixels} title="Export pixels (E)">
        1:1
      </Button>
      <Button
        variant="plain"
        onClick={acts.paperSize}
        title="The size it has on paper (S)"
        aria-label="mm, the size on paper"
      >
        mm
      </Button>
      <Button variant="plain" aria-label="Closer" onClick={acts.closer}>
        +
      </Button>
    </ButtonGroup>
  );
}
