"""Synthetic pictures whose answers are known, and the means to encode them."""

import io
from pathlib import Path

import numpy as np
from PIL import Image

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.registry import FORMATS
from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.scale import Frame, whole_frame


def grey_photo(values, key="chart") -> Photo:
    """A photo of grey bytes (H, W)."""
    return Photo(np.repeat(np.asarray(values, np.uint8)[..., None], 3, 2), key)


def ramp(width=256, height=32):
    """Every one of 256 greys, from left to right."""
    row = np.floor(np.linspace(0, 255.999, width)).astype(np.uint8)
    return np.tile(row, (height, 1))


def blobs(height=120, width=160, seed=3, scale=9.0):
    """A soft random tone plane, (H, W) float32 0..1."""
    from flinz.core.planes.filters import blurred

    noise = np.random.default_rng(seed).random((height, width)).astype(np.float32)
    soft = blurred(noise, scale)
    low, high = float(soft.min()), float(soft.max())
    return ((soft - low) / (high - low)).astype(np.float32)


def encoded(image: Image.Image, file_format: str, **options) -> bytes:
    """The bytes of a picture file."""
    out = io.BytesIO()
    image.save(out, file_format, **options)
    return out.getvalue()


def png(values) -> bytes:
    """A PNG of bytes (H, W) or (H, W, 3)."""
    return encoded(Image.fromarray(np.asarray(values, np.uint8)), "PNG")


def opened(data: bytes) -> Image.Image:
    """A picture from its bytes."""
    return Image.open(io.BytesIO(data))


def frame_of(plane, px_per_mm=5.0) -> Frame:
    """The frame of a whole sheet with this many pixels."""
    height, width = plane.shape
    return whole_frame(width / px_per_mm, width, height)


def sheet_of(look: str, photo: str = "", **dials) -> Sheet:
    """A sheet with one plate of a look."""
    return Sheet(picture=Picture(photo=photo), plates=[Plate(draw=LOOKS[look].settings(**dials))])


def delivered(folder: Path, press: Press, photo: Photo, sheet: Sheet, kind: str, **wanted) -> Path:
    """The file of a sheet in a format."""
    each = FORMATS[kind]
    file = folder / f"file.{each.suffix}"
    each.write(file, Delivery(press, photo, sheet), each.wish(**wanted))
    return file
