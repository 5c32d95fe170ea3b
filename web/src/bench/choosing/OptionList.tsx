import { useState } from "react";
import type { OptionSpec } from "../../api/client";
import { SmallProof } from "../../live/SmallProof";
import { type Pictures, usePicture, useRefusals } from "../../live/pictures";
import { useRoving } from "../../shared/roving";

/** More than so many are searched by their names. */
const MANY = 10;

interface OptionListProps {
  id: string;
  label: string;
  options: OptionSpec[];
  chosen: string;
  /** Small drawings of each on this sheet, under the names that viewOf gives them. */
  pictures: Pictures;
  viewId: (name: string) => string;
  onChoose: (name: string) => void;
}

/** Everything there is to choose from, each drawn on this sheet, with a line on what it does. */
export function OptionList({ id, label, options, chosen, pictures, ...on }: OptionListProps) {
  const roving = useRoving<HTMLDivElement>();
  const refusals = useRefusals(pictures);
  const [typed, setTyped] = useState("");
  const found = options.filter((option) => isNamed(option, typed));
  return (
    <div className="kinds">
      {options.length > MANY && (
        <input
          type="search"
          className="form-control form-control-sm kinds-find"
          placeholder="Find by name"
          aria-label={`Find by name: ${label}`}
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
      )}
      <div id={id} className="kinds-drawn" role="group" aria-label={label} {...roving}>
        {found.map((option) => (
          <Option
            key={option.name}
            option={option}
            isChosen={option.name === chosen}
            pictures={pictures}
            view={on.viewId(option.name)}
            refusal={refusals.get(on.viewId(option.name))}
            onChoose={() => on.onChoose(option.name)}
          />
        ))}
        {found.length === 0 && <p className="soft">None has these words.</p>}
      </div>
    </div>
  );
}

interface OptionProps {
  option: OptionSpec;
  isChosen: boolean;
  pictures: Pictures;
  view: string;
  refusal: { why: string; later: boolean } | undefined;
  onChoose: () => void;
}

function Option({ option, isChosen, pictures, view, refusal, onChoose }: OptionProps) {
  const isSame = usePicture(pictures, view)?.answer.alike === true && !isChosen;
  return (
    <button
      type="button"
      className="kind"
      aria-pressed={isChosen}
      title={refusal?.why ?? option.hint}
      onClick={onChoose}
    >
      {refusal ? (
        <span className="kind-refused">
          {refusal.later ? "being made ready" : "too many marks at this size"}
        </span>
      ) : (
        <SmallProof pictures={pictures} id={view} />
      )}
      <span className="kind-name">{option.label}</span>
      {option.also && <span className="kind-also">{option.also}</span>}
      {isSame && <span className="kind-same">no change here</span>}
    </button>
  );
}

/** Whether every typed word stands in what is said of an option. */
export function isNamed(option: OptionSpec, typed: string): boolean {
  const text = `${option.label} ${option.also} ${option.hint} ${option.name}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
