"""Cutting shapes out of tone: flat surfaces, smooth edges, no crumbs."""

from typing import Any

import numpy as np
from numba import njit, prange

from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.guided import guided, window_lines, window_value
from flinz.core.planes.lattice import coarser, resampled
from flinz.core.scale import Frame
from flinz.core.shapes.islands import without_pinholes, without_specks

# Differences in tone up to about this are one surface.
SURFACE = 0.14
# Of the window, on the grid where surfaces are evened.
GRID_RADIUS_PX = 4
# An even tone lies at its own level but for rounding; it is not below it.
EVEN = 1e-5


def flattened(tone: Plane, frame: Frame, smoothing_mm: float, surface: float = SURFACE) -> Plane:
    """Tone with surfaces evened out and edges kept, rounded off at a quarter of smoothing_mm.

    surface: differences in tone up to about this are evened.

    The guided filter twice (K. He et al., 2010), the second on what the first evened. Both are
    fitted on a grid of the sheet's own, on which the window has whole pixels, and applied at once
    to the tone as it is: at any size the same surfaces.
    """
    if smoothing_mm <= 0:
        return tone
    radius = frame.px(smoothing_mm)
    small, grid = coarser(tone, frame, GRID_RADIUS_PX / smoothing_mm)
    if grid == frame:
        evened = guided(guided(tone, radius, surface), radius, surface)
    else:
        slope, offset = window_lines(small, small * small, GRID_RADIUS_PX, surface)
        once = slope * small + offset
        again, shift = window_lines(once, once * once, GRID_RADIUS_PX, surface)
        # One line after the other is a line.
        both, rest = again * slope, again * offset + shift
        evened = window_value(tone, resampled(both, grid, frame), resampled(rest, grid, frame))
    return blurred(evened, radius / 4)


def flattened_reach_mm(smoothing_mm: float) -> float:
    """How far flattened looks."""
    return 5 * smoothing_mm


def cut_at(
    flat: Plane, level: float, frame: Frame, crumbs_mm2: float, slope: Plane | None = None
) -> Plane:
    """Ink 0..1 where a flat tone lies below a level, without islands or holes under an area.

    slope: slope_of(flat), where several levels share it.
    """
    if slope is None:
        slope = slope_of(flat)
    cover = np.asarray(
        _edge_cover(np.float32(level - EVEN) - flat, slope, np.float32(1)), np.float32
    )
    if crumbs_mm2 <= 0:
        return cover
    least = frame.area_px(crumbs_mm2)
    return without_pinholes(without_specks(cover, least, True), least, True)


def edge_cover(gap: Plane, softness_px: float) -> Plane:
    """How much of each pixel lies where gap is positive: 1, 0, or a share along the edge.

    gap: (H, W) float32 of any scale. Gap over slope is the distance to the edge in pixels; the
    edge is softness_px wide.
    """
    return np.asarray(_edge_cover(gap, slope_of(gap), np.float32(softness_px)), np.float32)


def slope_of(plane: Plane) -> Plane:
    """How steep a plane is at each pixel, a pixel, (H, W) float32, by Sobel's weights.

    The same to the last bit at each call, which OpenCV's is not: an edge hangs on it.
    """
    return np.asarray(_slope_of(plane), np.float32)


@njit(parallel=True, cache=True)
def _slope_of(plane) -> Any:  # type: ignore[no-untyped-def]
    height, width = plane.shape
    out = np.empty_like(plane)
    for row in prange(height):
        up, here, low = plane[max(row - 1, 0)], plane[row], plane[min(row + 1, height - 1)]
        for column in range(1, width - 1):
            out[row, column] = _slope(up, here, low, column - 1, column, column + 1)
        # The outermost columns stand for what lies beyond them.
        out[row, 0] = _slope(up, here, low, 0, 0, min(1, width - 1))
        out[row, width - 1] = _slope(up, here, low, max(width - 2, 0), width - 1, width - 1)
    return out


@njit(inline="always")
def _slope(up, here, low, left, at, right) -> Any:  # type: ignore[no-untyped-def]
    two = np.float32(2.0)
    x = up[right] - up[left] + two * (here[right] - here[left]) + low[right] - low[left]
    y = low[left] - up[left] + two * (low[at] - up[at]) + low[right] - up[right]
    return np.float32(0.125) * np.sqrt(x * x + y * y)


@njit(parallel=True, cache=True)
def _edge_cover(gap, slope, softness) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(gap)
    for row in prange(gap.shape[0]):
        for column in range(gap.shape[1]):
            width = max(slope[row, column] * softness, np.float32(1e-6))
            value = np.float32(0.5) + gap[row, column] / width
            out[row, column] = min(max(value, np.float32(0.0)), np.float32(1.0))
    return out
