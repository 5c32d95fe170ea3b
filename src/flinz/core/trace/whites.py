"""The bare paper of a tracing as shapes: what ink encloses, and what lies round it."""

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.polygon import orient

from flinz.core.trace.refitting import pieces_of, refitted, united
from flinz.core.trace.tracing import (
    TraceWish,
    Tracing,
    flattened,
    straight_ring,
    together,
)

# Ink that comes so near to the edge of the sheet touches it, mm.
AT_EDGE_MM = 0.06
# What is thinner than twice this along an edge is no white, mm.
SLIVER_MM = 0.04
# Pieces of a curve where whites are parted along ink.
FINE = 12


def whites_of(tracing: Tracing, width_mm: float, height_mm: float, wish: TraceWish) -> Tracing:
    """The bare paper of a sheet as shapes, each bounded by the same curves as the ink beside it.

    Where ink reaches the edges of the sheet, what is round it is parted by it.
    """
    rings = [shapely.Polygon(ring) for ring in flattened(tracing, FINE)]
    outer = tracing.rings_of_shapes[:-1]
    holes = np.setdiff1d(np.arange(len(rings)), outer)
    inside = _innermost([rings[k] for k in holes], [rings[k] for k in outer])
    lots = [
        (tracing.ring(hole), [tracing.ring(outer[k]) for k in np.flatnonzero(inside == number)])
        for number, hole in enumerate(holes)
    ]
    free = np.flatnonzero(inside < 0)
    sheet = shapely.box(0, 0, width_mm, height_mm)
    bounds = shapely.bounds([rings[k] for k in outer]).reshape(-1, 4)[free]
    is_apart = (bounds[:, :2] > AT_EDGE_MM).all(1)
    is_apart &= (bounds[:, 2:] < (width_mm - AT_EDGE_MM, height_mm - AT_EDGE_MM)).all(1)
    touching, others = free[~is_apart], free[is_apart]
    if not len(touching):
        around = [straight_ring(np.asarray(orient(sheet).exterior.coords)[:0:-1])]
    else:
        left = sheet.difference(united([rings[outer[k]] for k in touching]))
        # Outlines end a little beside the edge: no sliver along it is paper.
        inner = left.buffer(-SLIVER_MM, join_style="mitre")
        parts = pieces_of(inner.buffer(SLIVER_MM, join_style="mitre").intersection(sheet))
        fitted = refitted(parts, wish)
        around = [fitted.some([k]).turned_round() for k in range(len(fitted))]
    polygons = [shapely.Polygon(flattened(each, FINE)[0]) for each in around]
    where = _innermost(polygons, [rings[outer[k]] for k in others])
    for number, each in enumerate(around):
        islands = [others[k] for k in np.flatnonzero(where == number)]
        lots.append((each, [tracing.ring(outer[k]) for k in islands]))
    return together([_one(out, within) for out, within in lots])


def _one(outside: Tracing, within: list[Tracing]) -> Tracing:
    """A white as one shape: round it the way that ink goes round its own."""
    found = together([outside, *within]).turned_round()
    return Tracing(found.curves, found.first, np.zeros(len(found.shape), np.int64), found.far)


def _innermost(outlines: list[shapely.Polygon], pieces: list[shapely.Polygon]) -> NDArray[np.int64]:
    """The number of the smallest outline in which each piece lies; -1 where in none."""
    found = np.full(len(pieces), -1)
    if not outlines or not pieces:
        return found
    places = shapely.points([each.exterior.coords[0] for each in pieces])
    at, piece = shapely.STRtree(places).query(outlines, predicate="contains")
    # The smallest comes last, and stays.
    order = np.argsort(-np.array([each.area for each in outlines])[at], kind="stable")
    found[piece[order]] = at[order]
    return found
