"""Takes a piece of the finished drawing: all ink, or paper, that hangs together at a place."""

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


def piece_at(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    plate: Plate,
    at: tuple[float, float],
    spread_mm: float,
    stop: Stop = never,
) -> NDArray[np.float64]:
    """The outline of the piece of a plate's ink or paper at a place, (N, 2) shares of the sheet.

    at: shares 0..1 of the sheet. spread_mm: how far it is taken beyond its edge. Holes are part of
    the outline: it runs to each and back. Raises DocumentError beside the sheet; Stopped.
    """
    if not (0 <= at[0] <= 1 and 0 <= at[1] <= 1):
        raise DocumentError("There is nothing to take beside the sheet.")
    frame = whole_at(sheet, photo, PX_PER_MM, MOST_PX)
    ink = press.plate(photo, sheet, plate, frame, stop=stop) > INKED
    row, column = (
        min(side - 1, int(share * side)) for share, side in zip(at[::-1], ink.shape, strict=True)
    )
    _, labels = cv2.connectedComponents((ink == ink[row, column]).astype(np.uint8), connectivity=4)
    piece = (labels == labels[row, column]).astype(np.uint8)
    if spread_mm > 0:
        side = 2 * max(1, round(frame.px(spread_mm))) + 1
        piece = cv2.dilate(piece, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)))
    return outline(piece > 0, MAX_POINTS) / ink.shape[::-1]
