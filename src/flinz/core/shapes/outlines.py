"""The outline of pieces of a picture as one line, their holes with them."""

import cv2
import numpy as np
from numpy.typing import NDArray

# Outlines are kept to this, and coarser where that would be too many points.
NEAR_PX = 0.6
# Holes with a shorter outline are filled.
LEAST_HOLE_PX = 6


def outline(mask: NDArray[np.bool_], most: int) -> NDArray[np.float64]:
    """The outline of a mask, (N, 2) columns and rows, of up to most points.

    mask: (H, W), not empty; its first pixel reaches from 0 to 1. The line runs along the edges of
    pixels round the largest piece, from there to each other and each hole, round it and back:
    filled by the even-odd rule it is the mask.
    """
    # Twice as fine, so that an outline runs along the edges of pixels and not through them.
    fine = np.repeat(np.repeat(mask.astype(np.uint8), 2, 0), 2, 1)
    found, tree = cv2.findContours(fine, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    is_outer = tree[0][:, 3] < 0
    wanted = [
        ring
        for ring, outer in zip(found, is_outer, strict=True)
        if outer or len(ring) >= 2 * LEAST_HOLE_PX
    ]
    wanted.sort(key=len, reverse=True)
    near = 2 * NEAR_PX
    while True:
        rings = [np.asarray(cv2.approxPolyDP(ring, near, True)[:, 0], np.int32) for ring in wanted]
        points = _in_one([ring for ring in rings if len(ring) > 2])
        if len(points) <= most:
            return (points + 0.5) / 2
        near *= 1.5


def _in_one(rings: list[NDArray[np.int32]]) -> NDArray[np.float64]:
    """Rings as one line: from the first one's beginning to each other one, round it, and back."""
    start = rings[0][:1]
    parts = [rings[0], start]
    for ring in rings[1:]:
        parts += [ring, ring[:1], start]
    return np.concatenate(parts).astype(np.float64)
