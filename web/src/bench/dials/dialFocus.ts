import type { DialRef } from "../../sheet/stages";

/** What of a dial has the focus, whichever of them it has first. */
const CONTROLS = ["input[type=range]", ".kind-row", "[role=slider]", "input", "button"];

/** What a dial is found by on the page. */
export function dialKey({ step, dial }: DialRef): string {
  return `${step}.${dial}`;
}

/** Bring a dial of the stage that shows into view and give it the focus. */
export function focusDial(ref: DialRef): void {
  const dial = document.querySelector(`[data-dial="${dialKey(ref)}"]`);
  dial?.closest("details")?.setAttribute("open", "");
  const control = CONTROLS.map((each) => dial?.querySelector<HTMLElement>(each)).find(Boolean);
  control?.scrollIntoView({ block: "center" });
  control?.focus();
}
