"""Marks that lie over each other as one outline: a cutter would cut each through the others."""

import operator
from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.deliver.primitives import Filled, Lines, primitives
from flinz.core.deliver.sight import Geometries, Line, Sight, seen_lines
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.trace.tracing import Tracing, flattened

# Curves are cut in so many pieces; a quarter of a round dot that is welded too.
PIECES = 12

# A closed outline, and None; or a middle line, of one point for a round dot, and its width, mm.
Cut = tuple[Line, float | None]


def cuts_of_marks(marks: Dots | Strokes, sight: Sight) -> Iterator[Cut]:
    """What a cutter gets of marks, as far as they are seen: lines of one width by their middle,
    dots that lie apart, and outlines of all else, welded.
    """
    areas = [np.zeros(0, object)]
    middles, widths = [np.zeros((0, 2))], [np.zeros(0)]
    is_hollow = isinstance(marks, Dots) and marks.shape == Shape.RING
    for primitive in primitives(marks):
        if isinstance(primitive, Filled):
            areas.append(_areas(primitive, is_hollow))
        elif isinstance(primitive, Lines):
            parts = np.split(primitive.points, primitive.first[1:-1])
            points = [part for part in parts if len(part) == 1]
            middles += points
            widths.append(np.full(len(points), primitive.width))
            for line in seen_lines([part for part in parts if len(part) > 1], sight):
                yield line, primitive.width
    dots = np.concatenate(middles), np.concatenate(widths)
    yield from _welded(np.concatenate(areas), *dots, sight)


def rims(areas: Geometries) -> Iterator[Cut]:
    """The outlines of areas."""
    for ring in shapely.get_rings(shapely.get_parts(areas)):
        yield np.array(ring.coords)[:-1], None


def _areas(filled: Filled, is_hollow: bool) -> Geometries:
    """Outlines as areas. is_hollow: whether every other one is the hole of the one before it."""
    count = len(filled.first) - 1
    each = Tracing(filled.curves, filled.first, np.arange(count), np.zeros(len(filled.curves)))
    rings = shapely.polygons([shapely.LinearRing(ring) for ring in flattened(each, PIECES)])
    # An outline may lie over itself: this fills it by the nonzero rule.
    found: Geometries = shapely.make_valid(rings, method="structure", keep_collapsed=False)
    return shapely.difference(found[::2], found[1::2]) if is_hollow else found


def _welded(
    areas: Geometries, middles: Line, widths: NDArray[np.float64], sight: Sight
) -> Iterator[Cut]:
    discs = shapely.buffer(shapely.points(middles), widths / 2, quad_segs=PIECES)
    marks = np.concatenate([areas, discs])
    is_apart = _lie_apart(marks)
    yield from rims(sight.of(np.array([shapely.union_all(marks[~is_apart])])))
    alone = np.flatnonzero(is_apart)
    seen, dot = sight.of(marks[alone]), alone - len(areas)
    # What nothing cuts comes back as it is.
    is_whole = np.fromiter(map(operator.is_, seen, marks[alone]), np.bool_)
    is_round = (dot >= 0) & is_whole
    yield from rims(seen[~is_round])
    round_dots = dot[is_round]
    yield from zip(middles[round_dots, None], widths[round_dots].tolist(), strict=True)


def _lie_apart(areas: Geometries) -> NDArray[np.bool_]:
    """(N,) which areas meet no other."""
    one, other = shapely.STRtree(areas).query(areas)
    one, other = one[one < other], other[one < other]
    shapely.prepare(areas)
    meet = shapely.intersects(areas[one], areas[other])
    is_apart = np.ones(len(areas), np.bool_)
    is_apart[np.concatenate([one[meet], other[meet]])] = False
    return is_apart
