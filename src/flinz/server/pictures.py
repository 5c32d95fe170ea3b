"""Small pictures for lists, encoded for an image element."""

import base64

import cv2
import numpy as np

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.stopping import Stop, never

# Of what never changes under its address.
FOR_EVER = "private, max-age=31536000, immutable"
TINT_BGR = (31, 56, 181)
# Something of the drawing must show through.
MOST_OPAQUE = 190
# As OpenCV has them, of red, green, blue and alpha.
BGRA = [2, 1, 0, 3]
# What lies behind shapes, which are sharp themselves.
LOOSE_EDGE_PX = 1600


def jpeg_of_photo(press: Press, photo: Photo, long_edge_px: int) -> bytes:
    """The photo, shrunk, as JPEG."""
    sheet = Sheet(picture=Picture(photo=photo.key))
    picture = press.proof(photo, sheet, whole(sheet, photo, long_edge_px), Subject("photo"))
    return _encoded(picture, ".jpg", [cv2.IMWRITE_JPEG_QUALITY, 88])


def png_of_sheet(
    press: Press, photo: Photo, sheet: Sheet, long_edge_px: int, stop: Stop = never
) -> bytes:
    """The sheet, small, as PNG. Raises Stopped."""
    picture = press.proof(photo, sheet, whole(sheet, photo, long_edge_px), stop=stop)
    return _encoded(picture, ".png", [])


def png_of_tint(plane: np.ndarray) -> bytes:
    """A plane 0..1 as PNG: vermilion, as opaque as the plane is high."""
    tinted = np.empty((*plane.shape, 4), np.uint8)
    tinted[..., :3] = TINT_BGR
    tinted[..., 3] = np.rint(np.clip(plane, 0, 1) * MOST_OPAQUE)
    return bytes(cv2.imencode(".png", tinted)[1].tobytes())


def png_of_loose(press: Press, photo: Photo, sheet: Sheet, without: set[str]) -> str | None:
    """The inks of the shown plates but some, on nothing: a PNG as a data address; None for none."""
    plates = [
        plate.model_copy(update={"shown": plate.shown and plate.id not in without})
        for plate in sheet.plates
    ]
    if not any(plate.shown for plate in plates):
        return None
    left = sheet.model_copy(update={"plates": plates})
    picture = press.clear(photo, left, whole(left, photo, LOOSE_EDGE_PX))
    return png_address(_encoded(picture, ".png", []))


def png_address(data: bytes) -> str:
    """A PNG as an address that holds all of it."""
    return f"data:image/png;base64,{base64.b64encode(data).decode()}"


def _encoded(picture: np.ndarray, kind: str, options: list[int]) -> bytes:
    pixels = np.rint(np.clip(picture, 0, 1) * 255).astype(np.uint8)
    if pixels.ndim == 3:
        pixels = pixels[..., BGRA[: pixels.shape[2]]]
    return bytes(cv2.imencode(kind, np.ascontiguousarray(pixels), options)[1].tobytes())
