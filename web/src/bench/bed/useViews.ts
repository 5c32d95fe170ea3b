import { useMemo } from "react";
import type { Catalogue, Plate, View, WatchSpot } from "../../api/client";
import { runOf, type Step, stepOf } from "../../sheet/stages";
import { lookView, viewOf, WHOLE } from "../../live/views";
import { magnified } from "../../sheet/watch";
import type { Panel } from "./useSpotPanels";
import { fitted, type Place, type Size, visibleRegion } from "../../live/zoom";

const RUN_EDGE_PX = 156;

interface Wanted {
  plate: Plate | undefined;
  spots: WatchSpot[];
  panels: Panel[];
  catalogue: Catalogue;
  step: Step;
  /** Whether each look is wanted as a small drawing. */
  hasLooks: boolean;
  shown: "sheet" | "stage";
  place: Place;
  area: Size;
  aspect: number;
  exportEdge: number;
  /** What is shown whatever was chosen: the photo being cropped, the cutout being worked on. */
  instead: View["what"] | null;
  /** The tracing by which the sheet is drawn, where its shapes are changed. */
  traced: string;
}

/** The pictures the bench needs: the one looked at first, then the run, then small drawings. */
export function useViews(wanted: Wanted): { main: View; views: View[]; photoViews: View[] } {
  const { plate, spots, panels, catalogue, step, shown, place, area, aspect, exportEdge } = wanted;
  const { hasLooks, instead, traced } = wanted;
  const plateId = plate?.id ?? "";
  // As words, since these stay the same while dials move.
  const run = runOf(catalogue, plate, step)
    .map((each) => each.name)
    .join(" ");
  const ratio = window.devicePixelRatio;
  const edge = Math.max(1, Math.round(place.edge * ratio));
  const fitEdge = Math.max(1, Math.round(fitted(area, aspect).edge * ratio));
  const region = visibleRegion(place, area, aspect);
  const [left, top, right, bottom] = edge > fitEdge ? region : WHOLE;

  const main = useMemo((): View => {
    const of = step === "photo" ? "photo" : "stage";
    const what = instead ?? (shown === "sheet" || step === "paper" ? "sheet" : of);
    return {
      ...viewOf("main", edge, { what, region: [left, top, right, bottom] }),
      plate: plateId,
      stage: step === "photo" || step === "paper" ? "ink" : step,
      exact: edge === exportEdge,
      traced: what === "sheet" ? traced : "",
    };
  }, [instead, shown, step, edge, left, top, right, bottom, plateId, exportEdge, traced]);

  const views = useMemo(() => {
    if (!plateId || area.width === 0) return [];
    const list = [main];
    spots.forEach((spot, number) => {
      const panel = panels[number];
      if (!panel) return;
      const { edge: large, region } = magnified(spot, panel, aspect, place.edge);
      // Watch spots follow every move of a dial; the run may come after.
      list.push(viewOf(`watch-${number}`, large * ratio, { region, follows: true, traced }));
    });
    if (edge > fitEdge) list.push({ ...main, id: "whole", long_edge_px: fitEdge, region: WHOLE });
    for (const each of run.split(" ") as Step[]) {
      const what = each === "photo" ? "photo" : each === "paper" ? "sheet" : "stage";
      const stage = each === "photo" || each === "paper" ? "ink" : each;
      const drawn = what === "sheet" ? traced : "";
      list.push(viewOf(`run-${each}`, RUN_EDGE_PX, { what, plate: plateId, stage, traced: drawn }));
    }
    // Which is chosen then starts as its drawing was drawn.
    if (hasLooks) {
      for (const kind of stepOf(catalogue, "draw").kinds) {
        const of = { what: "stage", plate: plateId, stage: "draw", look: kind.name } as const;
        list.push(viewOf(lookView(kind.name), RUN_EDGE_PX, of));
      }
    }
    return list;
  }, [
    main,
    plateId,
    area.width,
    edge,
    fitEdge,
    hasLooks,
    run,
    catalogue,
    spots,
    panels,
    place.edge,
    aspect,
    ratio,
    traced,
  ]);

  const photoViews = useMemo(() => {
    if (area.width === 0) return [];
    return [viewOf("photo", edge, { what: "photo", region: [left, top, right, bottom] })];
  }, [area.width, edge, left, top, right, bottom]);

  return { main, views, photoViews };
}
