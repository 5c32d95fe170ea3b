"""The part of a shape that was a shape by itself before it opened into what lies beside it."""

import math

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import ndimage

from flinz.core.scale import Frame
from flinz.core.shapes.filled import filled
from flinz.core.trace.recognising import SAME, Known
from flinz.core.trace.refitting import GRID_MM, pieces_of
from flinz.core.trace.tracing import TraceWish, traced

# What lies farther from all its places than so many times their distance was no part of it.
BESIDE = 1.8
# What is within so many times that of a place was part of it.
ROUND = 0.6
# It is looked for on cells of a share of that distance, not finer than this, mm, in so many.
CELL_SHARE, FINEST_MM, MOST_CELLS = 0.1, 0.04, 150_000
# Depths within a shape that are told apart.
DEPTHS = 24
# What is cut off is smooth over so many cells.
SMOOTH_CELLS = 1.5
ITS, OTHERS, OUTSIDE = 1, 2, 3
Sides = NDArray[np.uint8]


def part_that_was(known: Known, shape: shapely.Polygon) -> list[shapely.Polygon]:
    """The pieces, mm, of a shape that a known one lies in, where that was by itself; none where
    nothing is left that would be known for it.

    Both sides spread over the shape from places that are theirs, first where it is broadest (a
    watershed of its depths, S. Beucher and C. Lantuéjoul, 1979), so that they meet where it is
    narrowest.
    """
    frame = _window(known, shape)
    rings = [shape.exterior.coords, *(each.coords for each in shape.interiors)]
    within = filled([np.asarray(each) for each in rings], frame) > 0.5
    if not within.any():
        return []
    belongs = _nearest(_spread(known, within, frame))
    if not (belongs == ITS).any():
        return []
    region = cv2.GaussianBlur((belongs == ITS).astype(np.float32), (0, 0), SMOOTH_CELLS)
    outlines = traced(region, frame, TraceWish(closeness=1 / frame.px_per_mm)).polygons()
    whole = shapely.union_all(shapely.make_valid(outlines), grid_size=GRID_MM)
    own = shapely.intersection(shapely.make_valid(shape), whole, grid_size=GRID_MM)
    places = shapely.points(known.points)
    pieces = [each for each in pieces_of(own) if shapely.contains(each, places).any()]
    area = sum(each.area for each in pieces)
    share = sum(shapely.contains(each, places).mean() for each in pieces)
    common = share * known.area
    return pieces if common >= SAME * (known.area + area - common) else []


def _window(known: Known, shape: shapely.Polygon) -> Frame:
    """The frame in which both sides are looked for."""
    apart = _apart(known)
    margin = 3 * BESIDE * apart
    bounds = np.array(shape.bounds)
    low = np.maximum(known.points.min(0) - margin, bounds[:2] - apart)
    high = np.minimum(known.points.max(0) + margin, bounds[2:] + apart)
    width, height = np.maximum(high - low, FINEST_MM)
    cell = max(CELL_SHARE * apart, FINEST_MM, math.sqrt(width * height / MOST_CELLS))
    left, top = np.floor(low / cell).astype(int)
    right, bottom = np.ceil(high / cell).astype(int) + 1
    columns, rows = int(right - left), int(bottom - top)
    return Frame(1 / cell, columns, rows, int(left), int(top), columns, rows)


def _apart(known: Known) -> float:
    return math.sqrt(known.area / len(known.points))


def _spread(known: Known, within: NDArray[np.bool_], frame: Frame) -> Sides:
    """Which side each cell of a shape is on: ITS or OTHERS; OUTSIDE beside the shape."""
    at = np.floor(known.points * frame.px_per_mm).astype(int) - (frame.left, frame.top)
    columns = np.clip(at[:, 0], 0, frame.width - 1)
    rows = np.clip(at[:, 1], 0, frame.height - 1)
    apart = frame.px(_apart(known))
    seeds = np.ones(within.shape, np.uint8)
    seeds[rows, columns] = 0
    away = cv2.distanceTransform(seeds, cv2.DIST_L2, 5)
    sides = np.zeros(within.shape, np.uint8)
    sides[within & (away > BESIDE * apart)] = OTHERS
    depth = cv2.distanceTransform(np.pad(within, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    for row, column in zip(rows.tolist(), columns.tolist(), strict=True):
        # Its places are spread evenly, and what lies round each no farther than the edge is its.
        near = min(ROUND * apart, float(depth[row, column]) - 1)
        cv2.circle(sides, (column, row), max(0, int(near)), ITS, cv2.FILLED)
    sides[~within] = OUTSIDE
    for level in np.linspace(float(depth.max()), 0, DEPTHS + 1)[1:]:
        _spread_over(sides, within & (depth > level))
    return sides


def _spread_over(sides: Sides, where: NDArray[np.bool_]) -> None:
    """Give the cells of each connected part to the side that has some of it, or has the nearest."""
    count, part = cv2.connectedComponents(where.astype(np.uint8), connectivity=4)
    its, others = where & (sides == ITS), where & (sides == OTHERS)
    has_its = np.bincount(part[its], minlength=count) > 0
    has_others = np.bincount(part[others], minlength=count) > 0
    # Part 0 is what lies elsewhere.
    has_its[0] = has_others[0] = False
    free = where & (sides == 0)
    sides[free & (has_its & ~has_others)[part]] = ITS
    sides[free & (has_others & ~has_its)[part]] = OTHERS
    both = free & (has_its & has_others)[part]
    if both.any():
        to_its, to_others = (
            cv2.distanceTransform((~each).astype(np.uint8), cv2.DIST_L2, 5)
            for each in (its, others)
        )
        sides[both] = np.where(to_its <= to_others, ITS, OTHERS)[both]


def _nearest(sides: Sides) -> Sides:
    """Sides, those beside the shape as the nearest cells within it."""
    outside = sides == OUTSIDE
    if not outside.any():
        return sides
    rows, columns = ndimage.distance_transform_edt(
        outside, return_distances=False, return_indices=True
    )
    return np.asarray(sides[rows, columns])
