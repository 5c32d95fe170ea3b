"""Takes pieces of the finished drawing: ink, or paper, that hangs together, and all like it."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import MAX_POINTS
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole_at
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.core.shapes.outlines import outline
from flinz.errors import DocumentError

# Pieces are told apart at this scale, however the sheet is shown.
PX_PER_MM, MOST_PX = 10.0, 2400
INKED = 0.5
# Pieces are like one if their area and their longer side are up to so many times smaller or larger.
TIMES = 2.0
# So many are taken at once, in strokes of so many, whose outlines stay fine.
MOST_PIECES, A_STROKE = 2000, 250


def pieces_at(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    plate: Plate,
    at: tuple[float, float],
    spread_mm: float,
    *,
    all_alike: bool = False,
    stop: Stop = never,
) -> list[NDArray[np.float64]]:
    """Outlines of the piece of a plate's ink or paper at a place, each (N, 2) shares of the sheet.

    at: shares 0..1 of the sheet. spread_mm: how far it is taken beyond its edge. all_alike: with
    all that are about as large and as long. An outline runs to each hole and piece, and back.
    Raises DocumentError beside the sheet, and for too many pieces; Stopped.
    """
    if not (0 <= at[0] <= 1 and 0 <= at[1] <= 1):
        raise DocumentError("There is nothing to take beside the sheet.")
    frame = whole_at(sheet, photo, PX_PER_MM, MOST_PX)
    ink = press.plate(photo, sheet, plate, frame, stop=stop) > INKED
    row, column = (
        min(side - 1, int(share * side)) for share, side in zip(at[::-1], ink.shape, strict=True)
    )
    alike = (ink == ink[row, column]).astype(np.uint8)
    _, labels, figures, _ = cv2.connectedComponentsWithStats(alike, connectivity=4)
    own = int(labels[row, column])
    chosen = _like(figures, own) if all_alike else np.array([own])
    if len(chosen) > MOST_PIECES:
        raise DocumentError(
            f"There are {len(chosen):,} pieces like this one; up to {MOST_PIECES:,} are taken at "
            "once. Take an area instead."
        )
    groups = np.array_split(chosen, math.ceil(len(chosen) / A_STROKE))
    return [_outline(np.isin(labels, group), frame.px(spread_mm)) for group in groups]


def _like(figures: NDArray[np.int32], own: int) -> NDArray[np.intp]:
    """Pieces about as large and as long as one; what is no piece, 0, is not among them."""
    area = figures[:, cv2.CC_STAT_AREA].astype(np.float64)
    length = np.maximum(figures[:, cv2.CC_STAT_WIDTH], figures[:, cv2.CC_STAT_HEIGHT])
    near = [np.abs(np.log(each / each[own])) <= math.log(TIMES) for each in (area, length)]
    near[0][0] = False
    return np.flatnonzero(near[0] & near[1])


def _outline(mask: NDArray[np.bool_], spread_px: float) -> NDArray[np.float64]:
    if spread_px > 0:
        side = 2 * max(1, round(spread_px)) + 1
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
        mask = cv2.dilate(mask.astype(np.uint8), kernel) > 0
    return outline(mask, MAX_POINTS) / mask.shape[::-1]
