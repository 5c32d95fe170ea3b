"""What can be measured on a drawing."""

from pydantic import BaseModel

from flinz.core.filters import Plane


class Figures(BaseModel):
    """Figures of one drawing."""

    ink: float


def measured(picture: Plane) -> Figures:
    """Figures of a neutral proof, (H, W) or (H, W, 3) float32 0 black..1 white.

    ink: the share of the sheet that is black, greys counting for their darkness.
    """
    return Figures(ink=round(float(1 - picture.mean(dtype="float64")), 4))
