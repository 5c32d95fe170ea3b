"""Unions and pieces of polygons, and polygons as shapes of curves again."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.polygon import orient

from flinz.core.trace.contours import Contours
from flinz.core.trace.tracing import (
    TRACED_PX_PER_MM,
    TraceWish,
    Tracing,
    along_contours,
    counted_before,
)

# The grid on which polygons meet, mm.
GRID_MM = 1e-4


def united(polygons: Sequence[shapely.Polygon]) -> shapely.Geometry:
    """All that polygons cover, mm. Cut in pieces, a curve may cross one that it passes closely."""
    return shapely.union_all(shapely.make_valid(polygons), grid_size=GRID_MM)


def pieces_of(geometry: shapely.Geometry, least_mm2: float = 0.0) -> list[shapely.Polygon]:
    """The polygons that a geometry is made of, those of more than so many mm²."""
    parts = shapely.get_parts(geometry)
    return [each for each in parts if each.geom_type == "Polygon" and each.area > least_mm2]


def refitted(polygons: Sequence[shapely.Polygon], wish: TraceWish) -> Tracing:
    """Polygons, mm, each as a shape whose outlines are curves again."""
    rings, pieces = [], []
    for piece, polygon in enumerate(polygons):
        own = orient(polygon)
        for ring in (own.exterior, *own.interiors):
            rings.append(_stepped(np.asarray(ring.coords)[:-1] * TRACED_PX_PER_MM))
            pieces.append(piece)
    if not rings:
        nothing = np.zeros(0, np.int64)
        return Tracing(np.zeros((0, 8)), np.zeros(1, np.int64), nothing, np.zeros(0))
    lengths = np.array([len(each) for each in rings])
    x, y = np.concatenate(rings).T.copy()
    contours = Contours(
        x,
        y,
        np.append(counted_before(lengths), lengths.sum()),
        np.array(pieces),
        np.ones(len(rings)),
    )
    found = along_contours(contours, wish.closeness * TRACED_PX_PER_MM, wish.corners)
    return replace(found, curves=found.curves / TRACED_PX_PER_MM, far=found.far / TRACED_PX_PER_MM)


def _stepped(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """A closed polygon as points of about a pixel's distance, (N, 2), its corners among them."""
    sides = np.roll(corners, -1, 0) - corners
    steps = np.maximum(1, np.rint(np.hypot(*sides.T))).astype(np.int64)
    at = np.arange(steps.sum()) - np.repeat(counted_before(steps), steps)
    return np.asarray(
        np.repeat(corners, steps, 0)
        + np.repeat(sides, steps, 0) * (at / np.repeat(steps, steps))[:, None]
    )
