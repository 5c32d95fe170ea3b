import { useEffect, useMemo, useRef, useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { DialSpec, Sheet, View } from "../../api/client";
import { followPointer, isFarFrom } from "../../shared/followPointer";
import { useKey } from "../../shared/keys";
import { SmallProof } from "../../live/SmallProof";
import type { Settings } from "../../sheet/stages";
import { type Cell, cellsFor, cellsOf, presentCell, spotRegion, type StripOf } from "./strip";
import { useAsked, useRefusals } from "../../live/pictures";
import { useLive } from "../../live/useLive";
import { viewOf } from "../../live/views";
import { type Size, sizeOf } from "../../live/zoom";

const HEAD_PX = 44;
const GAP_PX = 6;
/** Drafts are drawn so much smaller: there are many, and the eye wants them at once. */
const DRAFT_SHARE = 0.55;
const LINE_PX = 22;
const WHEEL_STEP = 0.0016;

interface TestStripProps {
  sheet: Sheet;
  plateId: string;
  of: StripOf;
  others: DialSpec[];
  settings: Settings;
  /** What the sheet has at a path now. */
  now: (path: string) => unknown;
  area: Size;
  aspect: number;
  /** Long edge in CSS pixels at which the whole sheet fits. */
  fitEdge: number;
  start: { x: number; y: number };
  onTake: (values: Settings, words: string) => void;
  onLeave: () => void;
}

/** The same spot drawn with several values of one dial, of two, or with other settings, to choose by eye. */
export function TestStrip(props: TestStripProps) {
  const { sheet, plateId, of, others, settings, area, aspect, fitEdge } = props;
  const [count, setCount] = useState(9);
  const [isNear, setNear] = useState(false);
  const [across, setAcross] = useState("");
  const [spot, setSpot] = useState(props.start);
  const [zoom, setZoom] = useState(2);
  const second = others.find((each) => each.name === across);
  const first = useRef<HTMLButtonElement>(null);
  const cellsRef = useRef<HTMLDivElement>(null);
  useKey("leave", props.onLeave);
  useEffect(() => first.current?.focus(), []);
  useEffect(() => {
    const element = cellsRef.current;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      event.stopPropagation();
      setZoom((now) => Math.min(24, Math.max(1, now * Math.exp(-event.deltaY * WHEEL_STEP))));
    };
    element?.addEventListener("wheel", wheel, { passive: false });
    return () => element?.removeEventListener("wheel", wheel);
  }, []);

  const { cells, columns: columnsOfTwo } = useMemo(
    () => cellsOf(of, second, settings, count, isNear),
    [of, second, settings, count, isNear],
  );

  const { columns, rows } = columnsOfTwo
    ? { columns: columnsOfTwo, rows: cells.length / columnsOfTwo }
    : cellsFor(cells.length, area);
  const wide = Math.floor((area.width - GAP_PX * (columns + 1)) / columns);
  const high = Math.floor((area.height - HEAD_PX - GAP_PX * (rows + 1)) / rows) - LINE_PX;
  const edge = fitEdge * zoom;
  const whole = sizeOf(edge, aspect);
  const region = useMemo(
    () => spotRegion(spot, wide / whole.width, high / whole.height),
    [spot, wide, high, whole.width, whole.height],
  );
  const [left, top, right, bottom] = region;
  const views = useMemo((): View[] => {
    const cell = (each: Cell, draft: boolean) =>
      viewOf(each.id, edge * window.devicePixelRatio * (draft ? DRAFT_SHARE : 1), {
        plate: plateId,
        region: [left, top, right, bottom],
        dials: each.values as View["dials"],
        draft,
      });
    // An ask begins with a picture that is always finished; a strip has none, so it is a tiny one.
    // Then drafts of all, that the eye has something at once, and each as it is exported.
    const first = viewOf("first", 16, { what: "photo" });
    return [
      first,
      ...cells.map((each) => cell(each, true)),
      ...cells.map((each) => cell(each, false)),
    ];
  }, [cells, edge, left, top, right, bottom, plateId]);
  const live = useLive(sheet, views);
  const asked = useAsked(live.pictures);
  const refusals = useRefusals(live.pictures);
  const here = presentCell(of, cells, props.now);

  function press(event: React.PointerEvent<HTMLButtonElement>, cell: Cell) {
    if (event.button !== 0) return;
    event.stopPropagation();
    const begin = { x: event.clientX, y: event.clientY };
    // From where the spot truly is: it may be held at the sheet's edge.
    const from = { x: (left + right) / 2, y: (top + bottom) / 2 };
    followPointer(event, {
      move: (at) =>
        setSpot({
          x: from.x - (at.clientX - begin.x) / whole.width,
          y: from.y - (at.clientY - begin.y) / whole.height,
        }),
      end: (at, isCancelled) => {
        if (!isCancelled && !isFarFrom(event, at)) props.onTake(cell.values, cell.words);
      },
    });
  }

  return (
    <section
      className="strip"
      aria-label={`Test strip of ${of.title}`}
      data-asked={asked}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <header>
        <h2>Test strip: {of.title}</h2>
        {of.dial && (
          <StripChoices
            others={others}
            across={across}
            count={count}
            isNear={isNear}
            onAcross={setAcross}
            onCount={setCount}
            onNear={setNear}
          />
        )}
        <span className="strip-hint">Drag to another spot, turn the wheel to come closer.</span>
        <Button size="sm" variant="plain" onClick={props.onLeave}>
          Leave as it was <kbd>Esc</kbd>
        </Button>
      </header>
      <div
        ref={cellsRef}
        className="strip-cells"
        style={{ gridTemplateColumns: `repeat(${columns}, ${wide}px)`, gap: GAP_PX }}
      >
        {cells.map((cell, k) => (
          <button
            key={cell.id}
            ref={k === 0 ? first : undefined}
            type="button"
            className="strip-cell"
            aria-current={!second && k === here ? "true" : undefined}
            title="Take this value"
            onPointerDown={(event) => press(event, cell)}
            onKeyDown={(event) => {
              if (event.key === "Enter" || event.key === " ") {
                event.preventDefault();
                props.onTake(cell.values, cell.words);
              }
            }}
          >
            <span className="strip-picture" style={{ width: wide, height: high }}>
              {refusals.has(cell.id) ? (
                <span className="strip-refused">{refusals.get(cell.id)?.why}</span>
              ) : (
                <SmallProof className="strip-proof" pictures={live.pictures} id={cell.id} />
              )}
            </span>
            <span className="strip-words">
              {cell.words}
              {!second && k === here && " · now"}
            </span>
          </button>
        ))}
      </div>
      {live.problem && (
        <p className="strip-problem" role="alert">
          {live.problem}
        </p>
      )}
    </section>
  );
}

