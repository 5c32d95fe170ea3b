import { useCallback, useEffect, useRef } from "react";

const ITEMS = "button, a[href], summary, [data-roving]";
/** How far beside a line of items another still counts as in that line, CSS pixels. */
const SAME_LINE_PX = 6;

/**
 * One stop for Tab in a group of controls: the arrows, Home and End go from one to the next. The
 * stop is where the focus was last, or at what is chosen. Returns what the group is given.
 */
export function useRoving<E extends HTMLElement = HTMLElement>() {
  const group = useRef<E | null>(null);

  const settle = useCallback(() => {
    const items = itemsOf(group.current);
    const stop = items.find((item) => item === document.activeElement) ?? stopOf(items);
    for (const item of items) {
      const index = item === stop ? 0 : -1;
      if (item.tabIndex !== index) item.tabIndex = index;
    }
  }, []);

  useEffect(() => {
    const element = group.current;
    if (!element) return undefined;
    settle();
    const observer = new MutationObserver(settle);
    observer.observe(element, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ["disabled", "aria-pressed", "aria-current"],
    });
    return () => observer.disconnect();
  }, [settle]);

  const onKeyDown = useCallback((event: React.KeyboardEvent) => {
    if (event.altKey || event.ctrlKey || event.metaKey || event.defaultPrevented) return;
    const items = itemsOf(group.current);
    const here = items.indexOf(event.target as HTMLElement);
    if (here < 0) return;
    const next = neighbour(items, here, event.key);
    if (!next) return;
    event.preventDefault();
    next.focus();
  }, []);

  return { ref: group, onKeyDown, onFocus: settle };
}

/** The items of a group that can have the focus now, in their order. */
function itemsOf(group: HTMLElement | null): HTMLElement[] {
  return [...(group?.querySelectorAll<HTMLElement>(ITEMS) ?? [])].filter(
    (item) => !item.matches(":disabled") && !item.closest("[inert], [hidden]"),
  );
}

function stopOf(items: HTMLElement[]): HTMLElement | undefined {
  const chosen = items.find((item) => item.matches("[aria-current], [aria-pressed=true]"));
  return items.find((item) => item.getAttribute("tabindex") === "0") ?? chosen ?? items[0];
}

/** Where a key leads from an item: along the order, or up and down to the nearest in that way. */
export function neighbour(
  items: HTMLElement[],
  here: number,
  key: string,
): HTMLElement | undefined {
  switch (key) {
    case "ArrowRight":
      return items[here + 1];
    case "ArrowLeft":
      return items[here - 1];
    case "Home":
      return items[0];
    case "End":
      return items.at(-1);
    case "ArrowDown":
      return nearest(items, items[here]!, +1);
    case "ArrowUp":
      return nearest(items, items[here]!, -1);
    default:
      return undefined;
  }
}

function nearest(items: HTMLElement[], from: HTMLElement, way: 1 | -1): HTMLElement | undefined {
  const start = from.getBoundingClientRect();
  let best: HTMLElement | undefined;
  let least = Infinity;
  for (const item of items) {
    const box = item.getBoundingClientRect();
    const down = way * (box.top - start.top);
    if (down < SAME_LINE_PX) continue;
    const far = 3 * down + Math.abs(box.left + box.width / 2 - start.left - start.width / 2);
    if (far < least) [best, least] = [item, far];
  }
  return best;
}
