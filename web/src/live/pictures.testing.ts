import type { Answer } from "../api/client";
import type { Picture } from "./pictures";

/** The main picture of the first ask, settled, with no pixels; for tests. */
export function drawn(more: Partial<Answer> = {}): Picture {
  const answer = { view: "main", ask: 1, draft: false, suggestions: null, ...more } as Answer;
  return { canvas: {} as HTMLCanvasElement, left: 0, top: 0, right: 1, bottom: 1, answer };
}
