"""How true a tracing is, drawn again by an independent renderer, and how few its curves are."""

import io
from dataclasses import dataclass

import numpy as np
import resvg_py
from PIL import Image

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.svg import written
from flinz.core.document import builtin
from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import sheet_mm, whole
from flinz.core.press.press import Press
from flinz.core.scale import Frame
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import TraceWish, Tracing, traced, traced_px_per_mm

SHEET_MM, CLOSENESS_MM = 200.0, 0.04
# Recipes, with the share of their ink that may differ and the least mm of outline a curve.
RECIPES = {"ink-line": (0.012, 2.0), "tee-one-colour": (0.002, 4.5)}


@dataclass(frozen=True)
class Judged:
    """differs: share of the ink. mm_a_curve: of outline. farthest: mm, over the closeness."""

    differs: float
    mm_a_curve: float
    farthest: float


def judged(photo: Photo, recipe: str) -> Judged:
    """A recipe's drawing of a photo at 200 mm, traced and drawn again."""
    press = Press()
    sheet = fitting.on_photo(press, photo, builtin.named(recipe), "")
    sheet = sheet.model_copy(update={"paper": AsPicture(long_edge=SHEET_MM)})
    width, height = sheet_mm(sheet, photo)
    frame = whole(sheet, photo, round(SHEET_MM * traced_px_per_mm(width, height)))
    cover = press.cover(photo, sheet, sheet.plates[0], frame, exact=True)
    tracing = traced(cover, frame, TraceWish(closeness=CLOSENESS_MM))
    again = drawn_elsewhere(tracing, frame)
    return Judged(
        float(np.abs(again - cover).sum() / cover.sum()),
        tracing.outline_mm / max(1, len(tracing.curves)),
        tracing.largest_distance_mm / CLOSENESS_MM,
    )


def drawn_elsewhere(tracing: Tracing, frame: Frame) -> Plane:
    """A tracing as ink (H, W) 0..1 in the frame of its sheet, by an independent renderer."""
    width, height = frame.full_width / frame.px_per_mm, frame.full_height / frame.px_per_mm
    black = (0.0, 0.0, 0.0)
    layer = Layer("plate", "Plate", black, [Item(tracing, black)])
    svg = "".join(written(Artwork(width, height, (1.0, 1.0, 1.0), [layer]), ""))
    size = f'width="{frame.full_width}" height="{frame.full_height}"'
    svg = svg.replace(f'width="{width:.3f}mm" height="{height:.3f}mm"', size, 1)
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg)))).convert("L")
    return np.asarray(1 - np.asarray(picture, np.float32) / 255, np.float32)
