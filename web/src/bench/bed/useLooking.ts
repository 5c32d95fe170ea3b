import { useCallback, useMemo, useState } from "react";
import { useCount, usePicture } from "../../live/pictures";
import { type Hear, useLive } from "../../live/useLive";
import type { SaidStroke, View } from "../../api/client";
import { paperSize } from "../../sheet/paper";
import type { Step } from "../../sheet/stages";
import type { Choosing } from "../choosing/useChoosing";
import { useLooksAhead } from "../choosing/useLooksAhead";
import type { TheBench } from "../theBench";
import type { Layout } from "./compare";
import { cssPxPerMm, isCalibrated } from "../../shared/paperScale";
import { useSpotPanels } from "./useSpotPanels";
import { useViews } from "./useViews";
import { useZoom } from "../../live/useZoom";
import { fitted } from "../../live/zoom";

const MAIN = ["main"];

/**
 * What is looked at: the sheet or a stage, how close, beside what; and its live pictures. traced: by
 * which tracing the sheet is drawn where its shapes are changed. hear: of changes of the sheet that
 * is looked at.
 */
export function useLooking(
  bench: TheBench,
  choosing: Choosing,
  instead: View["what"] | null,
  unfinished: SaidStroke | null,
  traced: string,
  hear: Hear | null,
) {
  const { sheet, photo, catalogue } = bench;
  const { plate, step, choose } = choosing;
  const [shown, setShown] = useState<"sheet" | "stage">("sheet");
  const [photoHeld, holdPhoto] = useState(false);
  const [layout, setLayout] = useState<Layout>("alone");
  const paper = paperSize(photo, sheet);
  const aspect = paper.width / paper.height;
  const exportEdge = paper.edgePx;
  const edgeMm = Math.max(paper.width, paper.height);
  const zoom = useZoom(aspect, exportEdge, layout === "beside" ? 2 : 1);
  const { area, place } = zoom;
  const panels = useSpotPanels(sheet.watch.length, area);
  const [areLooksWanted, wantLooks] = useState(false);
  const { main, views, photoViews } = useViews({
    panels: panels.panels,
    plate,
    spots: sheet.watch,
    catalogue,
    step,
    hasLooks: areLooksWanted && step === "draw",
    shown,
    place,
    area,
    aspect,
    exportEdge,
    instead,
    traced,
  });
  const live = useLive(sheet, views, unfinished, hear);
  useLooksAhead(live.pictures, step === "draw", wantLooks);
  const nearLooks = useCallback(() => wantLooks(true), []);
  // Where it lies depends on the paper's size, what it lies on is seen beside it.
  const photoPaper = sheet.paper.size === "own" ? sheet.paper : null;
  const photoSheet = useMemo(
    () => ({ ...sheet, plates: [plate], watch: [] }),
    // The photo's own picture depends on nothing else of the sheet.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [sheet.picture, photoPaper],
  );
  // All else comes after what one came to see: the photo to compare with, and the pulls.
  const hasBegun = useCount(live.pictures, MAIN) > 0;
  const photoLive = useLive(hasBegun ? photoSheet : null, photoViews);
  const photoPicture = usePicture(photoLive.pictures, "photo");
  const showLarge = useCallback(
    (next: Step) => {
      choose(next);
      setShown("stage");
    },
    [choose],
  );
  const percent = ((place.edge * window.devicePixelRatio * 100) / exportEdge).toFixed(0);

  return {
    shown,
    setShown,
    photoHeld,
    holdPhoto,
    layout,
    setLayout,
    zoom,
    aspect,
    fitEdge: fitted(area, aspect).edge,
    pxPerMm: exportEdge / edgeMm,
    sizeMm: { width: paper.width, height: paper.height },
    zoomWords: `${zoom.isFit ? "Whole" : "Zoom"} ${percent} %`,
    main,
    panels,
    live,
    hasBegun,
    photoPicture,
    nearLooks,
    showLarge,
    swapLarge: () => setShown(shown === "sheet" ? "stage" : "sheet"),
    /** Show the size it has on paper; false if this screen has not been measured yet. */
    showPaperSize: () => {
      if (!isCalibrated()) return false;
      zoom.showAt(edgeMm * cssPxPerMm());
      return true;
    },
  };
}

export type Looking = ReturnType<typeof useLooking>;
