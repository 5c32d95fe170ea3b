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
        return _without_small(cover, cover > 0, least_px, True, np.float32(0))
    small, labels = _small_regions(cover >= INKED, least_px, connectivity=8)
    faint_small, faint = _small_regions((cover > 0) & (cover < INKED), least_px, connectivity=8)
    gone = small[labels]
    kept = cv2.dilate(((labels > 0) & ~gone).astype(np.uint8), NEIGHBOURS) > 0
    rims = cv2.dilate(gone.astype(np.uint8), NEIGHBOURS) > 0
    gone = gone | ((faint_small[faint] | (rims & (cover < INKED))) & ~kept)
    return np.asarray(np.where(gone, np.float32(0), cover), np.float32)


def without_pinholes(cover: Plane, least_px: float, two_tone: bool = False) -> Plane:
    """cover with white holes of fewer than least_px pixels filled with the ink around them."""
    if two_tone:
        return _without_small(cover, cover < 1, least_px, False, np.float32(1))
    small, labels = _small_regions(cover < INKED, least_px, connectivity=4)
    if not small.any():
        return cover
    side = 2 * math.ceil(math.sqrt(least_px / math.pi)) + 3
    around = cv2.dilate(cover, cv2.getStructuringElement(cv2.MORPH_RECT, (side, side)))
    return np.asarray(np.where(small[labels], around, cover), np.float32)


def _small_regions(
    mask: NDArray[np.bool_], least_px: float, connectivity: int
) -> tuple[NDArray[np.bool_], NDArray[np.int32]]:
    """Which labels are smaller than least_px, and the labels (0 is outside the mask)."""
    count, labels = cv2.connectedComponents(mask.view(np.uint8), connectivity=connectivity)
    small = np.asarray(_areas(labels, count).sum(axis=0) < least_px, np.bool_)
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
    return areas


def made_ready() -> None:
    """Take an island away, of which a tiny picture may have none."""
    speck = np.zeros((3, 3), np.float32)
    speck[1, 1] = 1
    without_specks(speck, 2.0, two_tone=True)


def _without_small(
    cover: Plane, mask: NDArray[np.bool_], least_px: float, corners: bool, value: np.float32
) -> Plane:
    """cover with a value where regions of a mask have fewer than least_px pixels; corners: whether
    those that touch by a corner hang together.

    By runs of pixels along rows (after L. He, Y. Chao and K. Suzuki, 2008), of which shapes have
    far fewer than pixels.
    """
    first = np.concatenate([[0], np.cumsum(_run_counts(mask))])
    starts, ends = _runs(mask, first)
    small = _small_runs(starts, ends, first, least_px, int(corners))
    if not small.any():
        return cover
    return np.asarray(_replaced(cover, starts, ends, first, small, value), np.float32)


@njit(parallel=True, cache=True)
def _run_counts(mask) -> Any:  # type: ignore[no-untyped-def]
    height, width = mask.shape
    counts = np.zeros(height, np.int64)
    for row in prange(height):
        count, before = 0, False
        for column in range(width):
            here = mask[row, column]
            count += here and not before
            before = here
        counts[row] = count
    return counts


@njit(parallel=True, cache=True)
def _runs(mask, first) -> Any:  # type: ignore[no-untyped-def]
    height, width = mask.shape
    starts, ends = np.empty(first[-1], np.int32), np.empty(first[-1], np.int32)
    for row in prange(height):
        run, before = first[row] - 1, False
        for column in range(width):
            here = mask[row, column]
            if here and not before:
                run += 1
                starts[run] = column
            elif before and not here:
                ends[run] = column
            before = here
        if before:
            ends[run] = width
    return starts, ends


@njit(cache=True, nogil=True)
def _small_runs(starts, ends, first, least_px, corners) -> Any:  # type: ignore[no-untyped-def]
    # Which runs belong to a region of fewer pixels: neighbouring rows' runs that meet are joined.
    parent = np.arange(starts.shape[0])
    for row in range(1, first.shape[0] - 1):
        above, here = first[row - 1], first[row]
        while above < first[row] and here < first[row + 1]:
            meet = starts[above] < ends[here] + corners and starts[here] < ends[above] + corners
            if meet:
                one, other = _root(parent, above), _root(parent, here)
                parent[max(one, other)] = min(one, other)
            if ends[above] < ends[here]:
                above += 1
            else:
                here += 1
    areas = np.zeros(starts.shape[0], np.int64)
    for run in range(starts.shape[0]):
        areas[_root(parent, run)] += ends[run] - starts[run]
    small = np.empty(starts.shape[0], np.bool_)
    for run in range(starts.shape[0]):
        small[run] = areas[_root(parent, run)] < least_px
    return small


@njit(inline="always")
def _root(parent, run) -> Any:  # type: ignore[no-untyped-def]
    while parent[run] != run:
        # Every other step is made shorter for the next time.
        parent[run] = parent[parent[run]]
        run = parent[run]
    return run


@njit(parallel=True, cache=True)
def _replaced(cover, starts, ends, first, small, value) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            out[row, column] = cover[row, column]
        for run in range(first[row], first[row + 1]):
            if small[run]:
                for column in range(starts[run], ends[run]):
                    out[row, column] = value
    return out
