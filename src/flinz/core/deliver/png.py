"""PNG: pixels without loss, for screens and for print."""

from pathlib import Path
from typing import Literal

from flinz.core.deliver.format import Format, Progress
from flinz.core.deliver.raster import PictureWish, picture, picture_frame
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop
from flinz.core.scale import dpi_of


class PngWish(PictureWish):
    """What PNG is wanted."""

    format: Literal["png"] = "png"


def write(
    path: Path,
    press: Press,
    photo: Photo,
    sheet: Sheet,
    wish: PngWish,
    progress: Progress,
    stop: Stop,
) -> None:
    """Write a PNG with its resolution."""
    image, frame = picture(press, photo, sheet, wish, progress, stop)
    dpi = dpi_of(frame.px_per_mm)
    image.save(path, "PNG", dpi=(dpi, dpi), compress_level=4)


FORMAT = Format(
    wish=PngWish,
    label="PNG",
    suffixes=("png",),
    media_type="image/png",
    frame=picture_frame,
    write=write,
)
