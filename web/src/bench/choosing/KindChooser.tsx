import { memo, useEffect, useId, useRef, useState } from "react";
import type { KindSpec } from "../../api/client";
import { SmallProof } from "../../live/SmallProof";
import type { Pictures, Refusal } from "../../live/pictures";

interface KindChooserProps {
  kinds: KindSpec[];
  chosen: string;
  label: string;
  /** What the others are called together. */
  others: string;
  /** Small drawings of this photo, by view id; without them the kinds show as words. */
  pictures?: Pictures | undefined;
  /** Why a kind cannot be drawn here, by view id. */
  refusals?: ReadonlyMap<string, Refusal> | undefined;
  onChoose: (kind: KindSpec) => void;
}

/** What is chosen, in one row; the others lie over the column while it is open: looks as small real
 * drawings, ways to smooth as words. Choosing, Esc or a press beside it closes it. */
export const KindChooser = memo(function KindChooser(props: KindChooserProps) {
  const { kinds, chosen, label, others, pictures, refusals, onChoose } = props;
  const [isOpen, open] = useState(false);
  const id = useId();
  const row = useRef<HTMLButtonElement>(null);
  const all = useRef<HTMLDivElement>(null);
  const whole = useRef<HTMLDivElement>(null);

  useEffect(() => {
    if (!isOpen) return;
    all.current?.querySelector<HTMLElement>("[aria-pressed=true]")?.focus();
    function closeBeside(event: PointerEvent) {
      if (!whole.current?.contains(event.target as Node)) open(false);
    }
    document.addEventListener("pointerdown", closeBeside);
    return () => document.removeEventListener("pointerdown", closeBeside);
  }, [isOpen]);

  function close() {
    open(false);
    row.current?.focus();
  }

  return (
    <div
      ref={whole}
      className="kind-chooser"
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !isOpen) return;
        event.stopPropagation();
        close();
      }}
    >
      <button
        ref={row}
        type="button"
        className="kind-row"
        aria-expanded={isOpen}
        aria-controls={id}
        title={kinds.find((kind) => kind.name === chosen)?.purpose}
        onClick={() => open(!isOpen)}
      >
        {pictures && <SmallProof pictures={pictures} id="run-draw" />}
        <strong>{kinds.find((kind) => kind.name === chosen)?.label}</strong>
        <span className="kind-others">{others}</span>
      </button>
      {isOpen && (
        <div
          ref={all}
          id={id}
          className={pictures ? "kinds kinds-drawn" : "kinds"}
          role="group"
          aria-label={label}
        >
          {kinds.map((kind) => (
            <button
              key={kind.name}
              type="button"
              className="kind"
              aria-pressed={kind.name === chosen}
              title={refusals?.get(`look-${kind.name}`)?.why ?? kind.purpose}
              onClick={() => {
                if (kind.name !== chosen) onChoose(kind);
                close();
              }}
            >
              {pictures && refusals?.has(`look-${kind.name}`) && (
                <span className="kind-refused">
                  {refusals.get(`look-${kind.name}`)?.later
                    ? "being made ready"
                    : "too many marks at this size"}
                </span>
              )}
              {pictures && !refusals?.has(`look-${kind.name}`) && (
                <SmallProof pictures={pictures} id={`look-${kind.name}`} />
              )}
              <span>{kind.label}</span>
            </button>
          ))}
        </div>
      )}
    </div>
  );
});
