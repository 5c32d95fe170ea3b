import { useMemo, useState } from "react";
import { Button, ButtonGroup, ProgressBar, Spinner } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import type { Wish } from "../api/client";
import { useCatalogue } from "../api/queries";
import { useKey } from "../shared/keys";
import { NotOpened } from "../shared/NotOpened";
import { StaleWays } from "../shared/StaleWays";
import { Trouble } from "../shared/Trouble";
import { UndoButtons } from "../shared/UndoButtons";
import { VectorChoices } from "../shared/VectorChoices";
import { WordMark } from "../shared/WordMark";
import { SAVING_WORDS, useSheet } from "../sheet/useSheet";
import { useWish } from "../sheet/useWish";
import { ShapeBed } from "./ShapeBed";
import { ShapePanel } from "./ShapePanel";
import { nextShape, ofLikeColour, ofLikeSize } from "./shapes";
import { useShapes } from "./useShapes";
import { useTracing, vectorWish } from "../sheet/useTracing";

/** What files of shapes are wished as first. */
const USUAL = "svg";

/** The sheet as the shapes that it leaves as: chosen, changed, with what is printed beneath. */
export function TracingRoom({ id }: { id: number }) {
  const work = useSheet(id);
  const navigate = useNavigate();
  const catalogue = useCatalogue();
  const { wanted, become, set, error } = useWish(id);
  const ready = work.content.state === "ready" ? work.content : null;
  const sheet = ready?.sheet ?? null;
  const own = useMemo(() => wanted && vectorWish(wanted), [wanted]);
  const { traced, state, stop, again } = useTracing(id, sheet, own, work.saving === "saved");
  const shapes = useShapes({ id, traced, sheet, wish: own, onChange: work.change, onGone: again });
  const [isGathering, setGathering] = useState(false);
  const { choose, act } = shapes;
  const doIt = (verb: "hide" | "delete" | "front" | "back" | "join" | "cut" | "simplify") => {
    if (shapes.chosenShapes.length > 0) void act({ verb });
  };
  const like = (what: "colour" | "size") => {
    const of = what === "colour" ? ofLikeColour : ofLikeSize;
    choose(of(shapes.shapes, shapes.chosenShapes), false);
  };
  const go = (by: 1 | -1) => {
    const next = nextShape(shapes.shapes, shapes.chosenShapes.at(-1), by);
    if (next) choose([next], isGathering);
  };
  useKey("undo", () => void work.undo("undo"));
  useKey("redo", () => void work.undo("redo"));
  useKey("nextShape", () => go(1));
  useKey("shapeBefore", () => go(-1));
  useKey("likeColour", () => like("colour"));
  useKey("likeSize", () => like("size"));
  useKey("gather", () => setGathering((before) => !before));
  useKey("hideShape", () => doIt("hide"));
  useKey("deleteShape", () => doIt("delete"));
  useKey("toFront", () => doIt("front"));
  useKey("behind", () => doIt("back"));
  useKey("joinShapes", () => doIt("join"));
  useKey("cutOut", () => doIt("cut"));
  useKey("simplify", () => doIt("simplify"));
  useKey("leave", () => choose([]));

  const failed = work.content.state === "failed" ? work.content.sentence : error?.message;
  if (failed) return <NotOpened sentence={failed} />;
  if (!sheet || !ready || !catalogue.data || !wanted) {
    return (
      <main className="waiting">
        <Spinner size="sm" /> Opening the tracing…
      </main>
    );
  }
  const { formats } = catalogue.data;
  const isVector = formats.some((each) => each.name === wanted.format && hasShapes(each.wishes));
  const usual = formats.find((each) => each.name === USUAL)!;
  const wish = (change: Partial<Wish>) => (isVector ? set(change) : become(usual, change));
  const toPrint = async () => {
    await work.flush();
    if (!isVector) become(usual);
    void navigate(`/sheets/${id}/print`);
  };

  return (
    <div className="print-room tracing-room">
      <header className="top-bar" data-area="the bar">
        <WordMark />
        <h1 tabIndex={-1} data-page-start>
          Tracing
        </h1>
        <span className="print-title">{sheet.title}</span>
        <span className="saving" role="status" data-saving={work.saving}>
          {SAVING_WORDS[work.saving]}
        </span>
        <span className="top-gap" />
        <ButtonGroup size="sm" aria-label="History">
          <UndoButtons
            undo={ready.undo}
            redo={ready.redo}
            onUndo={() => void work.undo("undo")}
            onRedo={() => void work.undo("redo")}
          />
        </ButtonGroup>
        <Link to={`/sheets/${id}`} className="btn btn-plain btn-sm">
          Back to the bench
        </Link>
        <Button size="sm" onClick={() => void toPrint()}>
          Print room
        </Button>
      </header>
      <main className="print-main">
        {traced ? (
          <ShapeBed
            traced={traced.shapes}
            shapes={shapes.shapes}
            beneath={shapes.beneath}
            chosen={shapes.chosenShapes}
            dropsPaper={wanted.drop_paper ?? false}
            isGathering={isGathering}
            onChoose={choose}
            onAct={act}
          />
        ) : (
          <div className="bed bed-empty">{state.state === "working" ? "Tracing…" : ""}</div>
        )}
      </main>
      <aside className="side-panel print-panel" aria-label="Shapes" data-area="what can be done">
        {state.state === "working" && (
          <div className="print-work">
            <ProgressBar
              now={state.share * 100}
              label={`${(state.share * 100).toFixed(0)} %`}
              aria-label="Being traced"
            />
            <Button variant="plain" size="sm" onClick={stop}>
              Stop
            </Button>
          </div>
        )}
        {state.state === "failed" && <Trouble sentence={state.sentence} />}
        {(state.state === "stopped" || state.state === "failed") && (
          <Button size="sm" variant="plain" onClick={again}>
            Trace it again
          </Button>
        )}
        {(shapes.trouble || work.trouble) && (
          <Trouble sentence={shapes.trouble || work.trouble}>
            {work.saving === "stale" && (
              <span className="bed-ways">
                <StaleWays
                  onLoad={() => void work.load()}
                  onTakeOver={() => void work.takeOver()}
                />
              </span>
            )}
          </Trouble>
        )}
        {traced && (
          <ShapePanel
            sheet={sheet}
            shapes={shapes.shapes}
            chosen={shapes.chosenShapes}
            changed={shapes.changed}
            figures={shapes.changed?.figures ?? traced.shapes.figures}
            pots={catalogue.data.colours.inks}
            isGathering={isGathering}
            onGather={setGathering}
            onChoose={choose}
            onAct={(what) => void act(what)}
            onLike={like}
          />
        )}
        <h2>Outlines and what is beneath</h2>
        <VectorChoices wanted={wanted} onChange={wish} isFull />
        {(traced?.shapes.notes ?? []).map((note) => (
          <p className="soft" key={note}>
            {note}
          </p>
        ))}
        {traced?.shapes.loose && (
          <p className="soft">
            What leaves as true marks or as a picture is shown, but is no shape that can be chosen.
          </p>
        )}
      </aside>
    </div>
  );
}

const hasShapes = (wishes: string[]) => wishes.includes("closeness");
