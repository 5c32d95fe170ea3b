import { memo } from "react";
import type { KindSpec } from "../../api/client";
import { SmallProof } from "../../live/SmallProof";
import type { Pictures, Refusal } from "../../live/pictures";

interface KindChooserProps {
  kinds: KindSpec[];
  chosen: string;
  label: string;
  /** Small drawings of this photo, by view id; without them the kinds show as words. */
  pictures?: Pictures | undefined;
  /** Why a kind cannot be drawn here, by view id. */
  refusals?: ReadonlyMap<string, Refusal> | undefined;
  onChoose: (kind: KindSpec) => void;
}

/** Looks as small real drawings, or ways to smooth as words. */
export const KindChooser = memo(function KindChooser({
  kinds,
  chosen,
  label,
  pictures,
  refusals,
  onChoose,
}: KindChooserProps) {
  return (
    <div className={pictures ? "kinds kinds-drawn" : "kinds"} role="group" aria-label={label}>
      {kinds.map((kind) => (
        <button
          key={kind.name}
          type="button"
          className="kind"
          aria-pressed={kind.name === chosen}
          title={refusals?.get(`look-${kind.name}`)?.why ?? kind.purpose}
          onClick={() => kind.name !== chosen && onChoose(kind)}
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
  );
});
