import { Link } from "react-router";
import type { Catalogue, SheetRecord } from "../api/client";
import { CardTitle } from "./CardTitle";
import { looksOf } from "./finding";
import { lastPicture } from "../sheet/lastPicture";
import { paperWords } from "../sheet/paper";
import { DrawnImage } from "../shared/DrawnImage";

interface SheetCardProps {
  record: SheetRecord;
  catalogue: Catalogue | undefined;
  onRemove: () => void;
}

/** A sheet on the shelf with its last picture. */
export function SheetCard({ record, catalogue, onRemove }: SheetCardProps) {
  const { sheet } = record;
  return (
    <li className="sheet-card">
      <Link to={`/sheets/${record.id}`}>
        <DrawnImage src={lastPicture(record)} alt={`Drawing: ${sheet.title}`} />
      </Link>
      <CardTitle title={sheet.title} onRemove={onRemove} />
      <p className="soft">
        {looksOf(record, catalogue)}, {paperWords(sheet.paper)}
        <br />
        {lastTouched(record.touched_at)}
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
