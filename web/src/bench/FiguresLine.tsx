import type { Answer } from "../api/client";
import { percent } from "../shared/numbers";

/** What a printer wants to know of the drawing, and how long it took. */
export function FiguresLine({ answer, isBusy }: { answer: Answer | undefined; isBusy: boolean }) {
  const figures = answer?.figures;
  return (
    <footer className="figures" aria-label="Figures">
      {figures && (
        <span>
          ink <strong data-testid="ink">{percent(figures.ink)}</strong>
        </span>
      )}
      {figures?.marks != null && (
        <span>
          marks <strong data-testid="marks">{figures.marks.toLocaleString("en-GB")}</strong>
        </span>
      )}
      <span className="figures-keys">
        <kbd>?</kbd> keys
      </span>
      <span className="figures-time">
        {isBusy ? "drawing…" : answer ? `drawn in ${answer.ms.toFixed(0)} ms` : ""}
      </span>
    </footer>
  );
}
