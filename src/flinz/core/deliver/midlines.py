"""Middle lines of what is too thin for a pen to go round within it."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import Voronoi

from flinz.core.trace.tracing import counted_before

# Rims are sampled at so many of a nib, and at most so many mm.
STEP, MOST_STEP_MM = 0.25, 0.08
# A middle line may be off by so many of a nib.
PLAIN = 0.04
# A middle line ends where what lies between its two sides, along the rim, is hardly longer than a
# half circle over their distance, by so many nibs: all else would be spurs into corners.
SPUR = 0.6
# A line goes on into what is a little wider, so that it meets the pen's way there.
INTO = 1.05


def middle_lines(
    shapes: NDArray[Any], nib: float
) -> tuple[list[NDArray[np.float64]], NDArray[np.bool_]]:
    """Middle lines of shapes, (S,) polygons, where they are thinner than a nib of so many mm,
    (N, 2) each; and (S,) which have any.

    From the Voronoi cells of points along the rims (J. W. Brandt and V. R. Algazi 1992), without
    what stands for corners only (R. L. Ogniewicz and O. Kübler 1995).
    """
    has_any = np.zeros(len(shapes), np.bool_)
    rims = _sampled(shapes, min(STEP * nib, MOST_STEP_MM))
    # Fewer have no cells.
    if len(rims.points) < 4:
        return [], has_any
    cells = Voronoi(rims.points)
    one, other = cells.ridge_points.T
    edges = np.asarray(cells.ridge_vertices)
    # Behind a rim cells are endless.
    is_kept = (rims.shape[one] == rims.shape[other]) & (edges >= 0).all(1)
    one, other, edges = one[is_kept], other[is_kept], edges[is_kept]
    apart = np.hypot(*(rims.points[one] - rims.points[other]).T)
    reach = np.hypot(*(cells.vertices[edges] - rims.points[one][:, None]).transpose(2, 0, 1))
    is_kept = rims.between(one, other) > math.pi / 2 * apart + SPUR * nib
    is_kept &= reach.min(1) <= INTO * nib / 2
    one, other, edges = one[is_kept], other[is_kept], edges[is_kept]
    ink = shapely.multipolygons(shapes)
    shapely.prepare(ink)
    # From rim to rim nothing lies between two cells: it is all ink, or all paper.
    is_ink = shapely.contains_xy(ink, (rims.points[one] + rims.points[other]) / 2)
    has_any[rims.shape[one[is_ink]]] = True
    ends = cells.vertices[edges[is_ink]]
    merged = shapely.line_merge(shapely.multilinestrings(shapely.linestrings(ends)))
    lines = shapely.simplify(shapely.get_parts(merged), PLAIN * nib)
    return [np.array(line.coords) for line in lines if not line.is_empty], has_any


@dataclass(frozen=True, eq=False)
class _Rims:
    """Points along the rims of shapes, (P, 2): of which shape and ring, how far along it and how
    long that is.
    """

    points: NDArray[np.float64]
    shape: NDArray[np.int64]
    ring: NDArray[np.int64]
    along: NDArray[np.float64]
    length: NDArray[np.float64]

    def between(self, one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.float64]:
        """How far points are from each other along their ring, mm; endless from ring to ring."""
        way = np.abs(self.along[one] - self.along[other])
        way = np.minimum(way, self.length[one] - way)
        return np.where(self.ring[one] == self.ring[other], way, np.inf)


def _sampled(shapes: NDArray[Any], step: float) -> _Rims:
    rings, shape = shapely.get_rings(shapes, return_index=True)
    corners, ring = shapely.get_coordinates(rings, return_index=True)
    begin = np.flatnonzero(ring[1:] == ring[:-1])
    way = corners[begin + 1] - corners[begin]
    length = np.hypot(*way.T)
    counts = np.maximum(np.ceil(length / step), 1).astype(np.int64)
    side = np.repeat(np.arange(len(begin)), counts)
    share = (np.arange(len(side)) - counted_before(counts)[side]) / counts[side]
    own = ring[begin]
    points = corners[begin[side]] + share[:, None] * way[side]
    total = np.bincount(own, length, len(rings))
    along = np.cumsum(length) - length - (np.cumsum(total) - total)[own]
    along = along[side] + share * length[side]
    own = own[side]
    return _Rims(points, shape[own], own, along, total[own])
