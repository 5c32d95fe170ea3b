"""What a press could not hold of a drawing: thin lines, narrow gaps, specks, and where."""

import math
from collections.abc import Callable
from dataclasses import astuple, dataclass
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane
from flinz.core.planes.greyness import greyness_of
from flinz.core.planes.photo import Photo
from flinz.core.planes.threads import mapping
from flinz.core.press.framing import whole_at
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import Frame

PX_PER_MM = 12.0
INKED = 0.5
# Ink joined by a grey from this on is one piece, as it is to Clean.
JOINED = 0.004
LARGEST_EDGE_PX = 2800
# What most presses hold on paper and cloth alike.
THIN_MM, NARROW_MM = 0.1, 0.1
# A dot of 0.16 mm across.
SPECK_MM2 = 0.02
# Of all lines: the thinnest end of so much of them is let pass, since every tapered line ends
# in nothing.
THINNEST_SHARE = 0.02
# Paper wider than this is no gap between two lines.
WIDEST_GAP_MM = 1.0
# Places are gathered in cells of this size.
CELL_MM = 4.0
MOST_PLACES = 40
# Of ink by itself, whichever plate leaves it.
NO_PLATE = ""


@dataclass(frozen=True)
class Holds:
    """What a press holds: lines and gaps of so many mm, dots of so many mm²."""

    thin_mm: float = THIN_MM
    narrow_mm: float = NARROW_MM
    speck_mm2: float = SPECK_MM2


MOST_PRESSES = Holds()


class Spot(BaseModel):
    """A place on the sheet: its middle as shares 0..1, its radius as a share of the long edge."""

    x: float
    y: float
    radius: float


class PrintReport(BaseModel):
    """What a press could lose of one plate or of all.

    thinnest_mm and narrowest_mm: line and gap that all but 2 % of the drawing keeps to; None
    where there are none. precision_mm: no finer than this was looked. thin_ink, narrow_paper:
    shares of the ink and of the paper that a disc of what the press holds does not fit into.
    specks: how many pieces are too small to print. Greys have no lines of their own: is_grey.
    """

    plate: str
    is_grey: bool
    ink: float
    precision_mm: float
    thinnest_mm: float | None = None
    narrowest_mm: float | None = None
    thin_ink: float = 0.0
    narrow_paper: float = 0.0
    specks: int = 0
    thin_spots: list[Spot] = []
    narrow_spots: list[Spot] = []
    speck_spots: list[Spot] = []


def dot_mm(area_mm2: float) -> float:
    """How far across a dot of an area is."""
    return 2 * math.sqrt(area_mm2 / math.pi)


def print_reports(
    press: Press, photo: Photo, sheet: Sheet, stop: Stop = never, *, holds: Holds = MOST_PRESSES
) -> list[PrintReport]:
    """A report on each shown plate of what a press could not hold. Raises Stopped."""
    shown = [plate for plate in sheet.plates if plate.shown]
    return [plate_report(press, photo, sheet, plate, stop, holds=holds) for plate in shown]


def plate_report(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    plate: Plate,
    stop: Stop = never,
    *,
    holds: Holds = MOST_PRESSES,
) -> PrintReport:
    """A report on one plate, drawn as it is exported. Raises Stopped."""
    frame = whole_at(sheet, photo, PX_PER_MM, LARGEST_EDGE_PX)
    if look_of(plate.draw).two_tone(plate.draw):
        judge = partial(_ink_report, frame=frame, holds=holds, is_soft=plate.clean.soften > 0)
    else:
        judge = partial(_grey_report, frame=frame)
    # A dial changes one plate of many.
    by = "for print", *astuple(holds)
    said = press.of_cover(photo, sheet, plate, frame, by, partial(_said, judge), stop=stop)
    return PrintReport.model_validate_json(said).model_copy(update={"plate": plate.id})


def _said(judge: Callable[[Plane], PrintReport], cover: Plane) -> bytes:
    """A report as bytes: the press bounds what it remembers by its size."""
    return judge(cover).model_dump_json().encode()


def _ink_report(cover: Plane, frame: Frame, holds: Holds, is_soft: bool) -> PrintReport:
    if is_soft and greyness_of(cover).has_greys:
        return _grey_report(cover, frame)
    return report(cover, frame, holds)


