import type { PhotoRecord, PullRecord, Sheet } from "../api/client";
import { KeepRecipe } from "./KeepRecipe";
import { OtherPhoto } from "./OtherPhoto";
import { PullsPanel } from "./PullsPanel";
import { RulerDialog } from "./RulerDialog";
import type { usePulls } from "./usePulls";

/** Which dialog is open; "" for none. */
export type Open = "" | "pulls" | "recipe" | "photo" | "ruler";

interface DialogsProps {
  open: Open;
  sheetId: number;
  sheet: Sheet;
  pulls: ReturnType<typeof usePulls>;
  onKeepPull: (name: string) => void;
  onGoBack: (pull: PullRecord) => void;
  onCompare: (pull: PullRecord) => void;
  onPhoto: (photo: PhotoRecord) => void;
  onCalibrated: () => void;
  onKeptRecipe: (name: string) => void;
  onLeave: () => void;
}

/** What opens over the bench. */
export function Dialogs({ open, sheetId, sheet, pulls, onLeave, ...on }: DialogsProps) {
  return (
    <>
      <PullsPanel
        show={open === "pulls"}
        sheetId={sheetId}
        pulls={pulls.list}
        deleted={pulls.deleted}
        onKeep={on.onKeepPull}
        onRename={(pull, name) => void pulls.rename(pull, name)}
        onGoBack={on.onGoBack}
        onCompare={on.onCompare}
        onRemove={(pull) => void pulls.remove(pull)}
        onPutBack={() => void pulls.putBack()}
        onLeave={onLeave}
      />
      <KeepRecipe
        show={open === "recipe"}
        sheetId={sheetId}
        sheet={sheet}
        onKept={on.onKeptRecipe}
        onLeave={onLeave}
      />
      <OtherPhoto
        show={open === "photo"}
        present={sheet.photo}
        onChoose={on.onPhoto}
        onLeave={onLeave}
      />
      <RulerDialog show={open === "ruler"} onDone={on.onCalibrated} onLeave={onLeave} />
    </>
  );
}
