"""What can be measured on a drawing while it is being made."""

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
    if not covers:
        return 0.0
    bare = np.ones_like(covers[0])
    for cover in covers:
        bare = bare * (1 - cover)
    return round(float(1 - bare.mean(dtype=np.float64)), 4)


def plate_shares(covers: dict[str, Plane]) -> list[PlateInk]:
    """What each of several plates adds. covers: (H, W) ink 0..1 by plate id."""
    return [
        PlateInk(
            plate=plate,
            alone=ink_share([cover]),
            without=ink_share([other for name, other in covers.items() if name != plate]),
        )
        for plate, cover in covers.items()
    ]
