"""OpenRaster: a layer a plate, with its blend mode and opacity, to go on in painting programs."""

import zipfile
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import quoteattr

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from flinz.core.deliver.format import Delivery, Format
from flinz.core.deliver.raster import (
    PictureWish,
    eight_bits,
    in_bands,
    picture,
    picture_frame,
    png_bytes,
)
from flinz.core.deliver.reshaped import reshaped
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet_file import add_part
from flinz.core.press.impressions import on_nothing
from flinz.core.press.press import Press
from flinz.core.scale import Frame
from flinz.core.stages.blend import Blend

THUMBNAIL_PX = 256
# Modes that the format has no name for; they leave multiplied.
NO_NAME = (Blend.EXCLUSION, Blend.SUM, Blend.DENSITY_DIFFERENCE)
PACKED = zipfile.ZIP_DEFLATED


class OpenRasterWish(PictureWish):
    """What OpenRaster file is wanted; always in colour."""

    format: Literal["ora"] = "ora"


def write(path: Path, delivery: Delivery, wish: OpenRasterWish) -> None:
    """Write an OpenRaster file: paper, plates, all together, and a small picture."""
    delivery = reshaped(delivery)
    in_colour = wish.model_copy(update={"depth": "colour"})
    merged, frame = picture(delivery, in_colour)
    shown = [plate for plate in delivery.printed.plates if plate.shown]
    with zipfile.ZipFile(path, "w") as archive:
        add_part(archive, "mimetype", b"image/openraster", zipfile.ZIP_STORED)
        rows = []
        # Upper layers stand first.
        for number, plate in reversed(list(enumerate(shown))):
            name = f"data/plate-{number + 1}.png"
            layer = Image.fromarray(_plate(delivery, plate, frame))
            add_part(archive, name, png_bytes(layer), PACKED)
            rows.append(_row(plate, name, _opacity(delivery, plate)))
        sheet = Image.new("RGB", merged.size, delivery.sheet.paper.colour)
        add_part(archive, "data/paper.png", png_bytes(sheet), PACKED)
        rows.append('<layer name="Paper" src="data/paper.png" x="0" y="0"/>')
        width, height = merged.size
        stack = (
            f'<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.5" w="{width}" '
            f'h="{height}"><stack>\n' + "\n".join(rows) + "\n</stack></image>\n"
        )
        add_part(archive, "stack.xml", stack.encode(), PACKED)
        add_part(archive, "mergedimage.png", png_bytes(merged), PACKED)
        small = merged.copy()
        small.thumbnail((THUMBNAIL_PX, THUMBNAIL_PX))
        add_part(archive, "Thumbnails/thumbnail.png", png_bytes(small), PACKED)


def _opacity(delivery: Delivery, plate: Plate) -> float:
    """How much of a plate arrives; of one with changed shapes that is part of its colours."""
    return plate.ink.hiding if _is_own(delivery, plate) else 1.0


def _is_own(delivery: Delivery, plate: Plate) -> bool:
    instead = delivery.press.results.instead.get(plate.id)
    return instead is None or instead.ink(plate.ink) == plate.ink


def _row(plate: Plate, name: str, opacity: float) -> str:
    blend = Blend.MULTIPLY if plate.ink.blend in NO_NAME else plate.ink.blend
    mode = "src-over" if blend == Blend.NORMAL else blend.value
    return (
        f'<layer name={quoteattr(name_of(plate))} src="{name}" x="0" y="0" '
        f'opacity="{opacity:.4f}" composite-op="svg:{mode}"/>'
    )


def _plate(delivery: Delivery, plate: Plate, frame: Frame) -> NDArray[np.uint8]:
    """A plate alone, (H, W, 4): what it lets through is left to the layer."""
    opacity = np.float32(max(_opacity(delivery, plate), 1e-6))
    if not _is_own(delivery, plate):
        plate = plate.model_copy(update={"ink": plate.ink.model_copy(update={"opacity": 1.0})})
    sheet = delivery.printed.with_plate(plate)

    def draw(press: Press, band: Frame) -> NDArray[np.uint8]:
        left = press.impression(delivery.photo, sheet, plate, band, stop=delivery.stop)
        laid = on_nothing([left], band.height, band.width)
        laid[..., 3] = np.minimum(laid[..., 3] / opacity, 1)
        return eight_bits(laid)

    return in_bands(delivery, frame, draw)


FORMAT = Format(
    wish=OpenRasterWish,
    label="OpenRaster (a layer a plate)",
    suffixes=("ora",),
    media_type="image/openraster",
    frame=picture_frame,
    write=write,
)
