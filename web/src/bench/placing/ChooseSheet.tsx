import { Modal } from "react-bootstrap";
import type { SheetRecord } from "../../api/client";
import { useSheets } from "../../api/queries";
import { DrawnImage } from "../../shared/DrawnImage";
import { useRoving } from "../../shared/roving";

interface ChooseSheetProps {
  show: boolean;
  /** The sheet that it is laid on. */
  besides: number;
  onChoose: (sheet: SheetRecord) => void;
  onLeave: () => void;
}

/** Chooses finished work from the shelf, to be laid on a sheet. */
export function ChooseSheet({ show, besides, onChoose, onLeave }: ChooseSheetProps) {
  const sheets = useSheets(show);
  const roving = useRoving<HTMLUListElement>();
  const others = sheets.data?.filter(
    ({ id, sheet }) => id !== besides && sheet.plates.every((each) => each.source.kind !== "sheet"),
  );
  return (
    <Modal show={show} onHide={onLeave} centered size="lg" aria-labelledby="choose-sheet-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="choose-sheet-title">
          A sheet to lay here
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <ul className="other-photos" {...roving}>
          {others?.map((record) => (
            <li key={record.id}>
              <button type="button" onClick={() => onChoose(record)}>
                <DrawnImage
                  loading="lazy"
                  src={`/api/sheets/${record.id}/picture?long_edge_px=320&mark=${record.mark}`}
                  alt=""
                />
                {record.sheet.title}
              </button>
            </li>
          ))}
        </ul>
        {others?.length === 0 && <p className="soft">There is no other sheet that can be laid.</p>}
      </Modal.Body>
    </Modal>
  );
}
