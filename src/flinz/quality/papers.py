"""How a texture of paper looks and holds ink, small and large: the same."""

import cv2
import numpy as np
from skimage.metrics import structural_similarity

from flinz.core.planes.textures import Relief, Surface, lit, relief, tops
from flinz.core.scale import whole_frame

SMALL_PX, TIMES, WIDTH_MM = (400, 900), 4, 200.0
GREY = np.array([0.8], np.float32)


def likeness(surface: Surface, depth: float = 1.0) -> float:
    """Of small pictures of a texture and large ones shrunk, the worse of two sizes (SSIM)."""
    return min(_likeness(surface, px, depth) for px in SMALL_PX)


def held_otherwise(surface: Surface) -> float:
    """By how much a small picture holds another share 0..1 of ink than a large one, at most."""
    shares = [
        float(tops(surface, _relief(surface, px), 1.0).mean())
        for px in (*SMALL_PX, TIMES * SMALL_PX[0])
    ]
    return max(shares) - min(shares)


def _relief(surface: Surface, edge: int) -> Relief:
    return relief(surface, whole_frame(WIDTH_MM, edge, edge), 1.0, 120.0)


def _likeness(surface: Surface, px: int, depth: float) -> float:
    small, large = (lit(GREY, _relief(surface, edge), depth)[..., 0] for edge in (px, TIMES * px))
    shrunk = cv2.resize(large, small.shape, interpolation=cv2.INTER_AREA)
    found = structural_similarity(small, shrunk, data_range=1.0)  # type: ignore[no-untyped-call]
    return float(found)
