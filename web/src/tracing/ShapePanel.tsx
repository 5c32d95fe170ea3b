import { useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Act, ChangedShapes, Sheet, TraceFigures } from "../api/client";
import { HexField } from "../shared/HexField";
import { NumberChoice } from "../shared/NumberChoice";
import { recentInks, rememberInk } from "../shared/recentInks";
import { boxRound, countedLots, smallerThan, type Shape } from "./shapes";
import { mirrored } from "./ways";

interface ShapePanelProps {
  sheet: Sheet;
  shapes: readonly Shape[];
  chosen: readonly Shape[];
  changed: ChangedShapes | null;
  figures: TraceFigures;
  /** Colours that Flinz brings. */
  pots: readonly { name: string; colour: string }[];
  isGathering: boolean;
  onGather: (gathers: boolean) => void;
  onChoose: (shapes: readonly Shape[], isAdded?: boolean) => void;
  onAct: (act: Act) => void;
  onLike: (like: "colour" | "size") => void;
}

/** How many colours are offered. */
const COLOURS = 12;

const number = (value: number) => value.toLocaleString("en-GB");

/** What is chosen and what can be done to it; all shapes by colour and size; what was lost. */
export function ShapePanel(props: ShapePanelProps) {
  const { sheet, shapes, chosen, changed, figures, pots, isGathering } = props;
  const { onGather, onChoose, onAct, onLike } = props;
  const [small, setSmall] = useState(0.5);
  const size = useMemo(() => bytesOf(shapes), [shapes]);
  const lots = useMemo(() => countedLots(shapes), [shapes]);
  const hidden = shapes.filter((each) => each.hidden);
  const lost = changed?.lost ?? [];
  const isNone = chosen.length === 0;
  const round = boxRound(chosen);
  const ofPlates = sheet.plates.map((plate) => plate.ink.colour);
  const inks = [
    ...new Set([
      ...ofPlates,
      sheet.paper.colour,
      ...recentInks(),
      ...pots.map((pot) => pot.colour),
    ]),
  ];

  function recolour(colour: string) {
    rememberInk(colour);
    onAct({ verb: "colour", colour });
  }

  return (
    <>
      <h2>Chosen</h2>
      <p className="shape-said" role="status" data-testid="chosen">
        {saidOf(chosen)}
      </p>
      <div className="shape-colours" role="group" aria-label="Colour of what is chosen">
        <Form.Control
          type="color"
          aria-label="Another colour"
          disabled={isNone}
          value={chosen[0]?.colour ?? "#000000"}
          onChange={(event) => recolour(event.currentTarget.value)}
        />
        <HexField
          label="Colour of shapes"
          value={chosen[0]?.colour ?? "#000000"}
          onChange={recolour}
          onTouch={() => undefined}
        />
        {inks.slice(0, COLOURS).map((colour) => (
          <button
            key={colour}
            type="button"
            className="shape-ink"
            style={{ background: colour }}
            aria-label={`Colour ${nameIn(pots, colour)}`}
            title={nameIn(pots, colour)}
            disabled={isNone}
            onClick={() => recolour(colour)}
          />
        ))}
      </div>
      <div className="shape-acts">
        {ACTS.map(({ verb, label, words, least }) => (
          <Button
            key={verb}
            size="sm"
            variant="plain"
            title={words}
            disabled={chosen.length < (least ?? 1)}
            onClick={() => onAct({ verb })}
          >
            {label}
          </Button>
        ))}
        <Button
          size="sm"
          variant="plain"
          title="Left to right"
          disabled={!round}
          onClick={() =>
            round &&
            onAct({
              verb: "lay",
              way: mirrored({
                x: (round.left + round.right) / 2,
                y: (round.top + round.bottom) / 2,
              }),
            })
          }
        >
          Mirror
        </Button>
        {chosen.some((each) => each.joined) && (
          <Button size="sm" variant="plain" onClick={() => onAct({ verb: "part" })}>
            Part again
          </Button>
        )}
        {chosen.some((each) => each.isChanged) && (
          <Button
            size="sm"
            variant="plain"
            title="Take back all that was changed of these"
            onClick={() => onAct({ verb: "restore" })}
          >
            As traced
          </Button>
        )}
      </div>
      <h2>Choose</h2>
      <div className="shape-acts">
        <Button size="sm" variant="plain" disabled={isNone} onClick={() => onLike("colour")}>
          Of this colour
        </Button>
        <Button size="sm" variant="plain" disabled={isNone} onClick={() => onLike("size")}>
          Of this size
        </Button>
        <Button
          size="sm"
          variant="plain"
          active={isGathering}
          aria-pressed={isGathering}
          title="What is chosen next is added, as with Shift held (I)"
          onClick={() => onGather(!isGathering)}
        >
          Gather
        </Button>
        <Button size="sm" variant="plain" disabled={isNone} onClick={() => onChoose([])}>
          None
        </Button>
      </div>
      <div className="shape-small">
        <NumberChoice
          label="Smaller than, mm²"
          value={small}
          least={0.01}
          most={10000}
          step={0.1}
          onChange={setSmall}
        />
        <Button
          size="sm"
          variant="plain"
          onClick={() => onChoose(smallerThan(shapes, small, true), isGathering)}
        >
          Ink
        </Button>
        <Button
          size="sm"
          variant="plain"
          onClick={() => onChoose(smallerThan(shapes, small, false), isGathering)}
        >
          Paper
        </Button>
      </div>
      <ul className="shape-lots" aria-label="Shapes by colour and size">
        {lots.map((lot) => (
          <li key={`${lot.prints} ${lot.colour} ${lot.words}`}>
            <button type="button" onClick={() => onChoose(lot.shapes, isGathering)}>
              <i
                className={lot.prints ? "shape-ink" : "shape-ink shape-bare"}
                style={lot.prints ? { background: lot.colour } : undefined}
              />
              <span>{lot.words}</span>
              <span className="shape-many">{number(lot.shapes.length)}</span>
              <span className="visually-hidden">
                {lot.prints ? `of ink ${lot.colour}` : "of bare paper"}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {hidden.length > 0 && (
        <p className="soft">
          {number(hidden.length)} hidden.{" "}
          <Button
            variant="link"
            className="p-0"
            onClick={() => onAct({ verb: "show", shapes: hidden.flatMap((each) => each.of) })}
          >
            Show {hidden.length === 1 ? "it" : "them"}
          </Button>
        </p>
      )}
      {lost.length > 0 && (
        <div className="trouble" data-testid="lost-shapes">
          {lost.length === 1
            ? "A changed shape is not in the drawing any more:"
            : `${number(lost.length)} changed shapes are not in the drawing any more:`}
          <ul>
            {lost.slice(0, 8).map((each, k) => (
              <li key={k}>
                at {each.x.toFixed(0)}, {each.y.toFixed(0)} mm{each.colour && `, ${each.colour}`}
              </li>
            ))}
          </ul>
          <Button variant="link" className="p-0" onClick={() => onAct({ verb: "forget" })}>
            Drop what was changed of {lost.length === 1 ? "it" : "them"}
          </Button>
        </div>
      )}
      <p className="soft" data-testid="trace-figures">
        {number(figures.shapes)} shapes, {number(figures.segments)} curves and lines,{" "}
        {(figures.outline_mm / 1000).toFixed(1)} m of outline, about{" "}
        {number(Math.ceil(size / 1000))} kB, none farther than{" "}
        {figures.largest_distance_mm.toFixed(3)} mm from the drawing
      </p>
    </>
  );
}

const nameIn = (pots: ShapePanelProps["pots"], colour: string) =>
  pots.find((pot) => pot.colour === colour)?.name ?? colour;

/** What outlines take in an SVG. */
const bytesOf = (shapes: readonly Shape[]) =>
  shapes.reduce((sum, each) => sum + (each.prints ? each.path.length : 0), 0);

interface ActSpec {
  verb: Act["verb"];
  label: string;
  words: string;
  least?: number;
}

const ACTS: readonly ActSpec[] = [
  { verb: "hide", label: "Hide", words: "Leave it out; it can be shown again (Y)" },
  { verb: "delete", label: "Delete", words: "Leave it out for good (Del)" },
  { verb: "front", label: "To the front", words: "Over the others of its plate (F)" },
  { verb: "back", label: "Behind", words: "Beneath the others of its plate (Shift F)" },
  {
    verb: "join",
    label: "Join",
    words: "Make one shape of these, as the first one is (M)",
    least: 2,
  },
  { verb: "cut", label: "Cut out", words: "Cut it out of what lies beneath, or no longer (D)" },
  { verb: "simplify", label: "Simplify", words: "Let its outlines stray twice as far (R)" },
];

function saidOf(chosen: readonly Shape[]): string {
  if (chosen.length === 0) return "None: press a shape, or draw round some.";
  const area = chosen.reduce((sum, each) => sum + each.area, 0);
  const round = boxRound(chosen)!;
  const size = `${(round.right - round.left).toFixed(1)} × ${(round.bottom - round.top).toFixed(1)} mm`;
  const what = chosen.length > 1 ? `${number(chosen.length)} shapes` : nameOf(chosen[0]!);
  return `${what}, ${area < 10 ? area.toFixed(2) : area.toFixed(0)} mm², ${size}`;
}

function nameOf(shape: Shape): string {
  if (shape.hidden) return "1 hidden shape";
  if (!shape.prints) return "Bare paper";
  return shape.joined ? "1 joined shape" : "1 shape";
}
