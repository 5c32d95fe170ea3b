"""How a texture of paper looks small and large: the same."""

import cv2
import numpy as np
from skimage.metrics import structural_similarity

from flinz.core.planes.textures import Surface, lit, relief
from flinz.core.scale import whole_frame

SMALL_PX, TIMES, WIDTH_MM = (400, 900), 4, 200.0
GREY = np.array([0.8], np.float32)


def likeness(surface: Surface) -> float:
    """Of small pictures of a texture and large ones shrunk, the worse of two sizes (SSIM)."""
    return min(_likeness(surface, px) for px in SMALL_PX)


def _likeness(surface: Surface, px: int) -> float:
    small, large = (
        lit(GREY, relief(surface, whole_frame(WIDTH_MM, edge, edge), 1.0, 120.0), 1.0)[..., 0]
        for edge in (px, TIMES * px)
    )
    shrunk = cv2.resize(large, small.shape, interpolation=cv2.INTER_AREA)
    found = structural_similarity(small, shrunk, data_range=1.0)  # type: ignore[no-untyped-call]
    return float(found)
