"""Islands: specks of ink and pinholes of paper, by their area."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

# Ink above this counts as an island, below it as paper, when areas are measured.
INKED = 0.5
# In how many parts pixels are counted at once.
SHARES = 4
NEIGHBOURS = np.ones((3, 3), np.uint8)


def without_specks(cover: Plane, least_px: float, two_tone: bool = False) -> Plane:
    """cover with dark islands of fewer than least_px pixels taken away, soft rims included.

    In a two-tone drawing an island is all ink that hangs together; in a grey one it is what is
    half inked or more, and besides what is fainter and hangs together by itself.
    """
    if two_tone:
        small, labels = _small_regions(cover > 0, least_px, connectivity=8)
        return np.asarray(_replaced(cover, labels, small, np.float32(0)), np.float32)
    small, labels = _small_regions(cover >= INKED, least_px, connectivity=8)
    faint_small, faint = _small_regions((cover > 0) & (cover < INKED), least_px, connectivity=8)
    gone = small[labels]
    kept = cv2.dilate(((labels > 0) & ~gone).astype(np.uint8), NEIGHBOURS) > 0
    rims = cv2.dilate(gone.astype(np.uint8), NEIGHBOURS) > 0
    gone = gone | ((faint_small[faint] | (rims & (cover < INKED))) & ~kept)
    return np.asarray(np.where(gone, np.float32(0), cover), np.float32)


def without_pinholes(cover: Plane, least_px: float, two_tone: bool = False) -> Plane:
    """cover with white holes of fewer than least_px pixels filled with the ink around them."""
    mask = cover < 1 if two_tone else cover < INKED
    small, labels = _small_regions(mask, least_px, connectivity=4)
    if not small.any():
        return cover
    if two_tone:
        return np.asarray(_replaced(cover, labels, small, np.float32(1)), np.float32)
    side = 2 * math.ceil(math.sqrt(least_px / math.pi)) + 3
    around = cv2.dilate(cover, cv2.getStructuringElement(cv2.MORPH_RECT, (side, side)))
    return np.asarray(np.where(small[labels], around, cover), np.float32)


def _small_regions(
    mask: NDArray[np.bool_], least_px: float, connectivity: int
) -> tuple[NDArray[np.bool_], NDArray[np.int32]]:
    """Which labels are smaller than least_px, and the labels (0 is outside the mask)."""
    count, labels = cv2.connectedComponents(mask.view(np.uint8), connectivity=connectivity)
    small = np.asarray(_areas(labels, count) < least_px, np.bool_)
    small[0] = False
    return small, np.asarray(labels, np.int32)


@njit(parallel=True, cache=True)
def _areas(labels, count) -> Any:  # type: ignore[no-untyped-def]
    # A sixth of the time of OpenCV's statistics, which also find boxes and middles.
    flat = labels.ravel()
    areas = np.zeros((SHARES, count), np.int64)
    for share in prange(SHARES):
        for k in range(share * flat.size // SHARES, (share + 1) * flat.size // SHARES):
            areas[share, flat[k]] += 1
    return areas.sum(axis=0)


@njit(parallel=True, cache=True)
def _replaced(cover, labels, small, value) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            here = cover[row, column]
            out[row, column] = value if small[labels[row, column]] else here
    return out
