import { useId } from "react";
import type { DialSpec, Sheet, View } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { StripMark } from "../../shared/StripMark";
import type { Step } from "../../sheet/stages";
import { Chooser } from "../choosing/Chooser";
import { LiveOptions } from "../choosing/LiveOptions";

interface ChoiceDialProps {
  reference: string;
  sheet: Sheet;
  plateId: string;
  step: Step;
  spec: DialSpec;
  value: string;
  onChange: (value: string, gesture: string) => void;
  onStrip: () => void;
  onTouch: () => void;
}

/** One of a few values in words; open, each is drawn on this sheet. */
export function ChoiceDial({
  reference,
  sheet,
  plateId,
  step,
  spec,
  value,
  ...on
}: ChoiceDialProps) {
  const id = useId();
  const present = spec.options.find((option) => option.name === value);
  return (
    <div className="dial dial-choice" data-dial={reference} onFocus={on.onTouch}>
      <div className="dial-head">
        <span className="form-label" id={id}>
          {spec.label}
        </span>
        <StripMark label={spec.label} onStrip={on.onStrip} />
      </div>
      <Chooser
        chosen={present?.label ?? value}
        title={present?.hint}
        others={present?.also ?? ""}
        labelledBy={id}
      >
        {(close, listId) => (
          <LiveOptions
            id={listId}
            label={spec.label}
            sheet={sheet}
            plateId={plateId}
            path={reference}
            what={shownAt(step)}
            options={spec.options}
            chosen={value}
            onChoose={(name) => {
              if (name !== value) on.onChange(name, newGesture());
              close();
            }}
          />
        )}
      </Chooser>
      <span className="dial-hint">{present?.hint ?? spec.hint}</span>
    </div>
  );
}

/** Inks are seen on the sheet, all else where it leaves its stage. */
function shownAt(step: Step): Pick<View, "what" | "stage"> {
  if (step === "ink" || step === "paper" || step === "photo")
    return { what: "sheet", stage: "ink" };
  return { what: "stage", stage: step };
}
