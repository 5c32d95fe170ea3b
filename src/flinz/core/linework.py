"""How well the lines of a drawing hang together, and what of it a press would lose."""

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from skimage.morphology import skeletonize

from flinz.core.filters import Plane
from flinz.core.scale import Frame

INKED = 0.5
SPECK_MM2 = 0.1
THIN_MM = 0.1


class LineFigures(BaseModel):
    """How a line drawing hangs together."""

    line_mm: float
    parts_per_1000_mm: float
    ink_in_specks: float


class PrintFigures(BaseModel):
    """What may be lost in print: shares of the ink and of the paper."""

    thin_ink: float
    narrow_paper: float


def line_figures(cover: Plane, frame: Frame, speck_mm2: float = SPECK_MM2) -> LineFigures:
    """Length of line and the parts it is in, of ink 0..1 (H, W).

    Lines are measured along their skeleton (T. Zhang and C. Suen, 1984). parts_per_1000_mm:
    separate pieces for each 1,000 mm; ink_in_specks: share of the ink in pieces under speck_mm2.
    """
    inked = cover >= INKED
    skeleton = skeletonize(inked)  # type: ignore[no-untyped-call]
    length_mm = max(float(np.count_nonzero(skeleton)) / frame.px_per_mm, 1e-6)
    count, _, stats, _ = cv2.connectedComponentsWithStats(inked.astype(np.uint8), connectivity=8)
    areas = stats[1:, cv2.CC_STAT_AREA]
    small = areas[areas < frame.area_px(speck_mm2)].sum()
    return LineFigures(
        line_mm=round(length_mm, 1),
        parts_per_1000_mm=round(1000 * (count - 1) / length_mm, 2),
        ink_in_specks=round(float(small) / max(1.0, float(areas.sum())), 4),
    )


def print_figures(cover: Plane, frame: Frame, thin_mm: float = THIN_MM) -> PrintFigures:
    """Shares of ink thinner, and of paper narrower, than a press can hold, of ink (H, W).

    What a disc of that width does not fit into is too thin: a morphological opening. frame must
    have at least two pixels in thin_mm for this to mean much.
    """
    inked = cover >= INKED
    radius = frame.px(thin_mm) / 2
    return PrintFigures(
        thin_ink=round(_share_lost(inked, radius), 4),
        narrow_paper=round(_share_lost(~inked, radius), 4),
    )


def _share_lost(mask: NDArray[np.bool_], radius_px: float) -> float:
    if not mask.any():
        return 0.0
    # Beyond the picture the mask goes on, or its rim would count as an edge.
    margin = int(radius_px) + 2
    wide = cv2.copyMakeBorder(
        mask.astype(np.uint8), margin, margin, margin, margin, cv2.BORDER_REPLICATE
    )
    # A pixel's middle lies half a pixel within its edge.
    core = cv2.distanceTransform(wide, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) - 0.5 >= radius_px - 0.5
    back = cv2.distanceTransform((~core).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    kept = (back <= radius_px)[margin:-margin, margin:-margin]
    return float(np.count_nonzero(mask & ~kept)) / float(np.count_nonzero(mask))
