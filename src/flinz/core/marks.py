"""Marks as vectors, in millimetres on paper, and drawing them at any scale."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.filters import Plane
from flinz.core.scale import Frame

STRIP_PX = 32


@dataclass(frozen=True, eq=False)
class Dots:
    """Round dots: x, y, radius, each (N,) float32 in mm from the sheet's top left corner."""

    x: NDArray[np.float32]
    y: NDArray[np.float32]
    radius: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.x)

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return int(self.x.nbytes + self.y.nbytes + self.radius.nbytes)


def dots_cover(dots: Dots, frame: Frame) -> Plane:
    """Ink of dots in a frame, (H, W) float32 0..1, their edges shared out over a pixel.

    Where dots overlap the darker one counts, so that an overlap is no darker than a dot.
    """
    x = dots.x * np.float32(frame.px_per_mm) - np.float32(frame.left)
    y = dots.y * np.float32(frame.px_per_mm) - np.float32(frame.top)
    radius = dots.radius * np.float32(frame.px_per_mm)
    order = np.argsort(y, kind="stable")
    largest = float(radius.max(initial=0)) + 1
    tops = np.arange(0, frame.height + STRIP_PX, STRIP_PX)
    # The dots that can touch a strip stand together, since they are sorted by their height.
    first = np.searchsorted(y[order], tops[:-1] - largest)
    last = np.searchsorted(y[order], tops[1:] + largest)
    drawn = _drawn_dots(
        x[order], y[order], radius[order], first, last, frame.height, frame.width, STRIP_PX
    )
    return np.asarray(drawn, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _drawn_dots(  # type: ignore[no-untyped-def]
    x, y, radius, first, last, height, width, strip_px
) -> Any:
    out = np.zeros((height, width), np.float32)
    for strip in prange(first.shape[0]):
        top = strip * strip_px
        bottom = min(height, top + strip_px)
        for k in range(first[strip], last[strip]):
            reach = radius[k] + np.float32(0.5)
            # A dot under a pixel wide keeps its ink, spread over the pixels it touches.
            most = min(np.float32(1.0), np.float32(np.pi) * radius[k] * radius[k] + radius[k])
            row_from = max(top, int(np.floor(y[k] - reach)))
            row_to = min(bottom, int(np.ceil(y[k] + reach)))
            column_from = max(0, int(np.floor(x[k] - reach)))
            column_to = min(width, int(np.ceil(x[k] + reach)))
            for row in range(row_from, row_to):
                dy = row + np.float32(0.5) - y[k]
                for column in range(column_from, column_to):
                    dx = column + np.float32(0.5) - x[k]
                    inside = reach - np.sqrt(dx * dx + dy * dy)
                    if inside > 0:
                        value = min(inside, most)
                        if value > out[row, column]:
                            out[row, column] = value
    return out
