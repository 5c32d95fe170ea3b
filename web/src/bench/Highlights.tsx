import { Button } from "react-bootstrap";
import type { Spot } from "../api/client";
import type { Step } from "./stages";
import type { Highlight } from "./useJudging";
import { boxOf, type Place } from "./zoom";

type Region = [number, number, number, number];

interface HighlightsProps {
  highlight: Highlight;
  place: Place;
  aspect: number;
  spots: Spot[];
  lostMap: string | undefined;
  lostPlaces: Region[];
  onJump: (region: Region) => void;
  onDial: (step: Step, label: string) => void;
  onLeave: () => void;
}

interface Advice {
  title: string;
  words: string;
  step: Step;
  dial: string;
}

const ADVICE: Record<Highlight, Advice> = {
  lost: {
    title: "Lost detail",
    words:
      "Tinted: the photo has detail there, and the drawing is bare or solid. What Tone loses stays lost.",
    step: "tone",
    dial: "Shadows",
  },
  thin: {
    title: "Thin lines",
    words: "Ringed: lines thinner than 0.1 mm, which a press may not hold.",
    step: "clean",
    dial: "Thicken",
  },
  narrow: {
    title: "Narrow gaps",
    words: "Ringed: gaps narrower than 0.1 mm, which may fill up with ink.",
    step: "clean",
    dial: "Thicken",
  },
  specks: {
    title: "Specks",
    words: "Ringed: pieces smaller than a dot of 0.16 mm, which may not print.",
    step: "clean",
    dial: "Specks",
  },
};
const MOST_JUMPS = 6;

/** Shows on the sheet where a figure comes from, and leads to the dial that helps. */
export function Highlights(props: HighlightsProps) {
  const { highlight, place, aspect, spots } = props;
  const advice = ADVICE[highlight];
  const jumps =
    highlight === "lost" ? props.lostPlaces : spots.map((spot) => roundSpot(spot, aspect));
  const box = boxOf(place, aspect);
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
        <p>{jumps.length > 0 ? advice.words : "None on this sheet."}</p>
        <div className="advice-acts">
          {jumps.slice(0, MOST_JUMPS).map((region, number) => (
            <Button
              key={number}
              size="sm"
              variant="plain"
              aria-label={`Go to place ${number + 1}`}
              onClick={() => props.onJump(region)}
            >
              {number + 1}
            </Button>
          ))}
          <Button size="sm" variant="link" onClick={() => props.onDial(advice.step, advice.dial)}>
            To the dial {advice.dial}
          </Button>
          <Button size="sm" variant="plain" className="ms-auto" onClick={props.onLeave}>
            Done
          </Button>
        </div>
      </section>
    </>
  );
}

/** A region a few times as wide as a spot. */
function roundSpot(spot: Spot, aspect: number): Region {
  const wide = aspect >= 1 ? spot.radius : spot.radius / aspect;
  const high = aspect >= 1 ? spot.radius * aspect : spot.radius;
  return [spot.x - 4 * wide, spot.y - 4 * high, spot.x + 4 * wide, spot.y + 4 * high];
}