def _grey_report(cover: Plane, frame: Frame) -> PrintReport:
    return PrintReport(
        plate=NO_PLATE,
        is_grey=True,
        ink=round(float(cover.mean(dtype=np.float64)), 4),
        precision_mm=round(1 / frame.px_per_mm, 3),
    )


def report(cover: Plane, frame: Frame, holds: Holds = MOST_PRESSES) -> PrintReport:
    """A report on ink 0..1 (H, W) that is black or white.

    Widths are twice the distance transform along its ridges (the medial axis; H. Blum, 1967);
    what is too thin is what a morphological opening takes away. frame should have two pixels in
    THIN_MM for either to mean much.
    """
    inked = cover >= INKED
    specks, spots = _specks(cover, frame, holds.speck_mm2)
    widest_gap = max(WIDEST_GAP_MM, 2 * holds.narrow_mm)
    sides = (inked, holds.thin_mm, None), (~inked, holds.narrow_mm, widest_gap)
    ink, paper = mapping(cover.size)(lambda side: _Widths(frame, *side), sides)
    return PrintReport(
        plate=NO_PLATE,
        is_grey=False,
        ink=round(float(cover.mean(dtype=np.float64)), 4),
        precision_mm=round(1 / frame.px_per_mm, 3),
        thinnest_mm=ink.thinnest_mm,
        narrowest_mm=paper.thinnest_mm,
        thin_ink=ink.share_lost,
        narrow_paper=paper.share_lost,
        specks=specks,
        thin_spots=ink.spots,
        narrow_spots=paper.spots,
        speck_spots=spots,
    )


class _Widths:
    """How wide a mask is: the width that all but a little of it keeps to, and what of it, and
    where, is narrower than least_mm. Parts wider than most_mm have no width.
    """

    def __init__(
        self, frame: Frame, mask: NDArray[np.bool_], least_mm: float, most_mm: float | None
    ) -> None:
        radius_px = frame.px(least_mm) / 2
        # Beyond the sheet a shape goes on, or its rim would count as an edge.
        rim = int(radius_px) + 2
        wide = cv2.copyMakeBorder(mask.astype(np.uint8), *(rim,) * 4, cv2.BORDER_REPLICATE)
        inner = slice(rim, -rim), slice(rim, -rim)
        # A pixel's middle lies half a pixel within its edge.
        depth = cv2.distanceTransform(wide, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) - 0.5
        core = depth >= radius_px - 0.5
        back = cv2.distanceTransform((~core).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        lost = mask & (back > radius_px)[inner]
        share = float(np.count_nonzero(lost)) / max(1.0, float(np.count_nonzero(mask)))
        self.share_lost = round(share, 4)
        # A line two pixels wide has no middle.
        ridge = (depth >= cv2.dilate(depth, np.ones((3, 3), np.uint8))) & (depth > 0)
        ridge, width_mm = ridge[inner], 2 * depth[inner] / frame.px_per_mm
        if most_mm is not None:
            ridge &= width_mm < most_mm
        # Ridges run into every corner: what a disc reaches there is as wide as the disc.
        is_own = lost | core[inner]
        width_mm = np.where(is_own, width_mm, np.maximum(width_mm, np.float32(least_mm)))
        found = width_mm[ridge]
        self.thinnest_mm: float | None = None
        self.spots: list[Spot] = []
        if found.size:
            self.thinnest_mm = round(float(np.quantile(found, THINNEST_SHARE)), 3)
            rows, columns = np.nonzero(ridge & (width_mm < least_mm))
            self.spots = _gathered(columns, rows, frame)


def _specks(cover: Plane, frame: Frame, least_mm2: float) -> tuple[int, list[Spot]]:
    """Pieces of ink that are too small; the broken end of a thin line is a part of it."""
    joined = (cover >= JOINED).astype(np.uint8)
    count, labels, _, middles = cv2.connectedComponentsWithStats(joined, connectivity=8)
    area = np.bincount(labels.ravel(), cover.ravel(), count)
    is_ink = np.bincount(labels.ravel(), (cover >= INKED).ravel(), count) > 0
    small = np.flatnonzero(is_ink & (area < frame.area_px(least_mm2)))
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
