"""Faint subjects: discs of little contrast are whole rings, and pale photos keep their lines."""

import cv2
import numpy as np

from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.quality.coherence import line_figures, parts_and_gaps
from flinz.quality.sizes import as_recipe

RADII_MM = (1.0, 1.5, 2.0, 3.0, 5.0, 8.0)
CONTRASTS = (0.8, 0.3, 0.1, 0.04)
CHART_PX_PER_MM, CHART_PX = 10.0, (1500, 2000)
PALE = 0.3
SIZE_PX = 1400


def disc_chart(contrast: float) -> Photo:
    """Dark discs of RADII_MM in four rows, on a sheet 200 mm wide."""
    y, x = np.mgrid[: CHART_PX[0], : CHART_PX[1]] / CHART_PX_PER_MM
    tone = np.full(CHART_PX, 0.5 + contrast / 2, np.float32)
    for row in np.arange(20.0, 140.0, 30.0):
        column = 12.0
        for radius in RADII_MM:
            tone[np.hypot(x - column, y - row) < radius] = 0.5 - contrast / 2
            column += 2 * radius + 14.0
    grey = np.rint(cv2.GaussianBlur(tone, (0, 0), 1.5) * 255).astype(np.uint8)
    return Photo(np.repeat(grey[..., None], 3, 2), f"discs-{contrast}")


def rings(photo: Photo, name: str) -> float:
    """Of the discs of a chart, the share that a line look draws as one ring, as it starts."""
    sheet = _of_lines(photo, name)
    drawn = Press().proof(photo, sheet, whole(sheet, photo), exact=True) < 0.5
    parts, gaps = parts_and_gaps(drawn)
    discs = 4 * len(RADII_MM)
    # Around every ring lies the ground, in each what it encloses.
    return min(parts, gaps - 1, 2 * discs - parts) / discs


def line_left(photo: Photo, name: str) -> float:
    """Line of a photo at PALE of its contrast, as the look starts, over its line at full."""
    pale = np.rint(127.5 + PALE * (photo.pixels.astype(np.float32) - 127.5)).astype(np.uint8)
    lengths = []
    for each in (photo, Photo(pale, f"{photo.key}-pale")):
        sheet = _of_lines(each, name)
        frame = whole(sheet, each, SIZE_PX)
        cover = Press().cover(each, sheet, sheet.plates[0], frame, exact=True)
        lengths.append(line_figures(cover, frame).line_mm)
    return lengths[1] / lengths[0]


def _of_lines(photo: Photo, name: str) -> Sheet:
    """A look as it starts, but for blacks, which are places and not lines."""
    sheet = as_recipe(photo, name)
    plate = sheet.plates[0]
    if "blacks" not in type(plate.draw).model_fields:
        return sheet
    lines = plate.model_copy(update={"draw": plate.draw.model_copy(update={"blacks": 0.0})})
    return sheet.model_copy(update={"plates": [lines]})
