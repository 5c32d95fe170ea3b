import type { Beneath } from "../api/client";
import { sizeOf, type Place, type Size } from "../live/zoom";
import { Film, type View } from "./Film";
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

/** How long the sheet must lie still to be drawn sharp. */
const STILL_MS = 90;
const [CHOSEN, TINT, HALO] = ["#1f6f66", "rgb(31 111 102 / 35%)", "rgb(255 255 255 / 85%)"];
/** What has longer path data is marked by a tint: to draw along its outlines takes too long. */
const LONG_PATH = 30_000;
/** How far coloured paper goes on beneath the ink round it, as in files. */
const REACH_MM = 0.05;
const NONE: readonly Shape[] = [];

/**
 * Draws shapes on a canvas. What takes long is drawn once on films, which are moved as pictures
 * while the sheet or chosen shapes move, and drawn sharp as soon as they lie still.
 */
export class Board {
  private readonly still = new Film();
  private readonly marked = new Film();
  private timer: number | undefined;
  private frame: number | undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {}

  /** Show a scene; it is drawn with the next picture of the screen. */
  show(scene: Scene, look: Look) {
    if (this.frame !== undefined) cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => this.draw(scene, look, false));
  }

  close() {
    if (this.frame !== undefined) cancelAnimationFrame(this.frame);
    window.clearTimeout(this.timer);
  }

  private draw(scene: Scene, look: Look, isStill: boolean) {
    window.clearTimeout(this.timer);
    const { place, area, chosen, way } = look;
    const aspect = scene.width / scene.height;
    const scale = sizeOf(place.edge, aspect).width / scene.width;
    const view: View = { place, area, scale, ratio: window.devicePixelRatio };
    const without = way ? chosen : NONE;
    const isSharp = [
      this.still.take([scene, without], view, isStill, (draw) =>
        drawSheet(draw, scene, new Set(without)),
      ),
      this.marked.take([chosen, way !== null], view, isStill, (draw) =>
        drawMarked(draw, chosen, way ? (scene.paper ?? "#ffffff") : null, scale),
      ),
    ].every(Boolean);
    if (!isSharp) {
      this.timer = window.setTimeout(() => this.draw(scene, look, true), STILL_MS);
    }
    this.compose(look, view);
  }

  private compose({ way, round }: Look, view: View) {
    const { place, area, scale, ratio } = view;
    fit(this.canvas, area, ratio);
    const draw = this.canvas.getContext("2d")!;
    draw.setTransform(1, 0, 0, 1, 0, 0);
    draw.clearRect(0, 0, this.canvas.width, this.canvas.height);
    this.still.onto(draw, view, null);
    this.marked.onto(draw, view, way);
    if (round.length < 2) return;
    const mm = scale * ratio;
    draw.setTransform(mm, 0, 0, mm, place.x * ratio, place.y * ratio);
    draw.strokeStyle = CHOSEN;
    draw.fillStyle = "rgb(31 111 102 / 12%)";
    draw.lineWidth = 1.5 / scale;
    draw.beginPath();
    for (const [x, y] of round) draw.lineTo(x, y);
    draw.closePath();
    draw.fill();
    draw.stroke();
  }
}

function drawSheet(draw: CanvasRenderingContext2D, scene: Scene, without: ReadonlySet<Shape>) {
  if (scene.paper) {
    draw.fillStyle = scene.paper;
    draw.fillRect(0, 0, scene.width, scene.height);
  }
  for (const each of scene.beneath) {
    draw.fillStyle = each.colour;
    draw.fill(new Path2D(each.path));
  }
  if (scene.loose) draw.drawImage(scene.loose, 0, 0, scene.width, scene.height);
  for (const run of runsOf(scene.shapes, without)) {
    draw.fillStyle = run.colour;
    draw.fill(run.path);
    if (!run.isPaper) continue;
    draw.strokeStyle = run.colour;
    draw.lineWidth = 2 * REACH_MM;
    draw.stroke(run.path);
  }
}

/** Chosen shapes marked; with a paper as they are themselves, to be taken elsewhere. */
function drawMarked(
  draw: CanvasRenderingContext2D,
  chosen: readonly Shape[],
  paper: string | null,
  scale: number,
) {
  if (paper !== null) {
    for (const shape of chosen) {
      draw.fillStyle = shape.prints ? shape.colour : paper;
      draw.fill(pathOf(shape));
    }
  }
  const isLong = chosen.reduce((sum, each) => sum + each.path.length, 0) > LONG_PATH;
  if (isLong) {
    draw.fillStyle = TINT;
    for (const shape of chosen) draw.fill(pathOf(shape));
    return;
  }
  for (const [style, wide] of [
    [HALO, 4],
    [CHOSEN, 2],
  ] as const) {
    draw.strokeStyle = style;
    draw.lineWidth = wide / scale;
    for (const shape of chosen) draw.stroke(pathOf(shape));
  }
}

/** Shapes that follow each other in one colour, as one path: a fill of many costs as few. */
function runsOf(shapes: readonly Shape[], without: ReadonlySet<Shape>) {
  const runs: { colour: string; isPaper: boolean; path: Path2D }[] = [];
  let last: Shape | undefined;
  for (const shape of shapes) {
    if (!shape.prints || without.has(shape)) continue;
    // Only what was traced beside each other is sure not to lie over another.
    const isOn = last && !last.isChanged && !shape.isChanged && last.colour === shape.colour;
    if (!isOn) runs.push({ colour: shape.colour, isPaper: shape.white, path: new Path2D() });
    runs.at(-1)!.path.addPath(pathOf(shape));
    last = shape;
  }
  return runs;
}

function fit(canvas: HTMLCanvasElement, area: Size, ratio: number) {
  const [width, height] = [Math.round(area.width * ratio), Math.round(area.height * ratio)];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
}
