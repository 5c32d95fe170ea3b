import type { Compare } from "../bed/useCompare";
import type { Looking } from "../bed/useLooking";
import type { TheBench } from "../theBench";
import { KeepRecipe } from "./KeepRecipe";
import { OtherPhoto } from "./OtherPhoto";
import { PullsPanel } from "./PullsPanel";
import { RulerDialog } from "./RulerDialog";
import type { Keeping } from "./useKeeping";

interface DialogsProps {
  bench: TheBench;
  keeping: Keeping;
  looking: Looking;
  compare: Compare;
  onSaid: (words: string) => void;
}

/** What opens over the bench. */
export function Dialogs({ bench, keeping, looking, compare, onSaid }: DialogsProps) {
  const { id, sheet, catalogue } = bench;
  const { open, setOpen, pulls } = keeping;
  const leave = () => setOpen("");
  return (
    <>
      <PullsPanel
        show={open === "pulls"}
        sheetId={id}
        pulls={pulls.list}
        deleted={pulls.deleted}
        onKeep={keeping.keepPull}
        onRename={(pull, name) => void pulls.rename(pull, name)}
        onGoBack={keeping.goBack}
        onCompare={(pull) => {
          leave();
          compare.choose(`pull ${pull.id}`);
        }}
        onRemove={(pull) => void pulls.remove(pull)}
        onPutBack={() => void pulls.putBack()}
        onLeave={leave}
      />
      <KeepRecipe
        show={open === "recipe"}
        sheetId={id}
        sheet={sheet}
        catalogue={catalogue}
        onKept={(name) => {
          leave();
          onSaid(`“${name}” is in the recipe book.`);
        }}
        onLeave={leave}
      />
      <OtherPhoto
        show={open === "photo"}
        present={sheet.picture.photo}
        onChoose={(photo, tones) => void keeping.swapPhoto(photo, tones)}
        onLeave={leave}
      />
      <RulerDialog
        show={open === "ruler"}
        onDone={() => {
          leave();
          looking.showPaperSize();
        }}
        onLeave={leave}
      />
    </>
  );
}
