"""Closed outlines filled: the exact share of each pixel that lies within."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

# (N, 2) float64 mm: corners of a closed outline; the last is joined to the first.
Ring = NDArray[np.float64]


def filled(rings: Sequence[Ring], frame: Frame) -> Plane:
    """The share 0..1 of each pixel of a frame that lies within rings, (H, W) float32.

    A ring that runs the other way round cuts a hole. Exact for straight sides, by signed areas
    summed along each row (R. Levien, 2016). Where rings that run the same way lie over each other
    all of it is within.
    """
    sides = _sides_near([ring for ring in rings if len(ring)], frame)
    if len(sides) == 0:
        return np.zeros((frame.height, frame.width), np.float32)
    # Beyond the last column there is room for what leaves the frame there.
    areas = np.zeros((frame.height, frame.width + 2), np.float64)
    _add_sides(sides, areas)
    shares: Plane = _summed(areas, frame.width)
    return shares


def signed_area(ring: Ring) -> float:
    """What a ring encloses, mm²; below 0 where it runs the other way round (C. F. Gauss)."""
    x, y = ring.T
    return float(x[:-1] @ y[1:] - y[:-1] @ x[1:] + x[-1] * y[0] - y[-1] * x[0]) / 2


def _sides_near(rings: Sequence[Ring], frame: Frame) -> NDArray[np.float64]:
    """The sides of all rings that come near, (S, 4) from x, y to x, y in pixels of the frame. None
    of the rings is empty.

    What lies to the right is not needed. All at once: a line of chalk has thousands of grains.
    """
    if not rings:
        return np.zeros((0, 4))
    sizes = np.array([len(ring) for ring in rings])
    places = np.concatenate(rings) * frame.per_mm - (frame.left, frame.top)
    ends = np.cumsum(sizes)
    starts = ends - sizes
    low, high = np.minimum.reduceat(places, starts), np.maximum.reduceat(places, starts)
    is_near = (high[:, 1] > 0) & (low[:, 1] < frame.height) & (low[:, 0] < frame.width)
    following = np.arange(1, len(places) + 1)
    following[ends - 1] = starts
    kept = np.repeat(is_near, sizes)
    return np.hstack([places[kept], places[following[kept]]])


@njit(cache=True)
def _add_sides(sides, areas) -> None:  # type: ignore[no-untyped-def]
    height, right = areas.shape[0], areas.shape[1] - 2
    for side in sides:
        x0, y0, x1, y1 = side
        if y0 == y1:
            continue
        way = 1.0
        if y0 > y1:
            x0, y0, x1, y1, way = x1, y1, x0, y0, -1.0
        steep = (x1 - x0) / (y1 - y0)
        top, bottom = max(y0, 0.0), min(y1, float(height))
        row = int(top)
        while row < height and row < bottom:
            above, below = max(top, float(row)), min(bottom, row + 1.0)
            left_x = x0 + (above - y0) * steep
            right_x = x0 + (below - y0) * steep
            _add_piece(areas[row], left_x, right_x, (below - above) * way, right)
            row += 1


@njit(cache=True)
def _add_piece(row, x0, x1, tall, right) -> None:  # type: ignore[no-untyped-def]
    """A piece of a side within one row: what lies to its right, as steps from pixel to pixel."""
    if x0 > x1:
        x0, x1 = x1, x0
    wide = x1 - x0
    if x1 <= 0.0:
        row[0] += tall
        return
    if x0 >= right:
        return
    if x0 < 0.0:
        row[0] += tall * (-x0 / wide)
        tall *= x1 / wide
        x0, wide = 0.0, x1
    if x1 > right:
        tall *= (right - x0) / wide
        x1 = float(right)
        wide = x1 - x0
    first, last = int(x0), int(x1)
    if first == last or wide == 0.0:
        middle = 0.5 * (x0 + x1) - first
        row[first] += tall * (1.0 - middle)
        row[first + 1] += tall * middle
        return
    slope = tall / wide
    for column in range(first, last + 1):
        begin, end = max(x0, float(column)), min(x1, column + 1.0)
        share = (end - begin) * slope
        middle = 0.5 * (begin + end) - column
        row[column] += share * (1.0 - middle)
        row[column + 1] += share * middle


@njit(parallel=True, cache=True)
def _summed(areas, width) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty((areas.shape[0], width), np.float32)
    for row in prange(areas.shape[0]):
        total = 0.0
        for column in range(width):
            total += areas[row, column]
            out[row, column] = min(1.0, abs(total))
    return out
