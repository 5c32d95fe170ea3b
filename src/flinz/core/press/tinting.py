"""Where something holds, shown on a picture under a hatched tint."""

import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

Picture = NDArray[np.float32]

TINT, TINT_LINES = (0.20, 0.10, 0.30), (0.55, 0.30, 0.65)
TINTED, HATCH_PX = np.float32(0.72), 9


def hatched(picture: Picture, share: Plane, frame: Frame) -> Picture:
    """A picture of a frame, (H, W) or (H, W, 3) float32 0..1, tinted by a share 0..1 of each pixel.

    Returns (H, W, 3).
    """
    colours = picture if picture.ndim == 3 else picture[..., None]
    # Not by colour alone: a hatch that stands still on the screen.
    rows, columns = np.ogrid[0 : frame.height, 0 : frame.width]
    lines = (rows + frame.top + columns + frame.left) % HATCH_PX < HATCH_PX // 3
    tint = np.where(lines[..., None], TINT_LINES, TINT).astype(np.float32)
    amount = share[..., None] * TINTED
    return np.asarray(colours + amount * (tint - colours), np.float32)
