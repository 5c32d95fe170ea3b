"""From places on the sheet to places on the photo: where strokes of the hand belong."""

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.press.handling import Handling

# Beyond every photo, in its long edges.
FAR = 3.0
# Widths of a brush, likewise.
LARGEST, SMALLEST = 10.0, 1e-6


def on_photo(
    placed: Handling, points: NDArray[np.float64], size_mm: float
) -> tuple[NDArray[np.float64], float]:
    """Points of a sheet, and a width on it, as strokes have them.

    points: (N, 3): x and y in shares of the sheet, and pressure. Returns them in shares of the
    uncropped photo's long edge (of the box's where there is no photo), which they stay at however
    it is cropped, turned or laid, and the width in such shares, as near as a brush may have it.
    placed: how what is painted on lies, as Press.placed tells it.
    """
    laid = placed.laid
    to_share = cv2.invertAffineTransform(to_paper(placed))
    places = (points[:, :2] * placed.paper_mm) @ to_share[:, :2].T + to_share[:, 2]
    px_per_mm = laid.box.native[0] / (laid.box.width * laid.lay.scale)
    size = size_mm * px_per_mm / placed.long_edge_px
    return np.column_stack([places, points[:, 2]]), min(LARGEST, max(SMALLEST, size))


def to_paper(placed: Handling) -> NDArray[np.float64]:
    """(2, 3): from shares of the uncropped photo's long edge (of the box's where there is none) to
    mm on the sheet, before any register.
    """
    laid = placed.laid
    to_box = (
        placed.to_native * (np.array([laid.box.width, laid.box.height]) / laid.box.native)[:, None]
    )
    way = laid.lay.to_paper
    found = way[:, :2] @ to_box
    found[:, 2] += way[:, 2]
    return np.asarray(found)


def apart(points: NDArray[np.float64], soft: float) -> tuple[list[Stroke], list[Stroke]]:
    """Strokes at Ink of two plates: of one that prints only beside an area, and only within.

    points: (N, 3), corners in shares of the photo's long edge. soft: width of the seam, so.
    """
    around = Brush(verb="hide", by="area", size=soft, hardness=0.0)
    within = around.model_copy(update={"verb": "show"})
    corners = np.array([[-FAR, -FAR, 1], [FAR, -FAR, 1], [FAR, FAR, 1], [-FAR, FAR, 1]])
    everywhere = Stroke(Brush(verb="hide", by="area", size=SMALLEST, hardness=1.0), corners)
    # Twice: whatever was shown by hand before is hidden, too.
    return [Stroke(around, points)], [everywhere, everywhere, Stroke(within, points)]
