"""Separations as a PDF: a page an ink, black, with register marks and its name."""

from pathlib import Path
from typing import Any, ClassVar, Literal

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.painting import Painter, new_canvas
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.separating import (
    MARGIN_MM,
    MARK_MM,
    SEPARATIONS,
    black_layers,
    separations_of,
)
from flinz.core.deliver.shaping import artwork_of
from flinz.core.scale import POINTS_A_MM

HAIRLINE_MM, LETTERS_PT = 0.1, 8


class SeparationsPdfWish(VectorWish):
    """What separations are wanted as pages."""

    parts_inks: ClassVar[bool] = True

    format: Literal["separations-pdf"] = "separations-pdf"


def write(path: Path, delivery: Delivery, wish: SeparationsPdfWish) -> None:
    """Write the pages; marks lie at the same places on all."""
    artwork = artwork_of(delivery, wish)
    width, height = artwork.width + 2 * MARGIN_MM, artwork.height + 2 * MARGIN_MM
    canvas = new_canvas(str(path), width, height, delivery.sheet.title)
    painter = Painter(canvas)
    for separation in separations_of(delivery.sheet, artwork.layers):
        canvas.setTrimBox(tuple(side * POINTS_A_MM for side in _trim(width, height)))
        canvas.saveState()
        painter.page_of(width, height)
        canvas.saveState()
        canvas.translate(MARGIN_MM, MARGIN_MM)
        for layer in black_layers(artwork, separation):
            painter.layer(layer, artwork)
        canvas.restoreState()
        _register_marks(canvas, width, height)
        canvas.restoreState()
        canvas.setFont("Helvetica", LETTERS_PT)
        canvas.drawString(MARGIN_MM * POINTS_A_MM, LETTERS_PT, separation.words)
        canvas.showPage()
    canvas.save()


def _trim(width: float, height: float) -> tuple[float, float, float, float]:
    return MARGIN_MM, MARGIN_MM, width - MARGIN_MM, height - MARGIN_MM


def _register_marks(canvas: Any, width: float, height: float) -> None:
    canvas.setLineWidth(HAIRLINE_MM)
    canvas.setStrokeColorRGB(0, 0, 0)
    half = MARGIN_MM / 2
    for x, y in ((width / 2, half), (width / 2, height - half), (half, height / 2)):
        _mark(canvas, x, y)
    _mark(canvas, width - half, height / 2)


def _mark(canvas: Any, x: float, y: float) -> None:
    canvas.line(x - MARK_MM, y, x + MARK_MM, y)
    canvas.line(x, y - MARK_MM, x, y + MARK_MM)
    canvas.circle(x, y, MARK_MM / 2, stroke=1, fill=0)


FORMAT = Format(
    wish=SeparationsPdfWish,
    label="Separations, PDF",
    suffixes=("pdf",),
    media_type="application/pdf",
    frame=vector_frame,
    write=write,
    group=Group.PRESS,
    way=SEPARATIONS,
)
