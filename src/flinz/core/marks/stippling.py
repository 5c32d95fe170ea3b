"""Places dots that carry tone: evenly, true to the tone, and far enough apart to print."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.marks.bluenoise import SIDE, ranked_tile
from flinz.core.marks.packing import kept_apart, necks, spared
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.tones import EVEN, Spread, shaped
from flinz.core.marks.vectors import Column, Dots, Shape, joined
from flinz.core.planes.filters import Plane, smoothstep
from flinz.core.scale import whole_frame

# Cells are this many dots wide: a full tile of dots then covers all but a few per cent.
CELL_DOTS = 0.86
FINE = 4  # places a cell side, for settling
PACKED_GROWTH = 0.24
SOLID_GROWTH = 0.25
# Up to so much ink dots keep their distance; from so much on they run together.
ROOMY, PACKED = 0.45, 0.75
# How far apart dots are pushed, as a share of the distance in a hexagonal grid as dense.
APART = 0.95
FARTHEST_CELLS = 2.0
# By how much of its radius a dot may shrink to keep paper open beside it.
SPARED = 0.08
# Full cells would show their grid: dots in the dark begin up to so many cells beside the middle.
STRAY = 0.25
# Marks that have corners or a direction begin farther off, or rows of them would leave more or less
# paper as they turn.
STRAY_SHAPED = 0.5
STRAY_FROM, STRAY_AT = 0.5, 0.8
# From so much ink on grown dots leave nothing open.
SOLID = 0.99


def placed(
    density: Plane,
    cover: Plane,
    size: Plane,
    cell_mm: float,
    spread: Spread,
    most: int | None = None,
    heed: Callable[[], None] = lambda: None,
    corner: tuple[int, int] = (0, 0),
) -> Dots:
    """Dots on the cells of a sheet's grid, each (H, W) float32 0..1; sizes in mm.

    A dot stands in each cell whose rank in a blue-noise tile (R. Ulichney, 1993) is below the
    density there. It then settles: by a round of weighted Voronoi relaxation (A. Secord,
    2002), and by pushing its neighbours away until they are as far apart as their density
    allows. Where there is ink enough for dots to meet, what would be too narrow between them is
    closed. size: as a share of the largest dot. most: raises OverflowError for more dots.
    heed: called between parts of the work, and ends it where it raises. corner: column and row of
    the first cell, of a part of the grid.
    """
    height, width = density.shape
    rows, columns = (np.arange(height) + corner[1]) % SIDE, (np.arange(width) + corner[0]) % SIDE
    y, x = np.nonzero(ranked_tile()[np.ix_(rows, columns)] < density)
    if most is not None and len(x) > most:
        raise OverflowError(f"{len(x):,} dots")
    ink, dense = cover[y, x], density[y, x]
    # In cells, until the end.
    radius = np.asarray(size[y, x] * grown(ink) * np.float32(0.5 / CELL_DOTS), np.float32)
    places = np.stack([x + 0.5, y + 0.5], -1).astype(np.float32)
    joints = joined([])
    if not spread.draft:
        stray = np.float32(STRAY if spread.shape == Shape.ROUND else STRAY_SHAPED)
        places += stray * _strayed(x, y) * smoothstep(STRAY_FROM, STRAY_AT, ink)[:, None]
        if spread.evenness > 0:
            places = _relaxed(places, density, np.float32(spread.evenness))
            roomy = (1 - smoothstep(ROOMY, PACKED, ink)) * np.float32(spread.evenness / EVEN)
            roomy = np.asarray(np.minimum(roomy, 1), np.float32)
            room = _room(radius, dense, spread.gap)
            heed()
            places = kept_apart(places, room, roomy, (width, height))
            radius = spared(places, radius, spread.gap, roomy * np.float32(SPARED))
        if spread.gap > 0:
            heed()
            joints = necks(places, radius, spread.gap, ink < SOLID)
    places += np.array(corner, np.float32)
    x_mm, y_mm = np.ascontiguousarray((places * np.float32(cell_mm)).T)
    return Dots(x_mm, y_mm, radius * np.float32(cell_mm), necks=joints.scaled(cell_mm))


def grown(cover: Plane) -> Plane:
    """How many times larger dots are past packing: as close as they get they leave holes."""
    larger = 1 + np.float32(PACKED_GROWTH) * smoothstep(0.80, 0.97, cover)
    # Solid black must not show where the cells are.
    return np.asarray(larger + np.float32(SOLID_GROWTH) * smoothstep(0.97, 1.0, cover), np.float32)


def tile_cover(
    density: float, size: float, cover: float, spread: Spread, angle: float = 0.5
) -> float:
    """The ink that dots of a size leave on a tile of one density, where cover is wished.

    angle: how they lie, in radians.
    """
    even, sized, wished = (
        np.full((SIDE, SIDE), value, np.float32) for value in (density, size, cover)
    )
    dots = shaped(placed(even, wished, sized, 1.0, spread), spread.shape)
    dots = replace(dots, angle=np.full(len(dots), angle, np.float32))
    return float(dots_cover(dots, whole_frame(float(SIDE), SIDE * 6, SIDE * 6)).mean())


def _room(radius: Column, density: Column, gap: float) -> Column:
    # The radius of the disc that a dot wants for itself.
    hexagonal = np.float32(math.sqrt(2 / math.sqrt(3))) / np.sqrt(np.maximum(density, 1e-3))
    wanted = np.minimum(hexagonal * np.float32(APART), np.float32(FARTHEST_CELLS)) / 2
    return np.asarray(np.maximum(wanted, radius + np.float32(gap / 2)), np.float32)


def _strayed(x: NDArray[np.int64], y: NDArray[np.int64]) -> NDArray[np.float32]:
    # Noise that stays with the cell, -1..1 both ways.
    noise = np.stack([np.sin(x * 127.1 + y * 311.7), np.sin(x * 269.5 + y * 183.3)], -1) * 43758.547
    return np.asarray(2 * (noise - np.floor(noise)) - 1, np.float32)


def _relaxed(places: NDArray[np.float32], density: Plane, share: np.float32) -> NDArray[np.float32]:
    """Dots moved by a share towards the weighted middle of what lies nearest to them."""
    height, width = density.shape
    fine = np.ones((height * FINE, width * FINE), np.uint8)
    column = np.clip((places[:, 0] * FINE).astype(np.int64), 0, width * FINE - 1)
    row = np.clip((places[:, 1] * FINE).astype(np.int64), 0, height * FINE - 1)
    fine[row, column] = 0
    _, labels = cv2.distanceTransformWithLabels(
        fine, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    size = (width * FINE, height * FINE)
    weight = cv2.resize(density, size, interpolation=cv2.INTER_LINEAR) + np.float32(1e-3)
    middles = _middles(labels, weight)
    goal = middles[labels[row, column]] / FINE + 0.5 / FINE
    return np.asarray(places + share * (goal - places), np.float32)


@njit(cache=True, nogil=True)
def _middles(labels, weight) -> Any:  # type: ignore[no-untyped-def]
    # Of what bears each label the weighted middle, x and y.
    sums = np.zeros((labels.max() + 1, 3))
    for row in range(labels.shape[0]):
        for column in range(labels.shape[1]):
            own = sums[labels[row, column]]
            share = np.float64(weight[row, column])
            own[0] += share * column
            own[1] += share * row
            own[2] += share
    return sums[:, :2] / np.maximum(sums[:, 2:], 1e-9)
