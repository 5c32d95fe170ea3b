"""The edge of a cutout: how much of each pixel near it is subject, up to the photo's own pixels."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import diags

from flinz.core.hand.pymatting_parts import cf_laplacian, cg, ichol
from flinz.core.planes.filters import Plane

Picture = NDArray[np.float32]
Mask = NDArray[np.bool_]

# Smallest differences of colour that count, squared; larger ones make smoother edges.
EPSILON = 1e-6
# The solution starts from a rough one, of the matrix without what is smaller than this and with
# so much on its diagonal, and is come by when what is left is this small a share.
LEFT_OUT, SHIFTS = 1e-3, (1e-4, 1e-3, 1e-2, 0.1, 0.5, 1.0, 10.0)
MOST_STEPS, CLOSE_ENOUGH = 2000, 1e-4
# The guided lines are fitted over windows of so many pixels each way.
LINE_PX, LINE_EPSILON = 2, 1e-4
# What is this near to all or nothing is all or nothing.
SURE = 0.08


@dataclass(frozen=True, eq=False)
class Prior:
    """What is known of alpha beforehand: likely, (H, W) 0..1, as surely as sure, (H, W) over 0."""

    likely: Plane
    sure: Plane


def matted(rgb: Picture, mask: Mask, band: Mask, prior: Prior | None = None) -> Plane:
    """Alpha 0..1, (H, W) float32: closed-form matting (A. Levin, D. Lischinski and Y. Weiss, 2008).

    rgb: (H, W, 3) float32 0..1. mask: what is subject outside the band, (H, W) bool, in which it
    is found. prior: what else is known there.
    """
    alpha = mask.astype(np.float32)
    rows, columns = np.nonzero(band)
    if not (mask & ~band).any() or not (~mask & ~band).any() or len(rows) == 0:
        return alpha
    top, left = max(0, rows.min() - 3), max(0, columns.min() - 3)
    part = slice(top, rows.max() + 4), slice(left, columns.max() + 4)
    wanted = band[part]
    unknown = wanted.ravel()
    laplacian = cf_laplacian(rgb[part].astype(np.float64), epsilon=EPSILON, is_known=~wanted)
    joined = laplacian[unknown]
    tied, pulled = joined[:, unknown], -(joined[:, ~unknown] @ alpha[part].ravel()[~unknown])
    if prior is not None:
        sure = prior.sure[part][wanted].astype(np.float64)
        tied, pulled = tied + diags(sure), pulled + sure * prior.likely[part][wanted]
    rough = ichol(tied, discard_threshold=LEFT_OUT, shifts=SHIFTS)
    found = cg(tied, pulled, M=rough, maxiter=MOST_STEPS, rtol=CLOSE_ENOUGH)
    alpha[part][wanted] = np.clip((found - SURE) / (1 - 2 * SURE), 0, 1)
    return alpha


@dataclass(frozen=True, eq=False)
class Lines:
    """Alpha as lines of colour: slopes (H, W, 3) and offsets (H, W), float32."""

    slopes: Picture
    offsets: Plane


def lines_of(rgb: Picture, alpha: Plane) -> Lines:
    """The lines that give alpha from colour around each pixel, for finer pictures of the same.

    The guided filter with a picture of three channels as its guide: K. He, J. Sun and X. Tang
    (2013); upsampling by its lines: K. He and J. Sun (2015).
    """
    side = (2 * LINE_PX + 1,) * 2

    def mean(plane: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(cv2.blur(plane, side, borderType=cv2.BORDER_REFLECT_101), np.float32)

    middle, level = mean(rgb), mean(alpha)
    spread = np.empty((*alpha.shape, 3, 3), np.float32)
    for one in range(3):
        for other in range(one, 3):
            both = mean(rgb[..., one] * rgb[..., other]) - middle[..., one] * middle[..., other]
            spread[..., one, other] = spread[..., other, one] = both
        spread[..., one, one] += LINE_EPSILON
    shared = np.stack(
        [mean(rgb[..., one] * alpha) - middle[..., one] * level for one in range(3)], -1
    )
    slopes = np.zeros_like(rgb)
    # Elsewhere alpha is even, and colour says nothing.
    edge = np.abs(shared).max(-1) > 1e-7
    slopes[edge] = np.linalg.solve(spread[edge], shared[edge][..., None])[..., 0]
    offsets = level - (slopes * middle).sum(-1)
    return Lines(mean(slopes), mean(np.asarray(offsets, np.float32)))
