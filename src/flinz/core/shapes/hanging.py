"""What of a drawing hangs together with enough that is clear (hysteresis, J. Canny, 1986)."""

from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

# A line that goes all round counts however short it is: the least gap in it, and the least of it
# that must be clear, in nibs by nibs.
RING_GAP, RING = 0.25, 12.0


def hanging(
    drawn: NDArray[np.bool_], clear: NDArray[np.bool_], least_px: float, nib_px: float
) -> NDArray[np.bool_]:
    """The pixels of what is drawn that hang together with at least least_px of clear ones, or that
    go all round something.

    drawn, clear: (H, W) bool, the clear ones among the drawn; nib_px: how wide lines are.
    """
    count, labels = cv2.connectedComponents(drawn.view(np.uint8), connectivity=8)
    areas = _areas(labels, count, clear)
    stays = areas >= least_px
    rings = areas >= RING * nib_px**2
    if np.any(rings & ~stays):
        bare, gaps = cv2.connectedComponents((~drawn).view(np.uint8), connectivity=4)
        rings &= _gone_round(labels, count, gaps, bare, RING_GAP * nib_px**2)
        stays |= rings
    stays[0] = False
    return np.asarray(stays[labels], np.bool_)


@njit(cache=True, nogil=True)
def _areas(labels, count, clear) -> Any:  # type: ignore[no-untyped-def]
    areas = np.zeros(count, np.int64)
    height, width = labels.shape
    for row in range(height):
        for column in range(width):
            if clear[row, column]:
                areas[labels[row, column]] += 1
    return areas


@njit(cache=True, nogil=True)
def _gone_round(labels, count, gaps, bare, least) -> Any:  # type: ignore[no-untyped-def]
    # Which of the lines go round a gap of at least so many pixels.
    sizes = np.zeros(bare, np.int64)
    # The highest pixel of a gap lies under the line that goes round it; at the rim under none.
    around = np.full(bare, -1, np.int64)
    height, width = labels.shape
    for row in range(height):
        for column in range(width):
            gap = gaps[row, column]
            if gap == 0:
                continue
            sizes[gap] += 1
            if around[gap] < 0:
                around[gap] = labels[row - 1, column] if row > 0 else 0
            if column == 0 or column == width - 1 or row == height - 1:
                around[gap] = 0
    found = np.zeros(count, np.bool_)
    for gap in range(1, bare):
        if sizes[gap] >= least:
            found[around[gap]] = True
    return found
