import { useRef, useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { drawMark } from "../../api/client";
import { arrowWay } from "../../shared/arrows";
import { followPointer } from "../../shared/followPointer";
import { Trouble } from "../../shared/Trouble";
import { whileShown } from "../../shared/whileShown";

interface MarkPadProps {
  show: boolean;
  onLeave: () => void;
  /** Takes the path of what was drawn. */
  onTake: (path: string) => void;
}

type Point = [number, number];
type Line = Point[];

/** Steps of the cross in shares of the pad, and how near points of a line may lie. */
const [STEP, FAR, NEAR] = [0.02, 0.1, 0.004];
const share = (value: number) => Math.min(1, Math.max(0, Number(value.toFixed(4))));

/** A small pad on which a mark is drawn by hand, or corner by corner by keys. */
export const MarkPad = whileShown(function MarkPad({ show, onLeave, onTake }: MarkPadProps) {
  const [lines, setLines] = useState<Line[]>([]);
  const [nib, setNib] = useState(0.08);
  const [isFilled, setFilled] = useState(false);
  const [cross, setCross] = useState<Point | null>(null);
  // Whether the next corner set by keys goes on with the last line.
  const goesOn = useRef(false);
  const [trouble, setTrouble] = useState("");
  const pad = useRef<SVGSVGElement>(null);

  function at(event: { clientX: number; clientY: number }): Point {
    const bounds = pad.current!.getBoundingClientRect();
    return [
      share((event.clientX - bounds.left) / bounds.width),
      share((event.clientY - bounds.top) / bounds.height),
    ];
  }

  function longer(point: Point) {
    setLines((before) => {
      const last = before.at(-1) ?? [];
      const end = last.at(-1);
      const isNear = end && Math.hypot(end[0] - point[0], end[1] - point[1]) < NEAR;
      return isNear ? before : [...before.slice(0, -1), [...last, point]];
    });
  }

  function begin(event: React.PointerEvent) {
    if (event.button !== 0) return;
    goesOn.current = false;
    const first = at(event);
    setCross(null);
    setLines((before) => [...before, [first]]);
    followPointer(event, {
      move: (to) => {
        for (const each of to.getCoalescedEvents?.() ?? [to]) longer(at(each));
      },
    });
  }

  function keyed(event: React.KeyboardEvent) {
    const way = arrowWay(event, STEP, FAR);
    const [x, y] = cross ?? [0.5, 0.5];
    if (way) setCross([share(x + way.x), share(y + way.y)]);
    else if (event.key === " ") {
      setCross([x, y]);
      if (goesOn.current) longer([x, y]);
      else setLines((before) => [...before, [[x, y]]]);
      goesOn.current = true;
    } else if (event.key === "Enter") goesOn.current = false;
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function takeBack() {
    goesOn.current = false;
    setLines((before) => before.slice(0, -1));
  }

  async function take() {
    try {
      const { path } = await drawMark({ lines, nib, filled: isFilled });
      setTrouble("");
      onTake(path);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  }

  return (
    <Modal show={show} onHide={onLeave} centered aria-label="Draw a mark">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4">
          Draw a mark
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="mark-pad">
        <svg
          ref={pad}
          viewBox="0 0 1 1"
          role="application"
          tabIndex={0}
          aria-label="Pad: draw with the pointer, or move a cross by arrows, set corners with Space, end a line with Enter"
          onPointerDown={begin}
          onKeyDown={keyed}
        >
          <path className="mark-lines" d="M0 0.5H1M0.5 0V1" />
          {lines.map((line, k) => (
            <path
              key={k}
              d={pathOf(line)}
              fill={isFilled ? "currentColor" : "none"}
              stroke="currentColor"
              strokeWidth={nib}
              strokeLinecap="round"
              strokeLinejoin="round"
            />
          ))}
          {cross && (
            <path
              className="mark-cross"
              d={`M${cross[0] - 0.03} ${cross[1]}h0.06M${cross[0]} ${cross[1] - 0.03}v0.06`}
            />
          )}
        </svg>
        <div>
          <Form.Label htmlFor="mark-nib">Width of the line</Form.Label>
          <Form.Range
            id="mark-nib"
            min={0.01}
            max={0.3}
            step={0.01}
            value={nib}
            onChange={(event) => setNib(event.currentTarget.valueAsNumber)}
          />
          <Form.Check
            id="mark-filled"
            type="switch"
            label="Filled within"
            checked={isFilled}
            onChange={(event) => setFilled(event.currentTarget.checked)}
          />
          <p className="soft">
            However large it is drawn, the pen strews it as large as its size says.
          </p>
          <div className="mark-acts">
            <Button size="sm" variant="plain" disabled={lines.length === 0} onClick={takeBack}>
              Take back the last
            </Button>
            <Button
              size="sm"
              variant="plain"
              disabled={lines.length === 0}
              onClick={() => setLines([])}
            >
              Bare pad
            </Button>
          </div>
          {trouble && <Trouble sentence={trouble} />}
        </div>
      </Modal.Body>
      <Modal.Footer>
        <Button disabled={lines.length === 0} onClick={() => void take()}>
          Strew this mark
        </Button>
      </Modal.Footer>
    </Modal>
  );
});

/** A line as SVG path data; a point alone is a dot. */
function pathOf(line: Line): string {
  const [first, ...rest] = line;
  if (!first) return "";
  return `M${first.join(" ")}${rest.length ? rest.map((each) => `L${each.join(" ")}`).join("") : "h0"}`;
}
