import type { DialRef } from "../../sheet/stages";

/** What a dial is found by on the page. */
export function dialKey({ step, dial }: DialRef): string {
  return `${step}.${dial}`;
}

/** Bring a dial of the stage that shows into view and give it the focus. */
export function focusDial(ref: DialRef): void {
  const dial = document.querySelector(`[data-dial="${dialKey(ref)}"]`);
  dial?.closest("details")?.setAttribute("open", "");
  const control = dial?.querySelector<HTMLElement>(
    "input[type=range], .kind-row, input, select, [role=slider], button",
  );
  control?.scrollIntoView({ block: "center" });
  control?.focus();
}
