"""The cutout of a photo as a picture of its own, by strokes that are written in words."""

import math
from collections.abc import Sequence
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import MAX_POINTS, Brush, Stroke
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import Box
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.stages.paper import AsPicture
from flinz.errors import DocumentError

STRIP_ROWS = 1024
LIST = "0" * 64

Verb = Literal["keep", "drop"]


def write_alpha(path: Path, photo: Photo, said: Sequence[tuple[str, str]], size_mm: float) -> None:
    """Write the alpha of a photo's subject: an 8-bit grey PNG of the photo's own pixels.

    said: verbs (keep or drop) with points as "X,Y,X,Y...", shares 0..1 of the photo; none finds the
    subject by itself. size_mm: width of the strokes on a sheet of the usual size.
    Raises DocumentError naming what is no stroke.
    """
    alpha = alpha_of(photo, strokes_of(photo, said, size_mm))
    Image.fromarray(np.rint(alpha * 255).astype(np.uint8)).save(path, "PNG")


def alpha_of(photo: Photo, strokes: list[Stroke]) -> NDArray[np.float32]:
    """The alpha of a photo at its own pixels, (H, W) float32 0..1."""
    sheet = Sheet(picture=Picture(photo=photo.key))
    if strokes:
        sheet = sheet.model_copy(update={"cutouts": {photo.key: LIST}})
    press = Press(stock=Stock(strokes_of=lambda _: strokes))
    frame = Box((photo.width, photo.height), sheet.paper.long_edge).whole()
    alpha = np.empty((photo.height, photo.width), np.float32)
    # All at once would be three channels of floats.
    for top in range(0, photo.height, STRIP_ROWS):
        bottom = min(photo.height, top + STRIP_ROWS)
        strip = frame.part(0, top, photo.width, bottom)
        alpha[top:bottom] = press.alpha(photo, sheet, strip)
    return alpha


def strokes_of(photo: Photo, said: Sequence[tuple[str, str]], size_mm: float) -> list[Stroke]:
    """Strokes from verbs and points in words (see write_alpha)."""
    limit = AsPicture().long_edge
    if not (math.isfinite(size_mm) and 0 < size_mm <= limit):
        raise DocumentError(f"The size of a stroke must be above 0 and up to {limit:g} mm.")
    size = size_mm / limit
    sides = np.array([photo.width, photo.height]) / max(photo.width, photo.height)
    strokes = []
    for verb, text in said:
        points = _points(text) * sides
        brush = Brush(verb="keep" if verb == "keep" else "drop", size=size, hardness=1.0)
        strokes.append(Stroke(brush, np.column_stack([points, np.ones(len(points))])))
    return strokes


def _points(text: str) -> NDArray[np.float64]:
    try:
        numbers = [float(each) for each in text.replace(";", ",").split(",")]
    except ValueError:
        numbers = []
    if not numbers or len(numbers) % 2 or not all(0 <= each <= 1 for each in numbers):
        raise DocumentError(
            f"{text!r} is no stroke. Write X,Y,X,Y and so on, as shares of the photo from 0 to 1."
        )
    if len(numbers) > 2 * MAX_POINTS:
        raise DocumentError(f"A stroke has up to {MAX_POINTS:,} points.")
    return np.array(numbers).reshape(-1, 2)
