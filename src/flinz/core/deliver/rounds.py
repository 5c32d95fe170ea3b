"""Which shapes of a tracing are round: the dots of a screen, where its tone is even."""

import numpy as np
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
    bounds = tracing.rings_of_shapes
    alone = np.flatnonzero(np.diff(bounds) == 1)
    rings = bounds[alone]
    x, y, radius, off = _circles(tracing, rings)
    is_round = off <= np.minimum(OFF_MM, OFF_OF_RADIUS * radius)
    round_x, round_y, round_radius = (
        np.asarray(each[is_round], np.float32) for each in (x, y, radius)
    )
    left = np.setdiff1d(np.arange(len(tracing)), alone[is_round])
    return tracing.some(left), Dots(round_x, round_y, round_radius)


def _circles(tracing: Tracing, rings: NDArray[np.int64]) -> tuple[Column, Column, Column, Column]:
    """x, y and radius of the circles that some rings are nearest to, and how far they are from
    these at most, beside what the drawing is from them; mm.
    """
    if not len(rings):
        nothing = np.zeros(0)
        return nothing, nothing, nothing, nothing
    lengths = np.diff(tracing.first)[rings]
    starts = np.cumsum(lengths) - lengths
    which = np.repeat(tracing.first[rings] - starts, lengths) + np.arange(lengths.sum())
    points = points_of(tracing.curves[which], PIECES)
    begin, end = points[:, :-1], points[:, 1:]
    # Twice the areas of the triangles from the first curve's begin; what they weigh.
    origin = np.repeat(points[starts, 0], lengths, 0)[:, None]
    one, two = begin - origin, end - origin
    twice = one[..., 0] * two[..., 1] - one[..., 1] * two[..., 0]
    area = np.add.reduceat(twice.sum(1), starts)
    lean = np.add.reduceat((twice[..., None] * (one + two)).sum(1), starts)
    safe = np.where(area == 0, 1.0, area)
    middle = points[starts, 0] + lean / (3 * safe[:, None])
    radius = np.sqrt(np.abs(area) / (2 * np.pi))
    far = np.hypot(*(begin - np.repeat(middle, lengths, 0)[:, None]).transpose(2, 0, 1))
    away = np.abs(far - np.repeat(radius, lengths)[:, None]).max(1) - tracing.far[which]
    return middle[:, 0], middle[:, 1], radius, np.maximum.reduceat(away, starts)
