"""What a press could not hold of a drawing: thin lines, narrow gaps, specks, and where."""

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flinz.core.document import Sheet
from flinz.core.filters import Plane
from flinz.core.framing import whole_at
from flinz.core.looks import look_of
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.core.run import Stop, never
from flinz.core.scale import Frame
from flinz.errors import Stopped

PX_PER_MM = 12.0
LARGEST_EDGE_PX = 2800
# What most presses hold on paper and cloth alike.
THIN_MM, NARROW_MM = 0.1, 0.1
# A dot of 0.16 mm.
SPECK_MM2 = 0.02
# Of all lines: the thinnest end of so much of them is let pass, since every tapered line ends
# in nothing.
THINNEST_SHARE = 0.02
# Paper wider than this is no gap between two lines.
WIDEST_GAP_MM = 1.0
# Places are gathered in cells of this size.
CELL_MM = 4.0
MOST_PLACES = 40


class Spot(BaseModel):
    """A place on the sheet: its middle as shares 0..1, its radius as a share of the long edge."""

    x: float
    y: float
    radius: float


class PrintReport(BaseModel):
    """What a press could lose of one plate or of all.

    thinnest_mm and narrowest_mm: line and gap that all but 2 % of the drawing keeps to; None
    where there are none. precision_mm: no finer than this was looked. specks: how many pieces
    are too small to print. Greys have no lines of their own: is_grey.
    """

    plate: str
    is_grey: bool
    ink: float
    precision_mm: float
    thinnest_mm: float | None = None
    narrowest_mm: float | None = None
    specks: int = 0
    thin_spots: list[Spot] = []
    narrow_spots: list[Spot] = []
    speck_spots: list[Spot] = []


def print_reports(
    press: Press, photo: Photo, sheet: Sheet, stop: Stop = never
) -> list[PrintReport]:
    """A report on each shown plate, drawn as it is exported. Raises Stopped."""
    frame = whole_at(sheet, photo, PX_PER_MM, LARGEST_EDGE_PX)
    found = []
    for plate in sheet.plates:
        if not plate.shown:
            continue
        if stop():
            raise Stopped("The drawing was stopped.")
        cover = press.cover(photo, sheet, plate, frame, exact=True)
        if look_of(plate.draw).two_tone(plate.draw):
            found.append(report(cover, frame, plate.id))
        else:
            ink = float(cover.mean(dtype=np.float64))
            found.append(
                PrintReport(
                    plate=plate.id,
                    is_grey=True,
                    ink=round(ink, 4),
                    precision_mm=round(1 / frame.px_per_mm, 3),
                )
            )
    return found


def report(cover: Plane, frame: Frame, plate: str = "") -> PrintReport:
    """A report on ink 0..1 (H, W) that is black or white.

    Widths are twice the distance transform along its ridges (the medial axis; H. Blum, 1967).
    """
    inked = cover >= 0.5
    specks, spots = _specks(inked, frame)
    thinnest, thin = _widths(inked, frame, THIN_MM)
    narrowest, narrow = _widths(~inked, frame, NARROW_MM, WIDEST_GAP_MM)
    return PrintReport(
        plate=plate,
        is_grey=False,
        ink=round(float(cover.mean(dtype=np.float64)), 4),
        precision_mm=round(1 / frame.px_per_mm, 3),
        thinnest_mm=thinnest,
        narrowest_mm=narrowest,
        specks=specks,
        thin_spots=thin,
        narrow_spots=narrow,
        speck_spots=spots,
    )


def _widths(
    mask: NDArray[np.bool_], frame: Frame, least_mm: float, most_mm: float | None = None
) -> tuple[float | None, list[Spot]]:
    """The width that all but a little of a mask keeps to in mm, and where it is less than least."""
    # Beyond the sheet a shape goes on, or its rim would count as an edge.
    wide = cv2.copyMakeBorder(mask.astype(np.uint8), 1, 1, 1, 1, cv2.BORDER_REPLICATE)
    depth = cv2.distanceTransform(wide, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    ridge = (depth >= cv2.dilate(depth, np.ones((3, 3), np.uint8))) & (depth > 0)
    depth, ridge = depth[1:-1, 1:-1], ridge[1:-1, 1:-1]
    # A pixel's middle lies half a pixel within its edge; a line two pixels wide has no middle.
    width_mm = (2 * depth - 1) / frame.px_per_mm
    if most_mm is not None:
        ridge &= width_mm < most_mm
    found = width_mm[ridge]
    if found.size == 0:
        return None, []
    thinnest = float(np.quantile(found, THINNEST_SHARE))
    rows, columns = np.nonzero(ridge & (width_mm < least_mm))
    return round(thinnest, 3), _gathered(columns, rows, frame)


def _specks(inked: NDArray[np.bool_], frame: Frame) -> tuple[int, list[Spot]]:
    _, _, stats, middles = cv2.connectedComponentsWithStats(inked.astype(np.uint8), connectivity=8)
    small = np.flatnonzero(stats[:, cv2.CC_STAT_AREA] < frame.area_px(SPECK_MM2))
    small = small[small > 0]
    x, y = middles[small, 0], middles[small, 1]
    return len(small), _gathered(x, y, frame)


def _gathered(x: NDArray[np.generic], y: NDArray[np.generic], frame: Frame) -> list[Spot]:
    """Cells of the sheet by how much lies in them, most first."""
    if x.size == 0:
        return []
    cell = frame.px(CELL_MM)
    across = int(frame.width / cell) + 1
    number = (np.asarray(y) / cell).astype(np.int64) * across + (np.asarray(x) / cell).astype(
        np.int64
    )
    cells, counts = np.unique(number, return_counts=True)
    order = np.argsort(counts, kind="stable")[::-1][:MOST_PLACES]
    radius = CELL_MM / 2 * frame.px_per_mm / max(frame.width, frame.height)
    spots = []
    for chosen in cells[order]:
        there = number == chosen
        spots.append(
            Spot(
                x=round(float(np.mean(x[there])) / frame.width, 5),
                y=round(float(np.mean(y[there])) / frame.height, 5),
                radius=round(radius, 5),
            )
        )
    return spots
