"""Single hairs along a cut: found near it, and farther out where colours speak against it."""

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.hand.cutout import Found, Studied
from flinz.core.hand.matting import Prior, matted
from flinz.core.hand.nearby import likely_subject
from flinz.core.hand.regions import CELL_PX
from flinz.core.planes.filters import Plane, from_edge

Mask = NDArray[np.bool_]

# A band narrower than this holds no edge.
LEAST_BAND_PX = 2.0
# A cut with hair is looked at again, with its own two sides.
LOOKS = 2
# Where colours are more likely of the other side hair is looked for so much farther out: a cut by
# regions runs wrong by the size of one or two.
FARTHER_PX = 2.0 * CELL_PX
# What a region says changes odds by up to so many powers of e: a leaf beside fur of its colours
# was known to be none by all that was stroked.
REGIONS_WEIGH = 2.0
# What lies beside such places, in a square of this side, is looked at, too.
BESIDE_PX = 7
# What is fainter than this joins nothing.
FAINT = 0.1
# How much colours weigh against the picture's own edges, and how sharply with how sure they are:
# what is mixed of both sides is left to the edges.
WEIGHT, SHARPNESS = 0.03, 3


def hair_edge(photo: Studied, cut: Found, band_px: float) -> Plane:
    """Alpha of a cut with single hairs, (H, W) float32 0..1.

    They are looked for as far as band_px to both sides of the cut, where hair was stroked, and
    farther out where colours speak against the cut, but for what strokes said.
    """
    mask, near_px = cut.mask, max(band_px, LEAST_BAND_PX)
    speaks = cut.speaks[photo.regions.labels]
    alpha = mask.astype(np.float32)
    for _ in range(LOOKS):
        if mask.all() or not mask.any():
            break
        depth = from_edge(mask)
        coloured = likely_subject(photo.colours, mask, depth * ~cut.hairy)
        likely = _with_regions(coloured, speaks)
        against = np.where(mask, likely < 0.5, likely > 0.5) & (np.where(mask, 1, -1) != cut.said)
        band = (depth <= near_px) | cut.hairy | _spread(against & (depth <= near_px + FARTHER_PX))
        sure = np.float32(WEIGHT) * np.abs(2 * coloured - 1) ** SHARPNESS
        alpha = _joined(matted(photo.rgb, mask, band, Prior(likely, sure)), cut)
        mask = alpha > 0.5
    return alpha


def _with_regions(likely: Plane, speaks: Plane) -> Plane:
    """How likely pixels are of the subject by their colours and by what their regions say."""
    odds = np.log(likely / (1 - likely)) + np.float32(REGIONS_WEIGH) * speaks
    return np.asarray(1 / (1 + np.exp(-odds)), np.float32)


def _spread(places: Mask) -> Mask:
    return cv2.dilate(places.view(np.uint8), np.ones((BESIDE_PX, BESIDE_PX), np.uint8)) > 0


def _joined(alpha: Plane, cut: Found) -> Plane:
    """Alpha without pieces, of either side, that hang together with nothing of that side of the cut
    nor of what was stroked as hair.
    """
    alone = _strewn(alpha > FAINT, cut.mask | cut.hairy)
    holes = _strewn(alpha < 1 - FAINT, ~cut.mask | cut.hairy)
    return np.asarray(np.where(alone, 0, np.where(holes, 1, alpha)), np.float32)


def _strewn(places: Mask, known: Mask) -> Mask:
    """Pieces of some places that hold nothing of what was known before."""
    count, labels = cv2.connectedComponents(places.view(np.uint8))
    strewn = np.ones(count, bool)
    strewn[labels[places & known]] = False
    strewn[0] = False
    return np.asarray(strewn[labels], np.bool_)
