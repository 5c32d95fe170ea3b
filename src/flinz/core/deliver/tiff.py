"""TIFF: pixels without loss, as printers ask for them."""

from pathlib import Path
from typing import Literal

from flinz.core.deliver.format import Delivery, Format
from flinz.core.deliver.raster import ClearWish, picture, picture_frame, profile_for
from flinz.core.scale import dpi_of


class TiffWish(ClearWish):
    """What TIFF is wanted."""

    format: Literal["tiff"] = "tiff"


def write(path: Path, delivery: Delivery, wish: TiffWish) -> None:
    """Write a TIFF with its resolution, squeezed by Group 4 in 1 bit and by LZW otherwise."""
    image, frame = picture(delivery, wish)
    dpi = dpi_of(frame.px_per_mm)
    compression = "group4" if image.mode == "1" else "tiff_lzw"
    image.save(
        path, "TIFF", dpi=(dpi, dpi), icc_profile=profile_for(image), compression=compression
    )


FORMAT = Format(
    wish=TiffWish,
    label="TIFF",
    suffixes=("tiff", "tif"),
    media_type="image/tiff",
    frame=picture_frame,
    write=write,
)
