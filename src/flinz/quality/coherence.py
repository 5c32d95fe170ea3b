"""How well the lines of a drawing hang together."""

import cv2
import numpy as np
from pydantic import BaseModel
from skimage.morphology import skeletonize

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

INKED = 0.5
SPECK_MM2 = 0.1


class LineFigures(BaseModel):
    """How a line drawing hangs together."""

    line_mm: float
    parts_per_1000_mm: float
    ink_in_specks: float


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
