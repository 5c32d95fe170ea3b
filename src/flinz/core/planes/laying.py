"""Planes of a box as they lie on the paper: resampled once, averaged over each pixel."""

from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

# Where the matrices below come from: flinz.core.scale.Lay.box_mm, in pixels of the box.


def resampled(
    plane: NDArray[np.float32], to_box: NDArray[np.float64], size: tuple[int, int], samples: int
) -> NDArray[np.float32]:
    """What lies in each pixel of a frame, (H, W) or (H, W, 3) float32 as plane has it.

    to_box: (2, 3) from (column, row, 1) in the frame to column and row in plane, 0 at the left and
    top edge of a pixel. size: width and height of the frame. samples: places in a pixel each way,
    of which the mean is taken; one apart should be a pixel of plane. Beyond plane its edge goes on.
    Places are reckoned in 64 bits, so that parts of a frame meet to the last bit.
    """
    if plane.ndim == 2:
        return np.asarray(_resampled(plane, to_box, *size, samples), np.float32)
    channels = [
        _resampled(np.ascontiguousarray(plane[..., k]), to_box, *size, samples)
        for k in range(plane.shape[2])
    ]
    return np.stack(channels, -1)


@njit(parallel=True, cache=True)
def _resampled(plane, to_box, width, height, samples) -> Any:  # type: ignore[no-untyped-def]
    last_row, last_column = plane.shape[0] - 1, plane.shape[1] - 1
    out = np.empty((height, width), np.float32)
    share = np.float32(1.0 / (samples * samples))
    for row in prange(height):
        for column in range(width):
            total = np.float32(0.0)
            for j in range(samples):
                y = row + (j + 0.5) / samples
                for i in range(samples):
                    x = column + (i + 0.5) / samples
                    u = to_box[0, 0] * x + to_box[0, 1] * y + to_box[0, 2] - 0.5
                    v = to_box[1, 0] * x + to_box[1, 1] * y + to_box[1, 2] - 0.5
                    u = min(max(u, 0.0), float(last_column))
                    v = min(max(v, 0.0), float(last_row))
                    left, top = int(u), int(v)
                    right, low = min(left + 1, last_column), min(top + 1, last_row)
                    du, dv = np.float32(u - left), np.float32(v - top)
                    above = plane[top, left] + du * (plane[top, right] - plane[top, left])
                    below = plane[low, left] + du * (plane[low, right] - plane[low, left])
                    total += above + dv * (below - above)
            out[row, column] = total * share
    return out
