"""Whether a drawing has greys of its own, or only those of its edges."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

# Greys of an edge lie within this square.
SQUARE = np.ones((5, 5), np.uint8)
# What counts as ink, and as all of it, of 255; how far apart even ink lies, and that of an edge.
FAINTEST, FULL, EVEN, EDGE = 5, 230, 3, 128
# Greys of so little of the ink are rests of edges.
EDGE_RESTS = 0.012


@dataclass(frozen=True, eq=False)
class Greyness:
    """Of a drawing in 255ths of ink, (H, W) each: where ink is, where it is grey, where even."""

    values: NDArray[np.uint8]
    is_inked: NDArray[np.bool_]
    is_grey: NDArray[np.bool_]
    is_even: NDArray[np.bool_]

    @property
    def share(self) -> float:
        """The share 0..1 of its ink that is grey, however small that is on its paper."""
        return float(self.is_grey.sum() / max(int(self.is_inked.sum()), 1))

    @property
    def has_greys(self) -> bool:
        """Whether more of it is grey than rests of edges."""
        return self.share > EDGE_RESTS


def greyness_of(cover: Plane) -> Greyness:
    """The greys of a drawing, (H, W) float32 ink 0..1."""
    values = np.asarray(np.rint(cover * 255), np.uint8)
    # Edges are greys too, a pixel or two wide.
    apart = cv2.dilate(values, SQUARE) - cv2.erode(values, SQUARE)
    is_inked = values > FAINTEST
    return Greyness(values, is_inked, is_inked & (values < FULL) & (apart < EDGE), apart <= EVEN)
