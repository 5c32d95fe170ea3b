import { memo } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { Link } from "react-router";
import { useRoving } from "../shared/roving";
import { Tip } from "../shared/Tip";
import { UndoButtons } from "../shared/UndoButtons";
import { useMedia } from "../shared/useMedia";
import { WordMark } from "../shared/WordMark";
import { SAVING_WORDS, type Saving } from "../sheet/useSheet";
import type { Layout } from "./bed/compare";
import { CompareMenu } from "./bed/CompareMenu";
import { SeeMenu } from "./bed/SeeMenu";
import { HistoryMenu } from "./keeping/HistoryMenu";
import { type Open } from "./keeping/useKeeping";
import { SheetMenu } from "./keeping/SheetMenu";
import { TitleField } from "../shared/TitleField";

/** What the top bar does; the same functions for as long as the bench is open. */
export interface BarActs {
  title: (title: string) => void;
  undo: () => void;
  redo: () => void;
  goTo: (step: number, words: string) => void;
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
  only: () => void;
  keepPull: () => void;
  open: (dialog: Open) => void;
  edition: () => void;
}

export interface BarProps {
  sheetId: number;
  title: string;
  saving: Saving;
  revision: number;
  undo: string | null;
  redo: string | null;
  shown: "sheet" | "stage" | "photo";
  /** The stage that can be shown by itself; "" for the photo, which is held. */
  stageTitle: string;
  layout: Layout;
  against: string;
  choices: [string, string][];
  zoomWords: string;
  isFit: boolean;
  pinning: boolean;
  acts: BarActs;
}

/** Where the bar has no room, what is seldom pressed goes into a menu. */
const [FOLDED, NARROW] = ["(max-width: 1239px)", "(max-width: 999px)"];

/** Word mark, title, undo, what is shown and compared, zoom, what is kept, the print room. */
export const TopBar = memo(function TopBar(props: BarProps) {
  const { acts } = props;
  const isFolded = useMedia(FOLDED);
  const isNarrow = useMedia(NARROW);
  const roving = useRoving<HTMLDivElement>();
  return (
    <header className="top-bar">
      <WordMark />
      <TitleField of="sheet" title={props.title} onTitle={acts.title} />
      <span className="saving" role="status" data-saving={props.saving}>
        {SAVING_WORDS[props.saving]}
      </span>
      <div className="bar-tools" role="toolbar" aria-label="Sheet" data-area="the bar" {...roving}>
        <History {...props} isNarrow={isNarrow} />
        <span className="top-gap" />
        {!isNarrow && <Shown shown={props.shown} stageTitle={props.stageTitle} acts={acts} />}
        {!isFolded && (
          <CompareMenu
            layout={props.layout}
            against={props.against}
            choices={props.choices}
            onLayout={acts.layout}
            onAgainst={acts.against}
          />
        )}
        <Zoom words={props.zoomWords} isFit={props.isFit} isFolded={isFolded} acts={acts} />
        {isFolded ? (
          <SeeMenu {...props} isNarrow={isNarrow} />
        ) : (
          <Tip words="Pin a detail that stays magnified: drag on the sheet (O)">
            <Button
              size="sm"
              variant="plain"
              active={props.pinning}
              aria-pressed={props.pinning}
              onClick={acts.watch}
            >
              Watch
            </Button>
          </Tip>
        )}
        <SheetMenu
          sheetId={props.sheetId}
          onKeepPull={acts.keepPull}
          onOpen={acts.open}
          onEdition={acts.edition}
        />
        <Link to={`/sheets/${props.sheetId}/print`} className="btn btn-primary btn-sm">
          Print room
        </Link>
      </div>
    </header>
  );
});

function History(props: BarProps & { isNarrow: boolean }) {
  const { undo, redo, acts, isNarrow } = props;
  return (
    <ButtonGroup size="sm" aria-label="History">
      <UndoButtons
        undo={undo}
        redo={redo}
        isNarrow={isNarrow}
        onUndo={acts.undo}
        onRedo={acts.redo}
      />
      <HistoryMenu sheetId={props.sheetId} revision={props.revision} onGoTo={acts.goTo} />
    </ButtonGroup>
  );
}

interface ShownProps {
  shown: BarProps["shown"];
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
      {stageTitle && (
        <Button
          variant="plain"
          active={shown === "stage"}
          aria-pressed={shown === "stage"}
          title="Show what leaves the chosen stage (G)"
          onClick={() => acts.show("stage")}
        >
          {stageTitle}
        </Button>
      )}
      <Button
        variant="plain"
        active={shown === "photo"}
        aria-pressed={shown === "photo"}
        title="Hold to see the photo (key P)"
        onPointerDown={() => acts.holdPhoto(true)}
        onPointerUp={() => acts.holdPhoto(false)}
        onPointerLeave={() => acts.holdPhoto(false)}
        onKeyDown={(event) => event.key === " " && acts.holdPhoto(true)}
        onKeyUp={() => acts.holdPhoto(false)}
        onBlur={() => acts.holdPhoto(false)}
      >
        Hold: photo
      </Button>
    </ButtonGroup>
  );
}

interface ZoomProps {
  words: string;
  isFit: boolean;
  isFolded: boolean;
  acts: BarActs;
}

function Zoom({ words, isFit, isFolded, acts }: ZoomProps) {
  return (
    <ButtonGroup size="sm" aria-label="Zoom">
      <Tip words="Farther away (,)">
        <Button variant="plain" aria-label="Farther away" onClick={acts.farther}>
          −
        </Button>
      </Tip>
      <Button variant="plain" active={isFit} onClick={acts.fit} title="Whole sheet (W)">
        {words}
      </Button>
      {!isFolded && (
        <>
          <Tip words="Export pixels: one of them to one of the screen (E)">
            <Button variant="plain" onClick={acts.exportPixels}>
              1:1
            </Button>
          </Tip>
          <Tip words="The size it has on paper (S)">
            <Button variant="plain" onClick={acts.paperSize} aria-label="mm, the size on paper">
              mm
            </Button>
          </Tip>
        </>
      )}
      <Tip words="Closer (.)">
        <Button variant="plain" aria-label="Closer" onClick={acts.closer}>
          +
        </Button>
      </Tip>
    </ButtonGroup>
  );
}
