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
from flinz.errors import DocumentError

# Pieces are told apart at this scale, however the sheet is shown.
PX_PER_MM, MOST_PX = 10.0, 2400
INKED = 0.5
# Outlines are kept to this, and coarser where that would be too many points.
NEAR_PX = 0.6
# Holes smaller than this are filled.
LEAST_HOLE_PX = 6


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
    # Twice as fine, so that an outline runs along the edges of pixels and not through them.
    fine = np.repeat(np.repeat(piece, 2, 0), 2, 1)
    found, tree = cv2.findContours(fine, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    outer = max((k for k in range(len(found)) if tree[0][k][3] < 0), key=lambda k: len(found[k]))
    holes = [
        found[k]
        for k in range(len(found))
        if tree[0][k][3] == outer and len(found[k]) >= 2 * LEAST_HOLE_PX
    ]
    near = 2 * NEAR_PX
    while True:
        rings = [
            np.asarray(cv2.approxPolyDP(ring, near, True)[:, 0], np.int32)
            for ring in (found[outer], *holes)
        ]
        points = _in_one([ring for ring in rings if len(ring) > 2])
        if len(points) <= MAX_POINTS:
            break
        near *= 1.5
    return (points + 0.5) / 2 / ink.shape[::-1]


def _in_one(rings: list[NDArray[np.int32]]) -> NDArray[np.float64]:
    """Rings as one line: from the first one's beginning to each other one, round it, and back."""
    start = rings[0][:1]
    parts = [rings[0], start]
    for ring in rings[1:]:
        parts += [ring, ring[:1], start]
    return np.concatenate(parts).astype(np.float64)
