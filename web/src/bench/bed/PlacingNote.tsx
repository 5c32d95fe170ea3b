import { Button } from "react-bootstrap";
import type { Live } from "../../live/useLive";

/** Says how many marks are being placed and how long that takes, with a way to stop it. */
export function PlacingNote({ live }: { live: Live }) {
  const { placing, stopPlacing, placeThem } = live;
  if (!placing) return null;
  const count = placing.marks.toLocaleString("en-GB");
  return (
    <div className="bed-placing" role="status" onPointerDown={(event) => event.stopPropagation()}>
      {placing.isStopped ? (
        <>
          {placing.of}: about {count} marks were not placed. What you see is a draft.
          <Button size="sm" variant="plain" onClick={placeThem}>
            Place them
          </Button>
        </>
      ) : (
        <>
          {placing.of}: about {count} marks are being placed, {secondsWords(placing.seconds)}.
          <Button size="sm" variant="plain" onClick={stopPlacing}>
            Stop
          </Button>
        </>
      )}
    </div>
  );
}

function secondsWords(seconds: number): string {
  return seconds < 1.5 ? "about a second" : `about ${Math.round(seconds)} seconds`;
}
