"""Separations as a ZIP: a black TIFF an ink, with register marks and its name."""

import io
import zipfile
from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.inking import inked_share, lights_share
from flinz.core.deliver.raster import (
    Greys,
    PictureWish,
    eight_bits,
    in_bands,
    one_bit,
    picture_frame,
)
from flinz.core.deliver.redrawn import Redrawn, redrawn_of
from flinz.core.deliver.reshaped import reshaped
from flinz.core.deliver.separating import (
    MARGIN_MM,
    MARK_MM,
    SEPARATIONS,
    Separation,
    separations_of,
)
from flinz.core.document.sheet_file import add_part
from flinz.core.planes.greyness import greyness_of
from flinz.core.press.press import Press
from flinz.core.scale import Frame, dpi_of

LETTERS_MM = 3.0
# Ink or paper, where so little of a sheet is neither: edges; and so little of its ink another grey.
EDGE_SHARE, GREY_SHARE = 0.12, 0.1


class SeparationsZipWish(PictureWish):
    """What separations are wanted as pictures; depth is found for each, unless it is said."""

    format: Literal["separations-zip"] = "separations-zip"


def write(path: Path, delivery: Delivery, wish: SeparationsZipWish) -> None:
    """Write the plates; marks lie at the same places on all."""
    delivery = reshaped(delivery)
    redrawn = redrawn_of(delivery)
    frame = picture_frame(delivery.photo, delivery.sheet, wish)
    dpi = dpi_of(frame.px_per_mm)
    layers = [each.layer for each in redrawn.values()]
    with zipfile.ZipFile(path, "w") as archive:
        for number, separation in enumerate(separations_of(delivery.sheet, layers)):
            plate = _plate(delivery, redrawn, separation, frame)
            image = _marked(plate, separation, frame)
            if wish.depth == "1-bit" or (wish.depth == "auto" and _is_two_tone(image)):
                image = one_bit(image, Greys.CUT)
            packing = "group4" if image.mode == "1" else "tiff_lzw"
            stream = io.BytesIO()
            image.save(stream, "TIFF", dpi=(dpi, dpi), compression=packing)
            name = f"{number + 1}-{_plain(separation.name)}.tiff"
            add_part(archive, name, stream.getvalue(), zipfile.ZIP_STORED)


def _plate(
    delivery: Delivery, redrawn: Mapping[str, Redrawn], separation: Separation, frame: Frame
) -> NDArray[np.uint8]:
    def draw(press: Press, band: Frame) -> NDArray[np.uint8]:
        bare = np.ones((band.height, band.width), np.float32)
        for plate in delivery.sheet.plates:
            of_plate = delivery.photo, delivery.printed, plate, band
            hides = press.hiding(*of_plate, stop=delivery.stop) if plate.shown else None
            if hides is not None:
                bare += hides * (1 - bare)
            if plate.id in redrawn:
                shapes = redrawn[plate.id]
                strength = partial(separation.strength_of, layer=shapes.layer)
                bare *= 1 - shapes.inked(band, strength)
            elif plate in separation.plates:
                bare *= 1 - inked_share(press.impression(*of_plate, stop=delivery.stop))
            elif plate in separation.lights_of:
                bare *= 1 - lights_share(press.impression(*of_plate, stop=delivery.stop))
        return eight_bits(bare)

    return in_bands(delivery, frame, draw)


def _marked(plate: NDArray[np.uint8], separation: Separation, frame: Frame) -> Image.Image:
    margin, mark = round(frame.px(MARGIN_MM)), frame.px(MARK_MM)
    image = Image.fromarray(np.pad(plate, margin, constant_values=255))
    pen = ImageDraw.Draw(image)
    width, height = image.size
    wide = max(1, round(frame.px(0.1)))
    middles = [(width / 2, margin / 2), (width / 2, height - margin / 2)]
    middles += [(margin / 2, height / 2), (width - margin / 2, height / 2)]
    for x, y in middles:
        pen.line((x - mark, y, x + mark, y), 0, wide)
        pen.line((x, y - mark, x, y + mark), 0, wide)
        half = mark / 2
        pen.ellipse((x - half, y - half, x + half, y + half), outline=0, width=wide)
    font = ImageFont.load_default(max(6, frame.px(LETTERS_MM)))
    pen.text((margin, height - margin * 0.7), separation.words, 0, font)
    return image


def _is_two_tone(image: Image.Image) -> bool:
    counts = np.array(image.histogram())
    ink = 1 - np.asarray(image, np.float32) / np.float32(255)
    are_edges = counts[26:230].sum() < EDGE_SHARE * counts.sum()
    return bool(are_edges) and greyness_of(ink).share < GREY_SHARE


def _plain(name: str) -> str:
    letters = "".join(each if each.isalnum() else "-" for each in name.lower())
    return "-".join(filter(None, letters.split("-"))) or "ink"


FORMAT = Format(
    wish=SeparationsZipWish,
    label="Separations, TIFF in a ZIP",
    suffixes=("zip",),
    media_type="application/zip",
    frame=picture_frame,
    write=write,
    group=Group.PRESS,
    way=SEPARATIONS,
)
