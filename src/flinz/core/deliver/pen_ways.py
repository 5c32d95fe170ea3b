"""The ways of a pen over marks and shapes: middle lines, outlines and hatching."""

import itertools
import math
from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Item
from flinz.core.deliver.drawn_in import Areas, drawn_in, plainer_areas
from flinz.core.deliver.midlines import middle_lines
from flinz.core.deliver.primitives import contents_of
from flinz.core.deliver.sight import PIECES, Line, Sight, seen_lines
from flinz.core.marks.masked import some_dots
from flinz.core.marks.outlines import dot_rings, plainer
from flinz.core.marks.pen import DASH_HALF, RING_HALF
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.trace.tracing import Tracing, counted_before

# Hatching lines lie a little closer than they are wide, so that no paper is left between.
OVERLAP, HATCH_DEG = 0.9, 45.0
# A dot up to so many nibs wide is one touch of the pen; fewer where marks are as wide as drawn.
TOUCH_NIBS, TOUCH_NIBS_TO_WIDTH = 1.4, 1.1
WITHIN_MM, LONGEST_CHORD_MM = 0.01, 0.4
# Where a round end is looked at, from its tip on.
ROUND_END = np.radians([90, 65, 45, 25])
# Outlines of dots are cut in so many pieces a curve.
DOT_PIECES = 4
# Rims of shapes are followed to so many mm.
PLAIN_MM = 0.005
# A shape that no line goes along is a touch from so many square nibs on.
LEAST_TOUCH = 0.15
# Beside a line another is drawn where its rim lies farther out than by so many nibs.
LEAST_BESIDE = 0.1
# So much less of an ink than elsewhere is none; of a shape so much is all.
LEAST_STRENGTH, FULL_STRENGTH = 0.05, 0.996


def ways_of_pen(
    item: Item, sight: Sight, strength: float, nib: float, *, to_width: bool = False
) -> Iterator[Line]:
    """The lines, mm, that a nib of so many mm draws of what is seen of an item.

    strength: how much ink shapes have, 0..1: hatching is as much wider as there is less. to_width:
    whether marks wider than the nib are drawn as wide as they are, or by their middle lines alone.
    """
    if strength < LEAST_STRENGTH:
        return
    for content in contents_of(item) if strength >= FULL_STRENGTH else [item.content]:
        if isinstance(content, Tracing):
            plain = plainer_areas(np.array(content.polygons(PIECES), object), PLAIN_MM)
            areas = shapely.get_parts(sight.of(plain))
            is_area = shapely.get_type_id(areas) == shapely.GeometryType.POLYGON
            yield from _of_shapes(areas[is_area & ~shapely.is_empty(areas)], nib, strength)
        elif isinstance(content, Dots):
            yield from seen_lines(_of_dots(content, nib, to_width), sight)
        elif isinstance(content, Strokes):
            yield from seen_lines(_of_strokes(content, nib, to_width), sight)


def _of_strokes(strokes: Strokes, nib: float, to_width: bool) -> Iterator[Line]:
    thin = plainer(strokes, WITHIN_MM)
    points = np.column_stack([thin.x, thin.y]).astype(np.float64)
    least = LEAST_STRENGTH * float(np.median(thin.width)) if len(thin.width) else 0.0
    for low, high in itertools.pairwise(thin.first):
        # A mask may thin a part of it to nothing.
        for begin, end in _runs(thin.width[low:high] > least):
            own = slice(low + begin, low + end)
            line, width = points[own], thin.width[own].astype(np.float64)
            if not to_width:
                yield line
            elif len(line) == 1:
                yield from _rings(float(line[0, 0]), float(line[0, 1]), float(width[0]) / 2, nib)
            else:
                yield from _beside(*_with_ends(line, width, nib), nib)


def _runs(which: NDArray[np.bool_]) -> NDArray[np.int64]:
    """(N, 2) where each run of True begins and ends."""
    return np.flatnonzero(np.diff(which, prepend=False, append=False)).reshape(-1, 2)


def _with_ends(
    line: Line, width: NDArray[np.float64], nib: float
) -> tuple[Line, NDArray[np.float64]]:
    """A line and its widths that goes on into its round ends, as far as a nib stays within them."""
    for _ in range(2):
        reach = width[0] / 2 - nib / 2
        if reach > 0:
            far = np.sin(ROUND_END) * reach
            way = line[0] - line[1]
            out = line[0] + far[:, None] * way / max(np.hypot(*way), 1e-9)
            wide = 2 * np.sqrt((width[0] / 2) ** 2 - far**2)
            line, width = np.concatenate([out, line]), np.concatenate([wide, width])
        line, width = line[::-1], width[::-1]
    return line, width


def _beside(line: Line, width: NDArray[np.float64], nib: float) -> Iterator[Line]:
    """A middle line and lines on both sides of it, until its width is filled; the outermost ones
    follow its rims.
    """
    yield line
    ways = np.gradient(line, axis=0)
    ways /= np.maximum(np.hypot(*ways.T), 1e-9)[:, None]
    across = np.column_stack([-ways[:, 1], ways[:, 0]])
    room = np.maximum(width - nib, 0) / 2
    step = nib * OVERLAP
    for number in range(math.ceil(room.max() / step)):
        is_wide = room > number * step + LEAST_BESIDE * nib
        way = np.minimum(room, (number + 1) * step)[:, None] * across
        for low, high in _runs(is_wide):
            # From where it leaves the line within to where it comes back to it.
            own = slice(max(low - 1, 0), high + 1)
            yield line[own] + way[own]
            yield line[own] - way[own]


