"""Single hairs along a cut: found near it, and farther out where colours speak against it."""

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.hand.cutout import Found, Studied
from flinz.core.hand.matting import Said, band_around, matted
from flinz.core.hand.nearby import likely_subject
from flinz.core.planes.filters import Plane, distances

Mask = NDArray[np.bool_]

# A band narrower than this holds no edge.
LEAST_BAND_PX = 2.0
# A cut with hair is looked at again, with its own two sides.
LOOKS = 2
# Hair is looked for so many times as far where colours are more likely of the other side.
FARTHER, LIKELY = 4.0, 0.5
# Gaps of such places are closed, and what lies beside them is looked at, too.
CLOSED_PX, BESIDE_PX = 3, 7
# How much colours weigh against the picture's own edges, and how sharply with how sure they are.
WEIGHT, SHARPNESS = 0.1, 4


def hair_edge(photo: Studied, cut: Found, band_px: float) -> Plane:
    """Alpha of a cut with single hairs, (H, W) float32 0..1.

    They are looked for as far as band_px to both sides of the cut, where hair was stroked, and
    farther out where colours speak against the cut, but for what strokes said.
    """
    mask, near_px = cut.mask, max(band_px, LEAST_BAND_PX)
    alpha = mask.astype(np.float32)
    for _ in range(LOOKS):
        if mask.all() or not mask.any():
            break
        likely = likely_subject(photo.colours, mask, ~cut.hairy)
        doubtful = _far_out(mask, likely, near_px) & (np.where(mask, 1, -1) != cut.said)
        band = band_around(mask, near_px, cut.hairy) | _spread(doubtful)
        sure = np.float32(WEIGHT) * np.abs(2 * likely - 1) ** SHARPNESS
        alpha = matted(photo.rgb, mask, band, Said(likely, sure))
        mask = alpha > 0.5
    return alpha


def _far_out(mask: Mask, likely: Plane, near_px: float) -> Mask:
    """Where colours speak against a cut, as far from it as hair is looked for."""
    within, without = distances(mask)
    near = np.maximum(within, without) <= FARTHER * near_px
    return near & (np.where(mask, 1 - likely, likely) > LIKELY)


def _spread(places: Mask) -> Mask:
    closed, beside = (np.ones((side, side), np.uint8) for side in (CLOSED_PX, BESIDE_PX))
    whole = cv2.morphologyEx(places.view(np.uint8), cv2.MORPH_CLOSE, closed)
    return cv2.dilate(whole, beside) > 0
