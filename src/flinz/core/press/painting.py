"""From places on the sheet to places on the photo: where a stroke of the hand belongs."""

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import laid_box, sheet_mm


def on_photo(
    photo: Photo, sheet: Sheet, points: NDArray[np.float64], size_mm: float
) -> tuple[NDArray[np.float64], float]:
    """Points of a sheet, and a width on it, as strokes have them.

    points: (N, 3): x and y in shares of the sheet, and pressure. Returns them in shares of the
    uncropped photo's long edge, which they stay at however it is cropped, turned or laid, and the
    width in such shares.
    """
    laid, crop = laid_box(sheet, photo), sheet.picture.crop
    paper = np.array(sheet_mm(sheet, photo))
    back = laid.lay.to_box
    on_box = (points[:, :2] * paper) @ back[:, :2].T + back[:, 2]
    shares = on_box / (laid.box.width, laid.box.height)
    width, height = photo.width, photo.height
    if crop.quarter_turns % 2:
        width, height = height, width
    span = crop.right - crop.left, crop.bottom - crop.top
    turned = (shares * span + (crop.left, crop.top)) * (width, height)
    for _ in range(crop.quarter_turns):
        # The inverse of a quarter turn counter-clockwise.
        turned = np.column_stack([height - turned[:, 1], turned[:, 0]])
        width, height = height, width
    long_edge = max(photo.width, photo.height)
    px_per_mm = laid.box.native[0] / (laid.box.width * laid.lay.scale)
    return np.column_stack([turned / long_edge, points[:, 2]]), size_mm * px_per_mm / long_edge
