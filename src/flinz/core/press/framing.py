"""The frames of whole sheets and of what lies on them: how large it is, and in how many pixels."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.picture import Picture, Position
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.scale import Frame, Lay, frame_at, whole_frame
from flinz.core.stages.paper import AsPicture

# What differs by less fills the paper.
SAME_MM = 1e-6
BOX_DIGITS = 6
# What is made has no pixels of its own; its box is measured in these.
MADE_PX_PER_MM = 100.0


@dataclass(frozen=True)
class Box:
    """The upright rectangle that a picture fills, before it is laid.

    native: the picture's own width and height in pixels; long_edge: mm of what is drawn in it.
    """

    native: tuple[int, int]
    long_edge: float

    @property
    def width(self) -> float:
        """Width, mm."""
        return self.native[0] * (self.long_edge / max(self.native))

    @property
    def height(self) -> float:
        """Height, mm."""
        return self.native[1] * (self.long_edge / max(self.native))

    def size_px(self, long_edge_px: int | None = None) -> tuple[int, int]:
        """Width and height of the box in pixels; without long_edge_px the picture's own."""
        width, height = self.native
        if long_edge_px is None:
            return width, height
        share = long_edge_px / max(width, height)
        return max(1, round(width * share)), max(1, round(height * share))

    def whole(self, long_edge_px: int | None = None) -> Frame:
        """The frame of the whole box; without long_edge_px at the picture's own pixels."""
        return whole_frame(self.width, *self.size_px(long_edge_px))

    def whole_at(self, px_per_mm: float, most_px: int | None = None) -> Frame:
        """The frame of the whole box at a scale of its own; its long edge at most most_px."""
        edge = max(2, round(self.long_edge * px_per_mm))
        return self.whole(edge if most_px is None else min(edge, most_px))


@dataclass(frozen=True)
class LaidBox:
    """A box and how it lies on the paper. fills: upright, to the paper's very edges."""

    box: Box
    lay: Lay
    fills: bool

    @property
    def is_plain(self) -> bool:
        """Whether pixels of the box are pixels of the paper, so that nothing is resampled."""
        return self.fills and not self.lay.mirrored


def laid_box(sheet: Sheet, photo: Photo) -> LaidBox:
    """The box of a sheet's picture and how it lies."""
    return laid_picture(sheet, sheet.picture, photo, sheet_mm(sheet, photo))


def laid_picture(
    sheet: Sheet, picture: Picture, photo: Photo, paper: tuple[float, float]
) -> LaidBox:
    """The box of a picture, of its photo, and how it lies on the sheet's paper of a size in mm."""
    native, position = _native(picture, photo), picture.position
    paper_width, paper_height = paper
    room = paper if isinstance(sheet.paper, AsPicture) else sheet.paper.room
    fitting = min(room[0] / native[0], room[1] / native[1]) * native[0]
    width = fitting if position.width is None else position.width
    height = width * native[1] / native[0]
    x = paper_width / 2 if position.x is None else position.x
    y = paper_height / 2 if position.y is None else position.y
    off = (width - paper_width, height - paper_height, x - paper_width / 2, y - paper_height / 2)
    fills = position.turn == 0 and max(abs(each) for each in off) < SAME_MM
    long_edge = sheet.paper.long_edge if fills else max(width, height)
    if position.as_drawn != 1:
        # Rounded, so that what is drawn at one size and laid at many is of one box.
        long_edge = round(long_edge / position.as_drawn, BOX_DIGITS)
    box = Box(native, long_edge)
    lay = Lay(box.width, box.height, x, y, position.as_drawn, position.turn, position.mirrored)
    return LaidBox(box, lay, fills)


def laid_made(size: tuple[float, float], position: Position, paper: tuple[float, float]) -> LaidBox:
    """The box of something of its own size, mm, and how it lies on paper of that size.

    Where it is as large as the paper and nothing is said of it, it fills that.
    """
    width, height = size
    native = max(1, round(width * MADE_PX_PER_MM)), max(1, round(height * MADE_PX_PER_MM))
    x = paper[0] / 2 if position.x is None else position.x
    y = paper[1] / 2 if position.y is None else position.y
    box = Box(native, max(size))
    lay = Lay(width, height, x, y, position.as_drawn, position.turn, position.mirrored)
    return LaidBox(box, lay, fills=position == Position() and size == paper)


def photo_to_crop(picture: Picture, photo: Photo) -> NDArray[np.float64]:
    """The (2, 3) map from shares of the uncropped photo's long edge to pixels of its crop.

    In such shares hand work stays where it is, however the photo is cropped, turned or laid.
    """
    to_crop = picture.crop.cropping.from_photo(photo.width, photo.height)
    to_crop[:, :2] *= max(photo.width, photo.height)
    return to_crop


def sheet_mm(sheet: Sheet, photo: Photo) -> tuple[float, float]:
    """Width and height of a sheet on paper."""
    if isinstance(sheet.paper, AsPicture):
        box = Box(_native(sheet.picture, photo), sheet.paper.long_edge)
        return box.width, box.height
    return sheet.paper.width, sheet.paper.height


def whole(sheet: Sheet, photo: Photo, long_edge_px: int | None = None) -> Frame:
    """The frame of the whole sheet; without long_edge_px at the photo's own pixels."""
    if isinstance(sheet.paper, AsPicture):
        box = Box(_native(sheet.picture, photo), sheet.paper.long_edge)
        return whole_frame(box.width, *box.size_px(long_edge_px), height_mm=box.height)
    width, height = sheet.paper.width, sheet.paper.height
    if long_edge_px is None:
        laid = laid_box(sheet, photo)
        px_per_mm = laid.box.native[0] / laid.box.width / laid.lay.scale
        long_edge_px = max(1, round(max(width, height) * px_per_mm))
    px_per_mm = long_edge_px / max(width, height)
    return frame_at(width, height, px_per_mm)


def whole_at(sheet: Sheet, photo: Photo, px_per_mm: float, most_px: int | None = None) -> Frame:
    """The frame of the whole sheet at a scale of its own; its long edge at most most_px."""
    edge = max(2, round(sheet.paper.long_edge * px_per_mm))
    return whole(sheet, photo, edge if most_px is None else min(edge, most_px))


def box_region(lay: Lay, whole_box: Frame, frame: Frame) -> Frame | None:
    """The part of a whole box in which a frame of the paper lies; None where it is beside it."""
    back = lay.box_mm(frame)
    corners = np.array(
        [[x, y, 1.0] for x in (0, frame.width) for y in (0, frame.height)], np.float64
    )
    places = corners @ back.T * whole_box.per_mm
    left, top = (max(0, math.floor(low)) for low in places.min(0))
    right = min(whole_box.full_width, math.ceil(places[:, 0].max()))
    bottom = min(whole_box.full_height, math.ceil(places[:, 1].max()))
    if right <= left or bottom <= top:
        return None
    return whole_box.part(left, top, right, bottom)


def _native(picture: Picture, photo: Photo) -> tuple[int, int]:
    crop = picture.crop
    crop.check_on(photo.width, photo.height)
    return crop.cropping.size(photo.width, photo.height)
