"""JPEG: small files whose edges soften."""

from pathlib import Path
from typing import Literal

from flinz.core.deliver.format import Delivery, Format
from flinz.core.deliver.raster import PictureWish, picture, picture_frame, profile_for
from flinz.core.scale import dpi_of


class JpegWish(PictureWish):
    """What JPEG is wanted; it has no 1-bit kind, so that becomes pure black and white greys."""

    format: Literal["jpg"] = "jpg"


def write(path: Path, delivery: Delivery, wish: JpegWish) -> None:
    """Write a JPEG with its resolution."""
    image, frame = picture(delivery, wish)
    image = image.convert("L") if image.mode == "1" else image
    # A JPEG holds whole dots an inch.
    dpi = round(dpi_of(frame.px_per_mm))
    image.save(
        path, "JPEG", quality=95, subsampling=0, dpi=(dpi, dpi), icc_profile=profile_for(image)
    )


FORMAT = Format(
    wish=JpegWish,
    label="JPEG (no 1-bit; edges soften)",
    suffixes=("jpg", "jpeg"),
    media_type="image/jpeg",
    frame=picture_frame,
    write=write,
)
