import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Catalogue, Spot } from "../../api/client";
import { type DialRef, stepOf } from "../../sheet/stages";
import type { Highlight } from "./useJudging";
import { boxOf, type Place } from "../../live/zoom";

type Region = [number, number, number, number];

type Limits = Catalogue["limits"];

interface HighlightsProps {
  catalogue: Catalogue;
  highlight: Highlight;
  place: Place;
  aspect: number;
  spots: Spot[];
  lostMap: string | undefined;
  lostPlaces: Region[];
  /** Whether it has been looked for yet. */
  isKnown: boolean;
  onJump: (region: Region) => void;
  onDial: (dial: DialRef) => void;
  onOpen: (x: number, y: number) => void;
  onLeave: () => void;
}

interface Advice {
  title: string;
  words: (limits: Limits) => string;
  /** The dial that helps. */
  dial: DialRef;
}

const ADVICE: Record<Highlight, Advice> = {
  lost: {
    title: "Lost detail",
    words: () =>
      "Tinted: the photo has detail there, and the drawing is bare or solid. What Tone loses stays lost.",
    dial: { step: "tone", dial: "shadows" },
  },
  thin: {
    title: "Thin lines",
    words: ({ thin_mm }) => `Ringed: lines thinner than ${thin_mm} mm, which a press may not hold.`,
    dial: { step: "clean", dial: "thicken" },
  },
  narrow: {
    title: "Narrow gaps",
    words: ({ narrow_mm }) =>
      `Ringed: gaps narrower than ${narrow_mm} mm, which may fill with ink.`,
    dial: { step: "clean", dial: "thicken" },
  },
  specks: {
    title: "Specks",
    words: ({ speck_mm }) =>
      `Ringed: pieces smaller than a dot of ${speck_mm} mm, which may not print.`,
    dial: { step: "clean", dial: "specks" },
  },
};
const MOST_JUMPS = 6;

/** Shows on the sheet where a figure comes from, and leads to the dial that helps. */
export function Highlights(props: HighlightsProps) {
  const { catalogue, highlight, place, aspect, spots } = props;
  const advice = ADVICE[highlight];
  // Tone and Clean have one kind each.
  const dials = stepOf(catalogue, advice.dial.step).kinds[0]?.dials ?? [];
  const label = dials.find((dial) => dial.name === advice.dial.dial)?.label;
  const jumps =
    highlight === "lost" ? props.lostPlaces : spots.map((spot) => roundSpot(spot, aspect));
  const box = boxOf(place, aspect);
  const [went, setWent] = useState(0);
  const last = jumps[went];
  return (
    <>
      {highlight === "lost" && props.lostMap && (
        <img className="lost-map" src={props.lostMap} alt="" style={box} />
      )}
      {highlight !== "lost" && (
        <svg className="rings" style={box} viewBox={`0 0 ${box.width} ${box.height}`}>
          {spots.map((spot, number) => (
            <circle
              key={number}
              cx={spot.x * box.width}
              cy={spot.y * box.height}
              r={Math.max(7, spot.radius * place.edge)}
            />
          ))}
        </svg>
      )}
      <section
        className="advice"
        aria-label={advice.title}
        onPointerDown={(event) => event.stopPropagation()}
      >
        <h2>{advice.title}</h2>
        <p>{wordsFor(advice, catalogue.limits, jumps.length, props.isKnown)}</p>
        <div className="advice-acts">
          {jumps.slice(0, MOST_JUMPS).map((region, number) => (
            <Button
              key={number}
              size="sm"
              variant="plain"
              aria-label={`Go to place ${number + 1}`}
              aria-pressed={highlight === "lost" ? number === went : undefined}
              onClick={() => {
                setWent(number);
                props.onJump(region);
              }}
            >
              {number + 1}
            </Button>
          ))}
          {highlight === "lost" && last && (
            <Button
              size="sm"
              variant="plain"
              onClick={() => props.onOpen((last[0] + last[2]) / 2, (last[1] + last[3]) / 2)}
            >
              Open place {went + 1}
            </Button>
          )}
          <Button size="sm" variant="link" onClick={() => props.onDial(advice.dial)}>
            To the dial {label}
          </Button>
          <Button size="sm" variant="plain" className="ms-auto" onClick={props.onLeave}>
            Done
          </Button>
        </div>
      </section>
    </>
  );
}

function wordsFor(advice: Advice, limits: Limits, count: number, isKnown: boolean): string {
  if (count > 0) return advice.words(limits);
  return isKnown ? "None on this sheet." : "Being looked for…";
}

/** A region a few times as wide as a spot. */
function roundSpot(spot: Spot, aspect: number): Region {
  const wide = aspect >= 1 ? spot.radius : spot.radius / aspect;
  const high = aspect >= 1 ? spot.radius * aspect : spot.radius;
  return [spot.x - 4 * wide, spot.y - 4 * high, spot.x + 4 * wide, spot.y + 4 * high];
}
