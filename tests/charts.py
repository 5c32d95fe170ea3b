"""Synthetic pictures whose answers are known, and the means to encode them."""

import io
import re
import subprocess
from pathlib import Path

import numpy as np
import pypdfium2
import resvg_py
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

FINER = 4


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


def read_back(file: Path, width: int) -> Image.Image:
    """What an independent reader shows of an SVG, PDF or EPS, so many pixels wide."""
    if file.suffix == ".svg":
        text = file.read_text()
        wide, high = (float(value) for value in re.findall(r'="([0-9.]+)mm"', text)[:2])
        size = f'width="{width}" height="{round(width * high / wide)}"'
        text = re.sub(r'width="[0-9.]+mm" height="[0-9.]+mm"', size, text, count=1)
        drawn = resvg_py.svg_to_bytes(svg_string=text)
        return Image.open(io.BytesIO(bytes(drawn)))
    if file.suffix == ".pdf":
        page = pypdfium2.PdfDocument(file)[0]
        return page.render(scale=width / page.get_width()).to_pil()
    box = next(line for line in file.read_text().splitlines() if line.startswith("%%HiRes"))
    out = file.with_suffix(".png")
    # Its reader fattens what it draws by a part of a pixel: small ones, then.
    dpi = 72 * FINER * width / float(box.split()[3])
    command = ["gs", "-q", "-dNOPAUSE", "-dBATCH", "-dSAFER", "-dEPSCrop", "-dGraphicsAlphaBits=4"]
    command += ["-sDEVICE=png16m", f"-r{dpi}", f"-sOutputFile={out}", str(file)]
    subprocess.run(command, check=True)
    return Image.open(out).reduce(FINER)
