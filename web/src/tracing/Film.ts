import type { Place, Size } from "../live/zoom";
import type { Way } from "./ways";

/** How the sheet is seen. scale: pixels of the page to a mm; ratio: of the screen to one of those. */
export interface View {
  place: Place;
  area: Size;
  scale: number;
  ratio: number;
}

/** What takes less is drawn again whenever the sheet moves, ms. */
const AT_ONCE_MS = 12;

/** A picture of what lies on the sheet, drawn once and laid where the sheet is moved to. */
export class Film {
  private bitmap: ImageBitmap | null = null;
  private made: { of: readonly unknown[]; view: View } | null = null;
  private cost = 0;

  /**
   * Have what is to be seen. of: what it is a picture of; another is drawn at once, the same one
   * moved elsewhere only where that is quick, or the sheet lies still. Returns whether it is sharp.
   */
  take(
    of: readonly unknown[],
    view: View,
    isStill: boolean,
    draw: (on: CanvasRenderingContext2D) => void,
  ): boolean {
    const last = this.made;
    const isSame =
      last !== null && last.view.area === view.area && of.every((each, k) => each === last.of[k]);
    if (isSame && last.view.place === view.place) return true;
    if (isSame && !isStill && this.cost > AT_ONCE_MS) return false;
    const begun = performance.now();
    const { place, area, scale, ratio } = view;
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(area.width * ratio)),
      Math.max(1, Math.round(area.height * ratio)),
    );
    const on = canvas.getContext("2d")!;
    on.setTransform(scale * ratio, 0, 0, scale * ratio, place.x * ratio, place.y * ratio);
    draw(on as unknown as CanvasRenderingContext2D);
    this.bitmap?.close();
    // What is drawn later would be drawn with every picture that shows it.
    this.bitmap = canvas.transferToImageBitmap();
    this.made = { of, view };
    this.cost = performance.now() - begun;
    return true;
  }

  /** Lay it on a canvas as the sheet is seen now; way: where it is taken on the sheet, in mm. */
  onto(draw: CanvasRenderingContext2D, view: View, way: Way | null) {
    if (!this.bitmap || !this.made) return;
    const [mm, from] = [view.scale * view.ratio, this.made.view];
    draw.setTransform(mm, 0, 0, mm, view.place.x * view.ratio, view.place.y * view.ratio);
    if (way) draw.transform(way[0], way[3], way[1], way[4], way[2], way[5]);
    const was = from.scale * from.ratio;
    draw.transform(1 / was, 0, 0, 1 / was, -from.place.x / from.scale, -from.place.y / from.scale);
    draw.drawImage(this.bitmap, 0, 0);
  }
}
