"""What can be measured on a drawing while it is being made."""

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flinz.core.planes.filters import Plane

# Pixels that are gathered from all plates at a time.
AT_ONCE = 16_384


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


def figures_of(covers: dict[str, Plane]) -> Figures:
    """The share of the sheet under ink of any plate, greys counting for their darkness, and what
    each of several plates adds.

    covers: (H, W) float32 ink 0..1 by plate id. Plates overlap as if at random.
    """
    if not covers:
        return Figures(ink=0.0)
    flat = [cover.ravel() for cover in covers.values()]
    pixels, sums = flat[0].size, np.zeros(1 + 2 * len(flat))
    for first in range(0, pixels, AT_ONCE):
        part = [each[first : first + AT_ONCE] for each in flat]
        sums += _bare(np.stack(part, dtype=np.float32))
    together, *each = (round(float(1 - share), 4) for share in sums / pixels)
    count = len(covers)
    plates = [
        PlateInk(plate=plate, alone=each[k], without=each[count + k])
        for k, plate in enumerate(covers)
    ]
    return Figures(ink=together, plates=plates if count > 1 else [])


def _bare(covers: NDArray[np.float32]) -> NDArray[np.float64]:
    """Pixels left bare: by all plates, by each alone, by all without each. covers: (N, pixels)."""
    count, pixels = covers.shape
    bare = np.subtract(1, covers, out=covers)
    # What is bare up to each plate, and from each on: all others are two of these.
    upto, onwards = np.ones((2, count + 1, pixels), np.float32)
    for k in range(count):
        np.multiply(upto[k], bare[k], out=upto[k + 1])
    for k in range(count - 1, -1, -1):
        np.multiply(onwards[k + 1], bare[k], out=onwards[k])
    others = np.einsum("ij,ij->i", upto[:-1], onwards[1:])
    return np.concatenate([[upto[-1].sum()], bare.sum(1), others]).astype(np.float64)
