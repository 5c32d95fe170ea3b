"""Which shapes of a tracing are round: the dots of a screen, where its tone is even."""

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.marks.vectors import Dots
from flinz.core.trace.tracing import Tracing, points_of

Column = NDArray[np.float64]
# How far the curves of a round dot may lie from its circle: mm, beside what the drawing is from
# them; and of its radius at most.
OFF_MM, OFF_OF_RADIUS = 0.015, 0.1
# Pieces that its curves are looked at in.
PIECES = 8


def parted(tracing: Tracing) -> tuple[Tracing, Dots]:
    """Shapes that are not round, and the others as circles of the same area."""
    without_holes = np.flatnonzero(np.diff(tracing.rings_of_shapes) == 1)
    if not len(without_holes):
        nothing = np.zeros(0, np.float32)
        return tracing, Dots(nothing, nothing, nothing)
    middle, radius, off = _circles(tracing.some(without_holes))
    is_round = off <= np.minimum(OFF_MM, OFF_OF_RADIUS * radius)
    x, y = middle[is_round].T.astype(np.float32)
    left = np.setdiff1d(np.arange(len(tracing)), without_holes[is_round])
    return tracing.some(left), Dots(x, y, radius[is_round].astype(np.float32))


def _circles(shapes: Tracing) -> tuple[Column, Column, Column]:
    """Middles (N, 2) and radii of the circles that shapes without holes are nearest to, and how far
    they are from these at most, beside what the drawing is from them; mm.
    """
    polygons = shapes.polygons(PIECES)
    radius = np.sqrt(shapely.area(polygons) / np.pi)
    middle = shapely.get_coordinates(shapely.centroid(polygons))
    curves = np.diff(shapes.first)
    points = points_of(shapes.curves, PIECES)[:, :-1] - np.repeat(middle, curves, 0)[:, None]
    away = np.abs(np.hypot(points[..., 0], points[..., 1]) - np.repeat(radius, curves)[:, None])
    return middle, radius, np.maximum.reduceat(away.max(1) - shapes.far, shapes.first[:-1])
