"""PNG: pixels without loss, for screens and for print."""

from pathlib import Path
from typing import Literal

from flinz.core.deliver.format import Delivery, Format
from flinz.core.deliver.raster import ClearWish, picture, picture_frame, profile_for
from flinz.core.scale import dpi_of


class PngWish(ClearWish):
    """What PNG is wanted."""

    format: Literal["png"] = "png"


def write(path: Path, delivery: Delivery, wish: PngWish) -> None:
    """Write a PNG with its resolution."""
    image, frame = picture(delivery, wish)
    dpi = dpi_of(frame.px_per_mm)
    image.save(path, "PNG", dpi=(dpi, dpi), icc_profile=profile_for(image), compress_level=4)


FORMAT = Format(
    wish=PngWish,
    label="PNG",
    suffixes=("png",),
    media_type="image/png",
    frame=picture_frame,
    write=write,
)
