import type { SheetRecord } from "../../api/client";
import { useSheets } from "../../api/queries";
import { PictureDialog } from "../../shared/PictureDialog";
import { whileShown } from "../../shared/whileShown";

interface ChooseSheetProps {
  show: boolean;
  /** The sheet that it is laid on. */
  besides: number;
  onChoose: (sheet: SheetRecord) => void;
  onLeave: () => void;
}

/** Chooses finished work from the shelf, to be laid on a sheet. */
export const ChooseSheet = whileShown(function ChooseSheet({
  show,
  besides,
  onChoose,
  onLeave,
}: ChooseSheetProps) {
  const sheets = useSheets(show);
  const others = sheets.data?.filter(
    ({ id, sheet }) => id !== besides && sheet.plates.every((each) => each.source.kind !== "sheet"),
  );
  return (
    <PictureDialog
      show={show}
      title="A sheet to lay here"
      choices={others?.map((record) => ({
        key: record.id,
        src: `/api/sheets/${record.id}/picture?long_edge_px=320&mark=${record.mark}`,
        title: record.sheet.title,
        onChoose: () => onChoose(record),
      }))}
      none="There is no other sheet that can be laid."
      onLeave={onLeave}
    />
  );
});