interface StripChoicesProps {
  others: DialSpec[];
  across: string;
  count: number;
  isNear: boolean;
  onAcross: (name: string) => void;
  onCount: (count: number) => void;
  onNear: (isNear: boolean) => void;
}

/** What a strip over a dial with a track is laid with. */
function StripChoices(props: StripChoicesProps) {
  const { others, across, count, isNear } = props;
  return (
    <>
      <Form.Select
        size="sm"
        aria-label="Second dial"
        value={across}
        onChange={(event) => props.onAcross(event.currentTarget.value)}
      >
        <option value="">one dial</option>
        {others.map((each) => (
          <option key={each.name} value={each.name}>
            with {each.label.toLowerCase()}
          </option>
        ))}
      </Form.Select>
      {!across && (
        <ButtonGroup size="sm" aria-label="How many values">
          {[5, 7, 9].map((each) => (
            <Button
              key={each}
              variant="plain"
              active={count === each}
              aria-pressed={count === each}
              onClick={() => props.onCount(each)}
            >
              {each}
            </Button>
          ))}
        </ButtonGroup>
      )}
      <Button
        size="sm"
        variant="plain"
        active={isNear}
        aria-pressed={isNear}
        title="Values close to the present one"
        onClick={() => props.onNear(!isNear)}
      >
        Close by
      </Button>
    </>
  );
}
