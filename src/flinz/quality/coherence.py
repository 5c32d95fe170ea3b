"""How well the lines of a drawing hang together, and where they end."""

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from skimage.morphology import skeletonize

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.contour_hatch import ContourHatch
from flinz.core.marks.vectors import Strokes
from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
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


def parts_and_gaps(inked: NDArray[np.bool_]) -> tuple[int, int]:
    """How many pieces ink is in, and the paper between."""
    parts = cv2.connectedComponents(inked.astype(np.uint8), connectivity=8)[0] - 1
    gaps = cv2.connectedComponents((~inked).astype(np.uint8), connectivity=4)[0] - 1
    return parts, gaps


def ends_in_rows() -> float:
    """The largest power of the stroke ends of contour hatch on an even dark ground, but for that of
    the ruling itself; about 12 for ends strewn at random.
    """
    photo = Photo(np.full((300, 300, 3), 70, np.uint8), "even")
    sheet = Sheet(plates=[Plate(draw=ContourHatch())])
    strokes = Press().marks(photo, sheet, sheet.plates[0])
    assert isinstance(strokes, Strokes)  # noqa: S101  (contour hatch has strokes)
    ends = np.concatenate([strokes.first[:-1], strokes.first[1:] - 1])
    x, y, rim, side = strokes.x[ends], strokes.y[ends], 8.0, 200.0
    inner = (np.minimum(x, y) > rim) & (np.maximum(x, y) < side - rim)
    bounds = [[rim, side - rim]] * 2
    counts = np.histogram2d(y[inner], x[inner], bins=1024, range=bounds)[0]
    power = np.abs(np.fft.fft2(counts - counts.mean())) ** 2 / inner.sum()
    waves = np.fft.fftfreq(1024) * 1024 / (side - 2 * rim)
    away = np.hypot(*np.meshgrid(waves, waves))
    return float(power[(away > 0.08) & (away < 0.9 / ContourHatch().spacing)].max())
