import { useState } from "react";
import type { ExportSize, Sheet } from "../api/client";
import { paperWords } from "../sheet/paper";
import { DrawnImage } from "../shared/DrawnImage";

interface PaperPreviewProps {
  id: number;
  sheet: Sheet;
  size: ExportSize | undefined;
  revision: string;
}

/** The drawing on its paper, with its measures along two edges. */
export function PaperPreview({ id, sheet, size, revision }: PaperPreviewProps) {
  const [loaded, setLoaded] = useState(false);
  const of = encodeURIComponent(paperWords(sheet.paper));
  const url = `/api/sheets/${id}/picture?long_edge_px=1400&for=${of}-${revision}`;
  return (
    <figure className="paper-preview">
      <DrawnImage src={url} alt={`Drawing: ${sheet.title}`} onLoad={() => setLoaded(true)} />
      {!loaded && <div className="bed-waiting">Drawing…</div>}
      {size && loaded && (
        <>
          <figcaption className="measure measure-width">{size.width_mm.toFixed(1)} mm</figcaption>
          <div className="measure measure-height">{size.height_mm.toFixed(1)} mm</div>
        </>
      )}
    </figure>
  );
}
