import { useState } from "react";
import { areasOf, enterArea } from "./areas";

/** Links that show once they have the focus, each to an area of the page. */
export function SkipLinks() {
  const [areas, setAreas] = useState<HTMLElement[]>([]);
  return (
    <nav className="skip-links" aria-label="Areas of this page" onFocus={() => setAreas(areasOf())}>
      {/* One of them is always there, so that Tab comes here before anything else. */}
      <button type="button" onClick={() => areas[0] && enterArea(areas[0])}>
        {areas[0] ? `To ${areas[0].dataset.area}` : "Areas of this page"}
      </button>
      {areas.slice(1).map((area) => (
        <button key={area.dataset.area} type="button" onClick={() => enterArea(area)}>
          To {area.dataset.area}
        </button>
      ))}
      {areas.length > 0 && (
        <span>
          <kbd>F6</kbd> goes from one to the next
        </span>
      )}
    </nav>
  );
}
