"""How many dots of which size leave the ink that is wished, from a table of drawn tiles."""

import functools
import json
import math
from dataclasses import dataclass, replace
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import NDArray

from flinz.core.marks.pen import THREE, TWO
from flinz.core.marks.vectors import Dots, Shape
from flinz.core.planes.filters import Plane

# How far dots settle that show no rows and no clumps.
EVEN = 0.7
# Dots are of their full size from this much ink on.
FULL_SIZED = 0.625
# Areas of marks, as shares of the circle around them (see flinz.core.marks.pen).
SHARE_OF_CIRCLE = {
    Shape.ROUND: 1.0,
    Shape.DASH: 0.36,
    Shape.RING: 0.64,
    Shape.SQUARE: 0.637,
    Shape.LEAF: 0.42,
    Shape.DIAMOND: 0.637,
}


@dataclass(frozen=True)
class Spread:
    """How dots spread. gap: the narrowest paper left between them, in cells of their grid.

    evenness: 0..1, how far they settle. draft: they stay where the grid puts them. smallest: dots
    in the light, as a share of the largest. shape: what is set down for each.
    """

    gap: float = 0.0
    evenness: float = EVEN
    draft: bool = False
    smallest: float = 1.0
    shape: Shape = Shape.ROUND


def sizes(cover: Plane, spread: Spread) -> Plane:
    """Sizes of the dots of wished ink 0..1, as shares of the largest."""
    smallest = np.float32(spread.smallest)
    grown = np.clip(cover * np.float32(1 / FULL_SIZED), 0, 1)
    return np.asarray(smallest + (1 - smallest) * grown, np.float32)


def planned(cover: Plane, spread: Spread) -> tuple[Plane, Plane]:
    """The chance of a dot in each cell, 0..1, and its size, that leave the ink cover 0..1.

    Sizes are shares of the largest, over 1 where no more marks can be set for the ink. From a
    table made by drawing tiles of dots (tools/stipple_table.py): where dots overlap, and where
    they join, ink is no simple sum of them.
    """
    table, size = _table(), sizes(cover, spread)
    growth = None
    if spread.shape != Shape.ROUND:
        settling = 0.0 if spread.draft else spread.evenness
        column, growth = _between(table["evenness"], table[spread.shape], settling)
    elif spread.draft:
        column = table["draft"]
    else:
        settled = _between(table["evenness"], table["round"], spread.evenness)
        sized = _between(table["smallest"], settled, spread.smallest)
        column = _between(table["gaps"], sized, spread.gap)
    # Smaller dots need more of them for the same ink, as far as there are cells.
    chance = np.asarray(np.interp(cover, table["covers"], column), np.float32) / size**2
    if growth is not None:
        size = size * np.asarray(np.interp(cover, table["covers"], growth), np.float32)
    return np.asarray(np.clip(chance, 0, 1), np.float32), np.asarray(size, np.float32)


def shaped(dots: Dots, shape: Shape, blob: float = 0.0) -> Dots:
    """Round dots as marks of a shape, or as a worn pen's blobs (0..1), of the same ink each."""
    share = SHARE_OF_CIRCLE[shape] * (1 + blob**2 * float(TWO**2 + THREE**2) / 2)
    radius = np.asarray(dots.radius * np.float32(1 / math.sqrt(share)), np.float32)
    return replace(dots, radius=radius, shape=shape, blob=blob)


def _between(
    places: NDArray[np.float64], rows: NDArray[np.float64], at: float
) -> NDArray[np.float64]:
    # Rows that stand at rising places, read between them; the outermost beyond.
    below = int(np.clip(np.searchsorted(places, at, "right") - 1, 0, len(places) - 2))
    share = np.clip((at - places[below]) / (places[below + 1] - places[below]), 0, 1)
    return np.asarray((1 - share) * rows[below] + share * rows[below + 1])


@functools.cache
def _table() -> dict[str, Any]:
    text = (files("flinz.core.marks") / "tones.json").read_text("utf-8")
    return {name: np.array(values) for name, values in json.loads(text).items()}