def _of_dots(dots: Dots, nib: float, to_width: bool) -> Iterator[Line]:
    is_touch = 2 * dots.radius <= nib * (TOUCH_NIBS_TO_WIDTH if to_width else TOUCH_NIBS)
    yield from np.column_stack([dots.x, dots.y])[is_touch].astype(np.float64)[:, None]
    large = some_dots(dots, ~is_touch)
    if dots.shape == Shape.DASH:
        yield from _of_strokes(_dashes(large), nib, to_width)
    elif dots.shape == Shape.ROUND or (dots.shape == Shape.RING and not to_width):
        columns = (each.tolist() for each in (large.x, large.y, large.radius))
        for x, y, radius in zip(*columns, strict=True):
            if dots.shape == Shape.RING:
                yield _ring(x, y, radius * (1 - RING_HALF))
            else:
                yield from _rings(x, y, radius, nib)
    elif len(large):
        (curves, first), dot = dot_rings(large)
        shapes = Tracing(curves, first, dot, np.zeros(len(curves)))
        yield from _of_shapes(np.array(shapes.polygons(DOT_PIECES), object), nib, 1.0)
    if to_width:
        yield from _of_strokes(dots.necks, nib, to_width)


def _dashes(dots: Dots) -> Strokes:
    half = dots.radius * np.float32(1 - DASH_HALF)
    angle = dots.angle if len(dots.angle) else np.zeros_like(half)
    # Angles turn against the clock, and y goes down.
    x, y = half * np.cos(angle), -half * np.sin(angle)
    across, down = np.stack([dots.x - x, dots.x + x], 1), np.stack([dots.y - y, dots.y + y], 1)
    width = np.repeat(2 * np.float32(DASH_HALF) * dots.radius, 2)
    return Strokes(across.ravel(), down.ravel(), width, 2 * np.arange(len(dots) + 1))


def _rings(x: float, y: float, radius: float, nib: float) -> Iterator[Line]:
    """Circles within each other that fill a dot."""
    ring = radius - nib / 2
    while ring > 0:
        yield _ring(x, y, ring)
        ring -= nib * OVERLAP


def _ring(x: float, y: float, radius: float) -> Line:
    count = max(8, math.ceil(2 * math.pi * radius / LONGEST_CHORD_MM))
    turn = np.linspace(0, 2 * math.pi, count + 1)
    return np.column_stack([x + radius * np.cos(turn), y + radius * np.sin(turn)])


def _of_shapes(areas: Areas, nib: float, strength: float) -> Iterator[Line]:
    """Outlines drawn within shapes and hatching within those, middle lines where a shape is thinner
    than the nib; what has less than full ink by hatching alone, the wider the weaker it is.
    """
    if strength < FULL_STRENGTH:
        yield from _hatched(drawn_in(areas, nib / 4), nib / strength)
        return
    lines, are_thin = middle_lines(areas, nib)
    yield from lines
    within = drawn_in(areas, nib / 2)
    is_touch = shapely.is_empty(within) & ~are_thin
    is_touch &= shapely.area(areas) >= LEAST_TOUCH * nib * nib
    yield from (np.array(each.coords) for each in shapely.point_on_surface(areas[is_touch]))
    left = shapely.get_parts(within)
    left = left[~shapely.is_empty(left)]
    for ring in shapely.simplify(shapely.get_rings(left), WITHIN_MM):
        yield np.array(ring.coords)
    # Near enough that a row's edge lies on the outline wherever the first one falls.
    yield from _hatched(drawn_in(left, nib * (1 - OVERLAP)), nib * OVERLAP)


def _hatched(areas: Areas, gap: float) -> Iterator[Line]:
    """Rows over areas, so many mm apart, that go on from one to the next."""
    rings, area = shapely.get_rings(shapely.get_parts(areas), return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    turn = math.radians(HATCH_DEG)
    way = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    along, across = (points @ way.T / gap).T
    is_side = ring[1:] == ring[:-1]
    begin, end = np.flatnonzero(is_side), np.flatnonzero(is_side) + 1
    low, high = (np.ceil(some).astype(np.int64) for some in (across[begin], across[end]))
    counts = np.abs(high - low)
    side = np.repeat(np.arange(len(begin)), counts)
    row = np.minimum(low, high)[side] + np.arange(len(side)) - counted_before(counts)[side]
    begin, end = begin[side], end[side]
    share = (row - across[begin]) / (across[end] - across[begin])
    crossing = along[begin] + share * (along[end] - along[begin])
    order = np.lexsort((crossing, row, area[ring[begin]]))
    places = np.column_stack([crossing, row])[order] * gap @ way
    # From where a row comes in to where it goes out.
    yield from places.reshape(-1, 2, 2)
