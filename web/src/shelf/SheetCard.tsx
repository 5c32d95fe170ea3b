import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { SheetRecord } from "../api/client";
import { lastPicture } from "../sheet/lastPicture";
import { paperWords } from "../sheet/paper";
import { DrawnImage } from "../shared/DrawnImage";

/** A sheet on the shelf with its last picture. */
export function SheetCard({ record, onRemove }: { record: SheetRecord; onRemove: () => void }) {
  const { sheet } = record;
  const looks = sheet.plates.map((plate) => plate.draw.look).join(" over ");
  return (
    <li className="sheet-card">
      <Link to={`/sheets/${record.id}`}>
        <DrawnImage src={lastPicture(record)} alt={`Drawing: ${sheet.title}`} />
      </Link>
      <div className="card-line">
        <h3>
          <Link to={`/sheets/${record.id}`}>{sheet.title}</Link>
        </h3>
        <Button
          variant="link"
          size="sm"
          className="card-remove"
          aria-label={`remove ${sheet.title} from the shelf`}
          onClick={onRemove}
        >
          remove
        </Button>
      </div>
      <p className="soft">
        {looks}, {paperWords(sheet.paper)} · {lastTouched(record.touched_at)}
      </p>
    </li>
  );
}

function lastTouched(at: string): string {
  return new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "long",
    hour: "2-digit",
    minute: "2-digit",
  });
}
