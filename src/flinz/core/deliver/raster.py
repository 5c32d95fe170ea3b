"""Pictures of a sheet in pixels: PNG, JPEG and TIFF, in 1 bit, grey or colour."""

import io
import itertools
import math
from collections.abc import Callable
from enum import StrEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document import Sheet
from flinz.core.framing import sheet_mm, whole
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.core.run import Stop, never
from flinz.core.scale import MM_PER_INCH, Frame, px_for_dpi
from flinz.errors import DocumentError

MAX_PIXELS = 150_000_000
BAND_PIXELS = 7_000_000
BAND_MEMORY_BYTES = 120_000_000
FORMATS = {"png": "PNG", "jpg": "JPEG", "jpeg": "JPEG", "tif": "TIFF", "tiff": "TIFF"}

Progress = Callable[[float], None]


class Greys(StrEnum):
    """What becomes of greys in a 1-bit picture."""

    CUT = "cut"
    GRAIN = "grain"


class RasterExport(Settings):
    """What picture of a sheet is wanted. Without long_edge_px and dpi: the photo's own pixels."""

    format: Literal["png", "jpg", "tiff"] = "png"
    depth: Literal["auto", "1-bit", "grey", "colour"] = "auto"
    greys: Greys = Greys.CUT
    long_edge_px: int | None = Field(None, ge=1, le=60_000)
    dpi: float | None = Field(None, ge=10, le=4800, allow_inf_nan=False)


def export(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    wanted: RasterExport,
    progress: Progress = lambda share: None,
    stop: Stop = never,
) -> bytes:
    """The bytes of a picture file, its resolution written in.

    Large sheets are drawn in bands, so memory stays bounded; progress is told the share done.
    Raises DocumentError if the picture would be too large, Stopped if stop() turns true.
    """
    frame = export_frame(photo, sheet, wanted)
    pixels = _in_bands(press, photo, sheet, frame, wanted, progress, stop)
    return _encoded(pixels, frame, wanted)


def export_frame(photo: Photo, sheet: Sheet, wanted: RasterExport) -> Frame:
    """The size in pixels of a wanted picture. Raises DocumentError if it is too large."""
    edge = wanted.long_edge_px
    if wanted.dpi is not None:
        edge = px_for_dpi(max(sheet_mm(sheet, photo)), wanted.dpi)
    frame = whole(sheet, photo, edge)
    if frame.width * frame.height > MAX_PIXELS:
        raise DocumentError(
            f"The picture would have {frame.width:,} × {frame.height:,} pixels; the limit is "
            f"{MAX_PIXELS / 1e6:.0f} million. Choose fewer dots an inch or a smaller sheet."
        )
    return frame


def _in_bands(
    press: Press,
    photo: Photo,
    sheet: Sheet,
    frame: Frame,
    wanted: RasterExport,
    progress: Progress,
    stop: Stop,
) -> NDArray[np.uint8]:
    bands = max(1, math.ceil(frame.width * frame.height / BAND_PIXELS))
    # A large export passes through once: remembering its bands would only push proofs out. Only
    # what belongs to the whole sheet is worth keeping from band to band.
    worker = press if bands == 1 else Press(memory_bytes=BAND_MEMORY_BYTES)
    edges = [round(k * frame.height / bands) for k in range(bands + 1)]
    parts: list[NDArray[np.uint8]] = []
    for k, (top, bottom) in enumerate(itertools.pairwise(edges)):
        band = Frame(
            frame.px_per_mm,
            frame.full_width,
            frame.full_height,
            0,
            top,
            frame.width,
            bottom - top,
        )
        picture = worker.proof(photo, sheet, band, exact=True, stop=stop)
        parts.append(_bytes_of(picture, wanted))
        progress((k + 1) / (bands + 1))
    if len({part.ndim for part in parts}) > 1:
        parts = [p if p.ndim == 3 else np.repeat(p[..., None], 3, 2) for p in parts]
    return np.concatenate(parts)


def _bytes_of(picture: NDArray[np.float32], wanted: RasterExport) -> NDArray[np.uint8]:
    if picture.ndim == 3 and wanted.depth in ("grey", "1-bit"):
        picture = picture @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    return np.asarray(np.rint(np.clip(picture, 0, 1) * 255), np.uint8)


def _encoded(pixels: NDArray[np.uint8], frame: Frame, wanted: RasterExport) -> bytes:
    image = Image.fromarray(pixels)
    if wanted.depth == "1-bit":
        image = _one_bit(image, wanted.greys)
    elif wanted.depth == "colour":
        image = image.convert("RGB")
    dpi = frame.px_per_mm * MM_PER_INCH
    out = io.BytesIO()
    match wanted.format:
        case "png":
            image.save(out, "PNG", dpi=(dpi, dpi), compress_level=4)
        case "jpg":
            image = image.convert("L") if image.mode == "1" else image
            # A JPEG holds whole dots an inch.
            image.save(out, "JPEG", quality=95, subsampling=0, dpi=(round(dpi), round(dpi)))
        case "tiff":
            compression = "group4" if image.mode == "1" else "tiff_lzw"
            image.save(out, "TIFF", dpi=(dpi, dpi), compression=compression)
    return out.getvalue()


def _one_bit(image: Image.Image, greys: Greys) -> Image.Image:
    grey = image.convert("L")
    if greys == Greys.GRAIN:
        # Error diffusion: R. Floyd and L. Steinberg (1976), as Pillow does it.
        return grey.convert("1")
    return grey.point([0] * 128 + [255] * 128).convert("1", dither=Image.Dither.NONE)
