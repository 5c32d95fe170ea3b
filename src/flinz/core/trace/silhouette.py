"""The silhouette of all ink and what it encloses, drawn in or out."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, whole_frame
from flinz.core.shapes.edges import thickened
from flinz.core.trace.tracing import TraceWish, Tracing, traced

# An under-layer needs no finer plane than this.
PX_PER_MM = 12.0


def silhouette(
    inked: Plane, frame: Frame, way_mm: float, wish: TraceWish, holes_mm2: float = math.inf
) -> Tracing:
    """One silhouette of ink, its holes with it, every edge moved out by way_mm, or in below 0.

    inked: (H, W) float32 0..1 in a frame of the whole sheet; the silhouette may reach beyond it.
    holes_mm2: from this area on a hole stays open. Corners that are moved out become round.
    """
    step = max(1, int(frame.px_per_mm / PX_PER_MM))
    width, height = max(1, frame.width // step), max(1, frame.height // step)
    width_mm, height_mm = frame.sheet_mm
    whole = whole_frame(width_mm, width, height, height_mm=height_mm)
    per_mm = whole.px_per_mm
    small = cv2.resize(inked, (width, height), interpolation=cv2.INTER_AREA)
    margin = max(2, int(max(way_mm, 0) * per_mm) + 2)
    wide = np.asarray(np.pad(small, margin), np.float32)
    solid = np.asarray(np.where(_outside(wide, holes_mm2 * per_mm**2), wide, 1), np.float32)
    grown = thickened(solid, way_mm * per_mm, two_tone=True) if way_mm else solid
    around = whole.part(-margin, -margin, width + margin, height + margin)
    return traced(grown, around, wish)


def _outside(wide: Plane, holes_px: float) -> NDArray[np.bool_]:
    """What lies outside the silhouette: bare paper that is joined to the rim, and large holes."""
    bare = (wide < 0.5).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(bare, connectivity=4)
    is_open = stats[:, cv2.CC_STAT_AREA] >= holes_px
    is_open[0], is_open[labels[0, 0]] = False, True
    # Edges of ink are greys beside what lies outside.
    outside = cv2.dilate(is_open[labels].astype(np.uint8), np.ones((5, 5), np.uint8))
    return np.asarray(outside > 0)
