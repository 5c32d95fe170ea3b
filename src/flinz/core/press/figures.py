"""What can be measured on a drawing while it is being made."""

import functools
import itertools
import operator

import numpy as np
from pydantic import BaseModel

from flinz.core.planes.filters import Plane


class PlateInk(BaseModel):
    """Share of the sheet under one plate's ink alone, and under all the others without it."""

    plate: str
    alone: float
    without: float


class Figures(BaseModel):
    """Figures of one drawing: share of the sheet under ink, and how many marks are drawn.

    plates: what each plate adds, where there is more than one.
    """

    ink: float
    marks: int | None = None
    plates: list[PlateInk] = []


def ink_share(covers: list[Plane]) -> float:
    """Share of the sheet under ink of any plate, greys counting for their darkness.

    covers: (H, W) ink 0..1 of each plate. Plates overlap as if at random.
    """
    return _inked([1 - cover for cover in covers])


def plate_shares(covers: dict[str, Plane]) -> list[PlateInk]:
    """What each of several plates adds. covers: (H, W) ink 0..1 by plate id."""
    bare = [1 - cover for cover in covers.values()]
    # What is bare up to each plate, and from each on: all others are two of these.
    upto = list(itertools.accumulate(bare, operator.mul))
    onwards = list(itertools.accumulate(reversed(bare), operator.mul))[::-1]
    return [
        PlateInk(
            plate=plate,
            alone=_inked(bare[k : k + 1]),
            without=_inked(upto[k - 1 : k] + onwards[k + 1 : k + 2]),
        )
        for k, plate in enumerate(covers)
    ]


def _inked(bare: list[Plane]) -> float:
    """Share under ink, by what each plate or several leave bare."""
    if not bare:
        return 0.0
    return round(float(1 - functools.reduce(operator.mul, bare).mean(dtype=np.float64)), 4)
