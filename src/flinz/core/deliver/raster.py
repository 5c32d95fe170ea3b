"""A sheet as a picture of pixels, drawn in bands: what PNG, JPEG and TIFF have in common."""

import io
import itertools
import math
from collections.abc import Callable
from dataclasses import replace
from enum import StrEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms
from pydantic import Field

from flinz.core.deliver.format import Delivery, Wish
from flinz.core.deliver.reshaped import reshaped
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import sheet_mm, whole
from flinz.core.press.impressions import is_grey_sheet
from flinz.core.press.press import Press
from flinz.core.press.stopping import check
from flinz.core.scale import Frame, px_for_dpi
from flinz.core.stages.ink import is_grey_colour
from flinz.errors import DocumentError

# What colours mean: written into every file of pixels.
SRGB = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
MAX_PIXELS = 150_000_000
BAND_PIXELS = 7_000_000
# How many times finer a small view of a 1-bit picture is drawn before it is averaged.
SHOWN_FINER = 2
# A file of vectors is looked at as if it were printed so finely.
LOOKED_AT_DPI = 300


class Greys(StrEnum):
    """What becomes of greys in a 1-bit picture."""

    CUT = "cut"
    GRAIN = "grain"


class PictureWish(Wish):
    """What picture of a sheet is wanted. Without long_edge_px and dpi: the photo's own pixels."""

    depth: Literal["auto", "1-bit", "grey", "colour"] = "auto"
    greys: Greys = Greys.CUT
    long_edge_px: int | None = Field(None, ge=1, le=60_000)
    dpi: float | None = Field(None, ge=10, le=4800, allow_inf_nan=False)


class ClearWish(PictureWish):
    """What picture is wanted of a format whose pixels may let through. transparent: ink alone."""

    transparent: bool = False


def picture_frame(photo: Photo, sheet: Sheet, wish: PictureWish) -> Frame:
    """The size in pixels of a wanted picture. Raises DocumentError if it is too large."""
    edge = wish.long_edge_px
    if wish.dpi is not None:
        edge = px_for_dpi(max(sheet_mm(sheet, photo)), wish.dpi)
    frame = whole(sheet, photo, edge)
    if frame.width * frame.height > MAX_PIXELS:
        raise DocumentError(
            f"The picture would have {frame.width:,} × {frame.height:,} pixels; the limit is "
            f"{MAX_PIXELS / 1e6:.0f} million. Choose fewer dots an inch or a smaller sheet."
        )
    return frame


def vector_frame(photo: Photo, sheet: Sheet, wish: Wish) -> Frame:
    """The size at which a file without pixels is looked at."""
    return picture_frame(photo, sheet, PictureWish(dpi=LOOKED_AT_DPI))


def picture(
    delivery: Delivery, wish: PictureWish, *, band_px: int = BAND_PIXELS
) -> tuple[Image.Image, Frame]:
    """The picture and its frame: of mode "1", "L", "RGB" or "RGBA", as the wish says.

    Sheets of more than band_px pixels are drawn in bands, so memory stays bounded. Raises
    DocumentError if it would be too large, Stopped if the delivery is to stop.
    """
    delivery = reshaped(delivery)
    frame = picture_frame(delivery.photo, delivery.sheet, wish)
    if isinstance(wish, ClearWish) and wish.transparent:

        def clear(press: Press, band: Frame) -> NDArray[np.uint8]:
            return eight_bits(press.clear(delivery.photo, delivery.sheet, band, stop=delivery.stop))

        return Image.fromarray(in_bands(delivery, frame, clear, band_px)), frame
    printed = delivery.printed

    def drawn(press: Press, band: Frame) -> NDArray[np.uint8]:
        picture = press.proof(delivery.photo, printed, band, stop=delivery.stop)
        return _bytes_of(picture, wish)

    image = Image.fromarray(in_bands(delivery, frame, drawn, band_px))
    if wish.depth == "1-bit":
        image = one_bit(image, wish.greys)
    elif wish.depth == "colour":
        image = image.convert("RGB")
    return image, frame


