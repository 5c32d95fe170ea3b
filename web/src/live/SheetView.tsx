import { useLayoutEffect, useRef } from "react";
import type { Picture } from "./pictures";
import { boxOf, type Place, type Size, sizeOf } from "./zoom";

interface SheetViewProps {
  area: Size;
  place: Place;
  aspect: number;
  /** Drawn in order: the whole sheet first, then the sharp part that shows. */
  layers: Picture[];
  label: string;
  asked: number;
  /** The canvas's class; the sheet's own picture is the only one without another. */
  name?: string;
}

/** The sheet on its bed. Old pictures stay until newer ones cover them, so it never blanks. */
export function SheetView({ area, place, aspect, layers, label, asked, name }: SheetViewProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null);
  const ratio = window.devicePixelRatio;

  useLayoutEffect(() => {
    const canvas = canvasRef.current;
    const pen = canvas?.getContext("2d");
    if (!canvas || !pen) return;
    const width = Math.round(area.width * ratio);
    const height = Math.round(area.height * ratio);
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    pen.clearRect(0, 0, canvas.width, canvas.height);
    const sheet = sizeOf(place.edge, aspect);
    for (const layer of layers) {
      const x = Math.round((place.x + layer.left * sheet.width) * ratio);
      const y = Math.round((place.y + layer.top * sheet.height) * ratio);
      const wide = (layer.right - layer.left) * sheet.width * ratio;
      const high = (layer.bottom - layer.top) * sheet.height * ratio;
      // At its own size a picture is copied pixel by pixel, so that 1:1 is truly 1:1.
      const own = Math.abs(wide - layer.canvas.width) < 1.5;
      pen.imageSmoothingEnabled = !own;
      // A draft is on its way out: the time goes to what follows.
      pen.imageSmoothingQuality = layer.answer.draft ? "low" : "high";
      if (own) pen.drawImage(layer.canvas, x, y);
      else pen.drawImage(layer.canvas, x, y, Math.round(wide), Math.round(high));
    }
    canvas.dataset.draft = String(layers.at(-1)?.answer.draft ?? false);
    canvas.dataset.ask = String(layers.at(-1)?.answer.ask ?? 0);
  }, [area, place, aspect, layers, ratio]);

  return (
    <>
      <div className={name ? "other-shadow" : "sheet-shadow"} style={boxOf(place, aspect)} />
      <canvas
        ref={canvasRef}
        className={`bed-canvas ${name ?? "sheet-canvas"}`}
        role="img"
        aria-label={label}
        data-asked={asked}
        style={{ width: area.width, height: area.height }}
      />
    </>
  );
}
