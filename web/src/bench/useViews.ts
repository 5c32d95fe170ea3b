import { useMemo } from "react";
import type { Catalogue, Plate, View } from "../api/client";
import { type Step, STEPS } from "./stages";
import { fitted, type Place, type Size, visibleRegion } from "./zoom";

const RUN_EDGE_PX = 156;
const WHOLE: [number, number, number, number] = [0, 0, 1, 1];

interface Wanted {
  plate: Plate | undefined;
  catalogue: Catalogue | undefined;
  step: Step;
  shown: "sheet" | "stage";
  place: Place;
  area: Size;
  aspect: number;
  exportEdge: number;
}

/** The pictures the bench needs: the one looked at first, then the run, then small drawings. */
export function useViews(wanted: Wanted): { views: View[]; photoViews: View[] } {
  const { plate, catalogue, step, shown, place, area, aspect, exportEdge } = wanted;
  const plateId = plate?.id ?? "";
  const ratio = window.devicePixelRatio;
  const edge = Math.max(1, Math.round(place.edge * ratio));
  const fitEdge = Math.max(1, Math.round(fitted(area, aspect).edge * ratio));
  const region = visibleRegion(place, area, aspect);
  const [left, top, right, bottom] = edge > fitEdge ? region : WHOLE;

  const main = useMemo((): View => {
    const what =
      shown === "sheet" || step === "paper" ? "sheet" : step === "photo" ? "photo" : "stage";
    return {
      ...view("main", what, edge, [left, top, right, bottom]),
      plate: plateId,
      stage: step === "photo" || step === "paper" ? "ink" : step,
      exact: edge === exportEdge,
    };
  }, [shown, step, edge, left, top, right, bottom, plateId, exportEdge]);

  const views = useMemo(() => {
    if (!plateId || area.width === 0) return [];
    const list = [main];
    if (edge > fitEdge) list.push({ ...main, id: "whole", long_edge_px: fitEdge, region: WHOLE });
    for (const each of STEPS) {
      const what = each === "photo" ? "photo" : each === "paper" ? "sheet" : "stage";
      const stage = each === "photo" || each === "paper" ? "ink" : each;
      list.push({ ...view(`run-${each}`, what, RUN_EDGE_PX, WHOLE), plate: plateId, stage });
    }
    if (step === "draw") {
      for (const kind of catalogue?.stages.draw ?? []) {
        const small = view(`look-${kind.name}`, "stage", RUN_EDGE_PX, WHOLE);
        list.push({ ...small, plate: plateId, stage: "draw", look: kind.name });
      }
    }
    return list;
  }, [main, plateId, area.width, edge, fitEdge, step, catalogue]);

  const photoViews = useMemo(() => {
    if (area.width === 0) return [];
    return [view("photo", "photo", edge, [left, top, right, bottom])];
  }, [area.width, edge, left, top, right, bottom]);

  return { views, photoViews };
}

function view(id: string, what: View["what"], edge: number, region: View["region"]): View {
  return {
    id,
    what,
    plate: "",
    stage: "ink",
    long_edge_px: edge,
    region,
    exact: false,
    look: null,
  };
}
