"""Light: shadows, highlights and local contrast by an edge-keeping split, without halos."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit, prange

from flinz.core.planes.filters import Plane, averaged, blurred
from flinz.core.planes.guided import window_lines
from flinz.core.planes.lattice import resampled
from flinz.core.scale import Frame

# The split varies slowly: it is made on a grid at least this fine, and coarser on large sheets.
GRID_PX_PER_MM = 2.0
# Grids have few sizes, which the photo is held in anyway: a sheet whose size is turned need not
# shrink it anew.
GRID_LONG_EDGE_PX = 500.0
# Wide windows are fitted on a grid still coarser, on which they reach so many pixels; their lines
# vary as slowly as the windows are wide.
WINDOW_RADIUS_PX = 8
# Steps in tone larger than this are edges, and stay in the base.
EDGE = 0.12
# Below these tone rises nowhere, or to all sides alike, and nothing tells where light comes from.
LEAST_SLOPE, LEAST_LEAN = 0.002, 0.05


@dataclass(frozen=True, eq=False)
class Split:
    """The base of a picture as a line of its grey, slope * grey + offset, on a coarse grid."""

    slope: Plane
    offset: Plane
    frame: Frame


def grid_px_per_mm(long_edge_mm: float) -> float:
    """The fixed grid of a sheet on which its light is split."""
    halvings = max(0, math.floor(math.log2(GRID_LONG_EDGE_PX / (GRID_PX_PER_MM * long_edge_mm))))
    return GRID_LONG_EDGE_PX / (1 << halvings) / long_edge_mm


def split(grey: Plane, grid: Frame, reach_mm: float) -> Split:
    """Base and detail of the grey of a whole sheet on its grid: K. He, J. Sun, X. Tang (2010).

    Windows are fitted on averages of pixels: after K. He and J. Sun (2015), "Fast guided filter".
    The squares are averaged as well, so that the spread within a window is that of all its pixels.
    """
    height, width = grey.shape
    reach = max(1.0, grid.px(reach_mm))
    radius = min(WINDOW_RADIUS_PX, math.floor(reach))
    # So that windows are as wide as they are to be, whatever the fraction of a pixel.
    shrink = (2 * reach + 1) / (2 * radius + 1)
    width, height = max(1, round(width / shrink)), max(1, round(height / shrink))
    coarse = Frame(grid.px_per_mm / shrink, width, height, 0, 0, width, height)
    mean, square = (averaged(plane, width, height) for plane in (grey, grey * grey))
    return Split(*window_lines(mean, square, radius, EDGE), coarse)


def lit_from(grey: Plane) -> float | None:
    """Where the light of a picture comes from: degrees counter-clockwise, -180..180; None where
    nothing tells.

    grey: (H, W) float32 0..1. The mean of the ways in which tone rises, each as one step, after the
    picture was blurred (A. Pentland, 1982): shapes turn to all sides, and are lighter towards it.
    """
    even = blurred(grey, max(1.0, max(grey.shape) / 60))
    down, across = (np.asarray(each, np.float32) for each in np.gradient(even))
    size = np.asarray(np.hypot(across, down), np.float32)
    strong = size > np.percentile(size, 60)
    if not strong.any() or float(size.max()) < LEAST_SLOPE:
        return None
    x = float(np.mean(across[strong] / size[strong]))
    y = -float(np.mean(down[strong] / size[strong]))
    return None if math.hypot(x, y) < LEAST_LEAN else round(math.degrees(math.atan2(y, x)), 0)


def relit(grey: Plane, frame: Frame, base: Split, amounts: tuple[float, float, float]) -> Plane:
    """Grey with shadows and highlights moved, and detail made stronger or weaker.

    grey: (H, W) float32 0..1 in frame. amounts: shadows, highlights, local contrast, -1..1 each.
    The curve works on the base alone, which keeps edges: no halo forms, however wide the reach.
    """
    slope = resampled(base.slope, base.frame, frame)
    offset = resampled(base.offset, base.frame, frame)
    return np.asarray(_relit(grey, slope, offset, np.array(amounts, np.float32)), np.float32)


@njit(inline="always")
def _opened(base, amount) -> Any:  # type: ignore[no-untyped-def]
    # How far a dark base rises (or sinks); the square leaves the light end alone, and at full
    # amount the curve still rises everywhere.
    reach = (np.float32(1.0) - base) ** 2
    if amount > 0:
        return amount * reach * (np.sqrt(base) - base)
    return amount * reach * (base - base * base)


@njit(parallel=True, fastmath=True, cache=True)
def _relit(grey, slope, offset, amounts) -> Any:  # type: ignore[no-untyped-def]
    shadows, highlights, local = amounts
    zero, one = np.float32(0.0), np.float32(1.0)
    gain = one + np.float32(1.6) * local if local > 0 else one + np.float32(0.9) * local
    out = np.empty_like(grey)
    for row in prange(grey.shape[0]):
        for column in range(grey.shape[1]):
            here = grey[row, column]
            base = min(max(slope[row, column] * here + offset[row, column], zero), one)
            moved = base + _opened(base, shadows) - _opened(one - base, -highlights)
            value = moved + gain * (here - base)
            out[row, column] = min(max(value, zero), one)
    return out
