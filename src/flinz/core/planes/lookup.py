"""A curve, given as a table, at every pixel of a plane."""

from typing import Any

import numpy as np
from numba import njit, prange


@njit(parallel=True, fastmath=True, cache=True)
def looked_up(plane, table) -> Any:  # type: ignore[no-untyped-def]
    """What a curve comes to at each pixel, (H, W) float32.

    plane: (H, W) float32 0..1. table: (N,) float32, the curve at even steps from 0 to 1.
    """
    last = table.shape[0] - 1
    out = np.empty_like(plane)
    for row in prange(plane.shape[0]):
        for column in range(plane.shape[1]):
            place = plane[row, column] * np.float32(last)
            k = min(int(place), last - 1)
            out[row, column] = table[k] + (place - k) * (table[k + 1] - table[k])
    return out
