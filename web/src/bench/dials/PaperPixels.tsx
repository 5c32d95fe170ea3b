import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";

interface PaperPixelsProps {
  sheet: Sheet;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

const MM_PER_INCH = 25.4;
/** Ends of a paper's long edge, mm. */
const [LEAST_MM, MOST_MM] = [10, 2000];

/** A paper whose long edge has so many pixels at a resolution. */
export function PaperPixels({ sheet, onChange }: PaperPixelsProps) {
  const [pixels, setPixels] = useState("3000");
  const [dpi, setDpi] = useState("300");
  const mm = (Number(pixels) / Number(dpi)) * MM_PER_INCH;
  const isAllowed = mm >= LEAST_MM && mm <= MOST_MM;

  function take(event: React.FormEvent) {
    event.preventDefault();
    if (!isAllowed) return;
    const paper = withLongEdge(sheet.paper, Math.round(mm * 100) / 100);
    onChange({ ...sheet, paper }, `Paper: ${pixels} px at ${dpi} dots an inch`, newGesture());
  }

  return (
    <form className="paper-pixels" onSubmit={take}>
      <span className="form-label">Size by pixels</span>
      <div>
        <input
          className="dial-value"
          inputMode="numeric"
          aria-label="Pixels of the long edge"
          value={pixels}
          onChange={(event) => setPixels(event.currentTarget.value)}
        />{" "}
        px at{" "}
        <input
          className="dial-value"
          inputMode="numeric"
          aria-label="Dots an inch of the paper"
          value={dpi}
          onChange={(event) => setDpi(event.currentTarget.value)}
        />{" "}
        dots an inch
      </div>
      <Button type="submit" size="sm" variant="plain" disabled={!isAllowed}>
        {isAllowed ? `Take ${mm.toFixed(1)} mm` : `A long edge is ${LEAST_MM} to ${MOST_MM} mm`}
      </Button>
    </form>
  );
}

/** A paper whose long edge is so many mm; its shape stays. */
export function withLongEdge(paper: Sheet["paper"], mm: number): Sheet["paper"] {
  if (paper.size === "as-picture") return { ...paper, long_edge: mm };
  const times = mm / Math.max(paper.width, paper.height);
  const rounded = (length: number) => Math.round(length * times * 100) / 100;
  return { ...paper, width: rounded(paper.width), height: rounded(paper.height) };
}
