import type { Beneath } from "../api/client";
import { sizeOf, type Place, type Size } from "../live/zoom";
import { pathOf } from "./paths";
import type { Shape } from "./shapes";
import type { Way } from "./ways";

/** What lies on the sheet; one that differs is another object. */
export interface Scene {
  width: number;
  height: number;
  /** Its colour; null where it is left out. */
  paper: string | null;
  beneath: readonly Beneath[];
  /** What leaves as marks or pictures. */
  loose: HTMLImageElement | null;
  /** First what lies beneath. */
  shapes: readonly Shape[];
}

export interface Look {
  place: Place;
  area: Size;
  chosen: readonly Shape[];
  /** Where the chosen ones are being taken. */
  way: Way | null;
  /** A line that is being drawn round some, mm. */
  round: readonly [number, number][];
}

/** Redrawing all in less needs no picture of it in between, ms. */
const AT_ONCE_MS = 9;
/** How long the sheet must lie still to be drawn sharp. */
const STILL_MS = 90;
const [CHOSEN, HALO] = ["#1f6f66", "rgb(255 255 255 / 85%)"];

/**
 * Draws shapes on a canvas. What takes long is drawn once and moved as a picture while the sheet
 * or chosen shapes move; sharp as soon as they lie still.
 */
export class Board {
  private readonly still = document.createElement("canvas");
  private drawn: { scene: Scene; place: Place; area: Size; without: readonly Shape[] } | null =
    null;
  private cost = 0;
  private timer: number | undefined;
  private frame: number | undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {}

  /** Show a scene; it is drawn with the next picture of the screen. */
  show(scene: Scene, look: Look) {
    if (this.frame !== undefined) cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => this.draw(scene, look));
  }

  close() {
    if (this.frame !== undefined) cancelAnimationFrame(this.frame);
    window.clearTimeout(this.timer);
  }

  private draw(scene: Scene, look: Look) {
    const { place, area } = look;
    const ratio = window.devicePixelRatio;
    fit(this.canvas, area, ratio);
    const without = look.way ? look.chosen : [];
    const last = this.drawn;
    const isSame = last?.scene === scene && last.area === area && last.without === without;
    const isThere = isSame && last.place === place;
    window.clearTimeout(this.timer);
    if (!isThere) {
      if (isSame && this.cost > AT_ONCE_MS) {
        this.timer = window.setTimeout(() => {
          this.sharpen(scene, place, area, without, ratio);
          this.compose(scene, look, ratio);
        }, STILL_MS);
      } else {
        this.sharpen(scene, place, area, without, ratio);
      }
    }
    this.compose(scene, look, ratio);
  }

  private sharpen(
    scene: Scene,
    place: Place,
    area: Size,
    without: readonly Shape[],
    ratio: number,
  ) {
    const begun = performance.now();
    fit(this.still, area, ratio);
    const draw = this.still.getContext("2d")!;
    draw.setTransform(1, 0, 0, 1, 0, 0);
    draw.clearRect(0, 0, this.still.width, this.still.height);
    const scale = (sizeOf(place.edge, scene.width / scene.height).width / scene.width) * ratio;
    draw.setTransform(scale, 0, 0, scale, place.x * ratio, place.y * ratio);
    if (scene.paper) {
      draw.fillStyle = scene.paper;
      draw.fillRect(0, 0, scene.width, scene.height);
    }
    for (const each of scene.beneath) {
      draw.fillStyle = each.colour;
      draw.fill(new Path2D(each.path));
    }
    if (scene.loose) draw.drawImage(scene.loose, 0, 0, scene.width, scene.height);
    const left = new Set(without);
    const seen = {
      left: (-place.x * ratio) / scale,
      top: (-place.y * ratio) / scale,
      right: ((area.width - place.x) * ratio) / scale,
      bottom: ((area.height - place.y) * ratio) / scale,
    };
    for (const shape of scene.shapes) {
      if (!shape.prints || left.has(shape)) continue;
      const [x0, y0, x1, y1] = shape.box as [number, number, number, number];
      if (x1 < seen.left || x0 > seen.right || y1 < seen.top || y0 > seen.bottom) continue;
      draw.fillStyle = shape.colour;
      draw.fill(pathOf(shape));
    }
    this.drawn = { scene, place, area, without };
    this.cost = performance.now() - begun;
  }

  private compose(scene: Scene, look: Look, ratio: number) {
    const { place, chosen, way, round } = look;
    const draw = this.canvas.getContext("2d")!;
    draw.setTransform(1, 0, 0, 1, 0, 0);
    draw.clearRect(0, 0, this.canvas.width, this.canvas.height);
    const from = this.drawn!.place;
    const times = place.edge / from.edge;
    draw.setTransform(
      times,
      0,
      0,
      times,
      (place.x - from.x * times) * ratio,
      (place.y - from.y * times) * ratio,
    );
    draw.drawImage(this.still, 0, 0);
    const scale = (sizeOf(place.edge, scene.width / scene.height).width / scene.width) * ratio;
    const sheet = () => draw.setTransform(scale, 0, 0, scale, place.x * ratio, place.y * ratio);
    sheet();
    if (way) draw.transform(way[0], way[3], way[1], way[4], way[2], way[5]);
    if (way) {
      for (const shape of chosen) {
        draw.fillStyle = shape.prints ? shape.colour : (scene.paper ?? "#ffffff");
        draw.fill(pathOf(shape));
      }
    }
    for (const [style, wide] of [
      [HALO, 4],
      [CHOSEN, 2],
    ] as const) {
      draw.strokeStyle = style;
      draw.lineWidth = (wide * ratio) / scale;
      for (const shape of chosen) draw.stroke(pathOf(shape));
    }
    if (round.length > 1) {
      sheet();
      draw.strokeStyle = CHOSEN;
      draw.fillStyle = "rgb(31 111 102 / 12%)";
      draw.lineWidth = (1.5 * ratio) / scale;
      draw.beginPath();
      for (const [x, y] of round) draw.lineTo(x, y);
      draw.closePath();
      draw.fill();
      draw.stroke();
    }
  }
}

function fit(canvas: HTMLCanvasElement, area: Size, ratio: number) {
  const [width, height] = [Math.round(area.width * ratio), Math.round(area.height * ratio)];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
}
