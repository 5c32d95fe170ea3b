"""Millimetres in a box, on the paper, and pixels of one picture: the only place that converts."""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

MM_PER_INCH = 25.4
POINTS_A_MM = 72 / MM_PER_INCH
# As finely as artwork is usually printed from: 300 dots an inch.
PRINTED_PX_PER_MM = 300 / MM_PER_INCH


@dataclass(frozen=True)
class Frame:
    """The part of a sheet being drawn: at what scale, and where it lies.

    The whole sheet at this scale has full_width x full_height pixels; this frame covers columns
    left..left+width and rows top..top+height of it. A crop of the frame of a whole
    sheet and the frame of a region show the same pixels. finer: how many of its pixels a
    side are shown as one, where a drawing is made larger and shrunk. stretch: how many times as
    many rows a mm there are as columns: 1 but for what a whole number of rows wants, so that all
    of the sheet fills the whole at any scale.
    """

    px_per_mm: float
    full_width: int
    full_height: int
    left: int
    top: int
    width: int
    height: int
    finer: int = 1
    stretch: float = 1.0

    @property
    def per_mm(self) -> tuple[float, float]:
        """Columns and rows to a millimetre, for places; lengths have px."""
        return self.px_per_mm, self.px_per_mm * self.stretch

    @property
    def right(self) -> int:
        """First column beyond the frame."""
        return self.left + self.width

    @property
    def bottom(self) -> int:
        """First row beyond the frame."""
        return self.top + self.height

    @property
    def pixels(self) -> tuple[int, ...]:
        """The frame without its scale: all that matters to steps that know no lengths."""
        return (self.full_width, self.full_height, self.left, self.top, self.width, self.height)

    @property
    def of_all(self) -> "Frame":
        """The frame of the whole at this scale."""
        return self.part(0, 0, self.full_width, self.full_height)

    def px(self, length_mm: float) -> float:
        """Millimetres to (fractional) pixels."""
        return length_mm * self.px_per_mm

    def pixels_of(
        self, x_mm: NDArray[np.float32], y_mm: NDArray[np.float32]
    ) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """Where places on the sheet lie in this frame: columns and rows, 0 at its left and top."""
        across, down = self.per_mm
        columns = x_mm * np.float32(across) - np.float32(self.left)
        return columns, y_mm * np.float32(down) - np.float32(self.top)

    @property
    def middles(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Where the middles of columns, (W,), and of rows, (H,), lie on the sheet, mm."""
        across, down = self.per_mm
        columns = np.arange(self.left, self.right, dtype=np.float64) + 0.5
        rows = np.arange(self.top, self.bottom, dtype=np.float64) + 0.5
        return columns / across, rows / down

    @property
    def sheet_mm(self) -> tuple[float, float]:
        """Width and height of the whole sheet, mm."""
        across, down = self.per_mm
        return self.full_width / across, self.full_height / down

    def area_px(self, area_mm2: float) -> float:
        """Square millimetres to pixels."""
        return area_mm2 * self.px_per_mm**2

    def part(self, left: int, top: int, right: int, bottom: int) -> "Frame":
        """The frame of columns left..right and rows top..bottom of the same whole."""
        return replace(self, left=left, top=top, width=right - left, height=bottom - top)

    def widened(self, margin_px: int) -> "Frame":
        """This frame with a margin all round, as far as the sheet goes."""
        return self.part(
            max(0, self.left - margin_px),
            max(0, self.top - margin_px),
            min(self.full_width, self.right + margin_px),
            min(self.full_height, self.bottom + margin_px),
        )

    def in_blocks(self, side_px: int) -> "Frame":
        """The frame of all blocks of a side that this one touches, as far as the sheet goes."""
        return self.part(
            self.left // side_px * side_px,
            self.top // side_px * side_px,
            min(self.full_width, -(-self.right // side_px) * side_px),
            min(self.full_height, -(-self.bottom // side_px) * side_px),
        )

    def magnified(self, times: int) -> "Frame":
        """The same part of the sheet with times as many pixels a side, to be shrunk again."""
        full_width, full_height, left, top, width, height = (side * times for side in self.pixels)
        return Frame(
            self.px_per_mm * times,
            full_width,
            full_height,
            left,
            top,
            width,
            height,
            self.finer * times,
            self.stretch,
        )

    def with_scale(self, times: float) -> "Frame":
        """The same pixels of something times as many pixels a mm."""
        return replace(self, px_per_mm=self.px_per_mm * times)

    def turned_over(self) -> "Frame":
        """Where this frame lies once the whole is mirrored left to right."""
        return replace(self, left=self.full_width - self.right)

    def slices_in(self, outer: "Frame") -> tuple[slice, slice]:
        """Where this frame lies in the array of an outer frame of the same scale."""
        top, left = self.top - outer.top, self.left - outer.left
        return slice(top, top + self.height), slice(left, left + self.width)


def whole_frame(
    width_mm: float,
    full_width: int,
    full_height: int,
    finer: int = 1,
    *,
    height_mm: float | None = None,
) -> Frame:
    """The frame of a whole sheet of width_mm at full_width x full_height pixels.

    height_mm: how high what fills them is; without it as their number says.
    """
    size = full_width, full_height
    per_mm = full_width / width_mm
    # Frames of the same pixels are the same, whichever way their sides were come by.
    stretch = 1.0 if height_mm is None else round(full_height / (per_mm * height_mm), 12)
    return Frame(per_mm, *size, 0, 0, *size, finer, stretch)


def frame_at(width_mm: float, height_mm: float, px_per_mm: float, finer: int = 1) -> Frame:
    """The frame of a whole sheet at about px_per_mm, in whole pixels."""
    width, height = (max(1, round(side * px_per_mm)) for side in (width_mm, height_mm))
    return whole_frame(width_mm, width, height, finer, height_mm=height_mm)


def region_frame(whole: Frame, region: tuple[float, float, float, float]) -> Frame:
    """The frame of a region (left, top, right, bottom as shares 0..1 of the sheet).

    Bounds move outwards to whole pixels; a region of no size becomes one pixel.
    """
    left = min(whole.full_width - 1, max(0, math.floor(region[0] * whole.full_width)))
    top = min(whole.full_height - 1, max(0, math.floor(region[1] * whole.full_height)))
    right = max(left + 1, min(whole.full_width, math.ceil(region[2] * whole.full_width)))
    bottom = max(top + 1, min(whole.full_height, math.ceil(region[3] * whole.full_height)))
    return whole.part(left, top, right, bottom)


def px_for_dpi(length_mm: float, dpi: float) -> int:
    """Pixels of a length printed at dpi."""
    return max(1, round(length_mm / MM_PER_INCH * dpi))


def dpi_of(px_per_mm: float) -> float:
    """Dots an inch at a scale."""
    return px_per_mm * MM_PER_INCH


@dataclass(frozen=True)
class Lay:
    """How a box lies on the paper: scaled about its middle, mirrored, turned, then moved.

    width, height: of the box before it is laid, in mm of what is drawn in it. x, y: mm on paper of
    its middle. scale: paper mm to a mm in the box. turn: degrees counter-clockwise. mirrored: left
    to right. Whole quarter turns are exact. stretch: how many times more it is scaled down the box
    than across; 1 but while a hand pulls a side.
    """

    width: float
    height: float
    x: float
    y: float
    scale: float = 1.0
    turn: float = 0.0
    mirrored: bool = False
    stretch: float = 1.0

    @property
    def to_paper(self) -> NDArray[np.float64]:
        """(2, 3): from (x, y, 1) in the box to x, y on the paper, mm, y downwards."""
        cosine, sine = (
            round(of(math.radians(self.turn)), 15) * self.scale for of in (math.cos, math.sin)
        )
        side = -1.0 if self.mirrored else 1.0
        way = np.array([[cosine * side, sine], [-sine * side, cosine]]) * (1.0, self.stretch)
        middle = np.array([self.x, self.y]) - way @ (self.width / 2, self.height / 2)
        return np.column_stack([way, middle])

    @property
    def to_box(self) -> NDArray[np.float64]:
        """(2, 3): from (x, y, 1) on the paper to x, y in the box, mm."""
        forth = self.to_paper
        back = np.linalg.inv(forth[:, :2])
        return np.column_stack([back, -back @ forth[:, 2]])

    def box_mm(self, frame: Frame) -> NDArray[np.float64]:
        """(2, 3): from (column, row, 1) in a frame of the paper to x, y in the box, mm.

        Columns and rows are 0 at the frame's left and top edge.
        """
        back = self.to_box
        a_pixel = back[:, :2] / frame.per_mm
        return np.column_stack([a_pixel, a_pixel @ (frame.left, frame.top) + back[:, 2]])
