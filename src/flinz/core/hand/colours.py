"""A cut-out part's own colours, freed of those that lay beside it."""

import numpy as np
from numpy.typing import NDArray

from flinz.core.hand.pymatting_parts import estimate_foreground_ml
from flinz.core.planes.filters import Plane

Picture = NDArray[np.float32]


def apart(rgb: Picture, alpha: Plane) -> Picture:
    """How far subject and backdrop lie apart in colour at each pixel, (H, W, 3) float32 -1..1.

    rgb: (H, W, 3) float32 0..1. alpha: (H, W) float32 0..1. By T. Germer, T. Uelwer, S. Conrad and
    S. Harmeling (2020), "Fast multi-level foreground estimation".
    """
    subject, backdrop = estimate_foreground_ml(rgb, alpha, return_background=True)
    return np.asarray(subject - backdrop, np.float32)


def freed(rgb: Picture, beside: Plane, apart: Picture) -> Picture:
    """Colours without what shines in from beside, (H, W, 3) float32 0..1.

    rgb: mixed colours. beside: (H, W) 0..1, how much of each pixel is not of the part. apart: as
    apart says, from the part to what is beside it.
    """
    return np.clip(rgb + beside[..., None] * apart, 0, 1)
