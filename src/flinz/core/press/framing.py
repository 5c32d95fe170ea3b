"""The frames of whole sheets: how large a sheet is on paper, and in how many pixels."""

from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo, crop_size
from flinz.core.scale import Frame, whole_frame


def sheet_mm(sheet: Sheet, photo: Photo) -> tuple[float, float]:
    """Width and height of a sheet on paper."""
    width, height = _native(sheet, photo)
    edge = sheet.paper.long_edge / max(width, height)
    return width * edge, height * edge


def whole(sheet: Sheet, photo: Photo, long_edge_px: int | None = None) -> Frame:
    """The frame of the whole sheet; without long_edge_px at the photo's own pixels."""
    width, height = _native(sheet, photo)
    width_mm = sheet_mm(sheet, photo)[0]
    if long_edge_px is not None:
        share = long_edge_px / max(width, height)
        width, height = max(1, round(width * share)), max(1, round(height * share))
    return whole_frame(width_mm, width, height)


def whole_at(sheet: Sheet, photo: Photo, px_per_mm: float, most_px: int | None = None) -> Frame:
    """The frame of the whole sheet at a scale of its own; its long edge at most most_px."""
    edge = max(2, round(sheet.paper.long_edge * px_per_mm))
    return whole(sheet, photo, edge if most_px is None else min(edge, most_px))


def _native(sheet: Sheet, photo: Photo) -> tuple[int, int]:
    crop = sheet.crop
    return crop_size(photo.width, photo.height, crop.bounds, crop.quarter_turns)
