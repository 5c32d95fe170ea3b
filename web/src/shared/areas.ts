/** The areas of a page: what the skip links name, and what F6 goes through. */

const CONTROLS =
  "button:not(:disabled), a[href], input:not(:disabled), select, textarea, summary, [tabindex]";

/** The areas that are there now, by their names, in the order of the page. */
export function areasOf(page: ParentNode = document): HTMLElement[] {
  return [...page.querySelectorAll<HTMLElement>("[data-area]")].filter(
    (area) => !area.closest("[inert]"),
  );
}

/** Put the focus on an area's first control, or on the area itself. */
export function enterArea(area: HTMLElement): void {
  const own = area.tabIndex >= 0 ? area : null;
  const first = [...area.querySelectorAll<HTMLElement>(CONTROLS)].find(
    (control) => control.tabIndex >= 0 && control.getClientRects().length > 0,
  );
  (own ?? first)?.focus();
}

/** Go to the next area, or the one before. */
export function nextArea(by: 1 | -1): void {
  const areas = areasOf();
  const here = areas.findIndex((area) => area.contains(document.activeElement));
  const start = here < 0 && by < 0 ? 0 : here;
  const next = areas[(start + by + areas.length) % areas.length];
  if (next) enterArea(next);
}