def shown(delivery: Delivery, frame: Frame, wish: PictureWish) -> NDArray[np.uint8]:
    """A part of a wished picture as it will be, (H, W) or (H, W, 3), uint8.

    frame: at the picture's own size, or smaller, for which more pixels are drawn and averaged.
    Fine grain falls otherwise than in the file, since what lies above a part decides its grain.
    """
    full = picture_frame(delivery.photo, delivery.sheet, wish)
    is_one_bit = wish.depth == "1-bit"
    times = max(1, min(SHOWN_FINER, full.full_width // frame.full_width)) if is_one_bit else 1
    finer = replace(frame.magnified(times), finer=frame.finer)
    # What is averaged after need not be drawn finer before.
    drawn = delivery.press.proof(
        delivery.photo, delivery.printed, finer, exact=times > 1, stop=delivery.stop
    )
    pixels = _bytes_of(drawn, wish)
    if is_one_bit:
        bits = one_bit(Image.fromarray(pixels), wish.greys).convert("L")
        pixels = np.asarray(bits if times == 1 else bits.reduce(times))
    return pixels


def natural_depth(sheet: Sheet) -> Literal["grey", "colour"]:
    """Whether a sheet says all it has to say in greys."""
    inks = [plate.ink for plate in sheet.plates if plate.shown]
    given = [change.colour for change in sheet.shapes if change.colour is not None]
    is_grey = is_grey_sheet(sheet.paper, inks) and all(map(is_grey_colour, given))
    return "grey" if is_grey else "colour"


def in_bands(
    delivery: Delivery,
    frame: Frame,
    draw: Callable[[Press, Frame], NDArray[np.uint8]],
    band_px: int = BAND_PIXELS,
) -> NDArray[np.uint8]:
    """What draw makes of a whole frame, (H, W) or (H, W, C) uint8, band by band."""
    bands = max(1, math.ceil(frame.width * frame.height / band_px))
    worker = delivery.press if bands == 1 else delivery.passing_press()
    edges = [round(k * frame.height / bands) for k in range(bands + 1)]
    parts: list[NDArray[np.uint8]] = []
    for k, (top, bottom) in enumerate(itertools.pairwise(edges)):
        check(delivery.stop)
        parts.append(draw(worker, frame.part(0, top, frame.width, bottom)))
        delivery.progress((k + 1) / (bands + 1))
    if len({part.ndim for part in parts}) > 1:
        parts = [p if p.ndim == 3 else np.repeat(p[..., None], 3, 2) for p in parts]
    return np.concatenate(parts)


def png_bytes(image: Image.Image) -> bytes:
    """A picture as the bytes of a PNG."""
    stream = io.BytesIO()
    image.save(stream, "PNG", compress_level=4)
    return stream.getvalue()


def profile_for(image: Image.Image) -> bytes | None:
    """The profile to write with a picture: none with greys, which the one of colours is not for."""
    return SRGB if image.mode in ("RGB", "RGBA") else None


def eight_bits(drawn: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Values 0..1 as bytes."""
    return np.asarray(np.rint(np.clip(drawn, 0, 1) * 255), np.uint8)


def _bytes_of(drawn: NDArray[np.float32], wish: PictureWish) -> NDArray[np.uint8]:
    if drawn.ndim == 3 and wish.depth in ("grey", "1-bit"):
        drawn = drawn @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    return eight_bits(drawn)


def one_bit(image: Image.Image, greys: Greys) -> Image.Image:
    """A picture in black and white alone."""
    grey = image.convert("L")
    if greys == Greys.GRAIN:
        # Error diffusion: R. Floyd and L. Steinberg (1976), as Pillow does it.
        return grey.convert("1")
    return grey.point([0] * 128 + [255] * 128).convert("1", dither=Image.Dither.NONE)
