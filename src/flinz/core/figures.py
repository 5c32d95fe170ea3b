"""What can be measured on a drawing while it is being made."""

import numpy as np
from pydantic import BaseModel

from flinz.core.filters import Plane


class Figures(BaseModel):
    """Figures of one drawing: share of the sheet under ink, and how many marks are drawn."""

    ink: float
    marks: int | None = None


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
