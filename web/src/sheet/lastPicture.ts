import type { SheetRecord } from "../api/client";

/** The address of a sheet's picture as it is now; the browser keeps it under its mark. */
export function lastPicture(record: SheetRecord): string {
  return `/api/sheets/${record.id}/picture?long_edge_px=560&mark=${record.mark}`;
}
