"""WebP: small files without loss, for screens."""

from pathlib import Path
from typing import Literal

from PIL import Image

from flinz.core.deliver.format import Delivery, Format
from flinz.core.deliver.raster import ClearWish, picture, picture_frame, profile_for
from flinz.core.scale import dpi_of

# Its own limit of a side, pixels.
MOST = 16_383
# Names of what Exif says (CIPA DC-008): dots across and down, to the inch.
ACROSS, DOWN, UNIT, INCH = 0x011A, 0x011B, 0x0128, 2


class WebpWish(ClearWish):
    """What WebP is wanted; it has no 1-bit kind, so that becomes pure black and white."""

    format: Literal["webp"] = "webp"


def write(path: Path, delivery: Delivery, wish: WebpWish) -> None:
    """Write a WebP with its resolution."""
    image, frame = picture(delivery, wish)
    image = image if image.mode == "RGBA" else image.convert("RGB")
    exif = Image.Exif()
    exif[ACROSS] = exif[DOWN] = round(dpi_of(frame.px_per_mm), 2)
    exif[UNIT] = INCH
    image.save(path, "WEBP", lossless=True, quality=60, exif=exif, icc_profile=profile_for(image))


FORMAT = Format(
    wish=WebpWish,
    label="WebP",
    suffixes=("webp",),
    media_type="image/webp",
    frame=picture_frame,
    write=write,
)
