import { useId, useState } from "react";
import type { Catalogue, Plate, Sheet } from "../../api/client";
import { type DialRef, isUsed, kindOf, settingsOf } from "../../sheet/stages";

interface FindDialProps {
  catalogue: Catalogue;
  sheet: Sheet;
  plate: Plate;
  onGo: (ref: DialRef) => void;
  onLeave: () => void;
}

interface Found extends DialRef {
  label: string;
  title: string;
  hint: string;
  group: string;
}

const MOST = 9;

/** Finds any dial of any stage by its name, and goes there. */
export function FindDial({ catalogue, sheet, plate, onGo, onLeave }: FindDialProps) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const found = dialsNamed(everyDial(catalogue, sheet, plate), typed).slice(0, MOST);
  const here = Math.min(at, found.length - 1);

  function keyed(event: React.KeyboardEvent) {
    const acts: Record<string, () => void> = {
      ArrowDown: () => setAt(Math.min(here + 1, found.length - 1)),
      ArrowUp: () => setAt(Math.max(0, here - 1)),
      Enter: () => found[here] && onGo(found[here]),
      Escape: onLeave,
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  }

  return (
    <div className="find-dial">
      <input
        autoFocus
        type="search"
        role="combobox"
        aria-expanded="true"
        aria-controls={id}
        aria-activedescendant={found[here] && `${id}-${here}`}
        aria-label="Find a dial by its name"
        placeholder="Find a dial"
        className="form-control form-control-sm"
        value={typed}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setAt(0);
        }}
        onKeyDown={keyed}
        onBlur={onLeave}
      />
      <ul id={id} role="listbox" aria-label="Dials found">
        {found.map((each, k) => (
          <li
            key={`${each.step} ${each.dial}`}
            id={`${id}-${k}`}
            role="option"
            aria-selected={k === here}
            title={each.hint}
            // Before the field loses the focus, and with it this list goes.
            onPointerDown={(event) => {
              event.preventDefault();
              onGo(each);
            }}
          >
            <span>{each.label}</span> <em>{each.title}</em>
          </li>
        ))}
        {found.length === 0 && <li className="soft">No dial has these words.</li>}
      </ul>
    </div>
  );
}

/** Every dial that does something on this plate now, in the order of the stages. */
export function everyDial(catalogue: Catalogue, sheet: Sheet, plate: Plate): Found[] {
  return catalogue.steps.flatMap(({ name: step, title }) => {
    const settings = settingsOf(sheet, plate, step);
    const dials = kindOf(catalogue, step, settings)?.dials ?? [];
    return dials
      .filter((dial) => isUsed(dial, settings))
      .map(({ name, label, hint, group }) => ({ step, dial: name, label, title, hint, group }));
  });
}

/** Those that have every typed word; names that begin with it come first. */
export function dialsNamed(dials: Found[], typed: string): Found[] {
  const words = typed.trim().toLowerCase().split(/\s+/);
  const found = dials.filter((each) => {
    const text = `${each.label} ${each.title} ${each.group} ${each.hint}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  const rank = (each: Found) => (each.label.toLowerCase().startsWith(words[0] ?? "") ? 0 : 1);
  return found.toSorted((one, other) => rank(one) - rank(other));
}
