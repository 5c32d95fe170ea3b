"""PDF: a page of true size, vectors in named spot colours; with bleed and marks if wanted."""

from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from flinz.core.deliver import pdf_text
from flinz.core.deliver.artwork import Artwork, Text, TextWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.painting import Painter, new_canvas
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.shaping import artwork_of
from flinz.core.scale import POINTS_A_MM

# Marks to cut by: how long, how far from what is printed, and how thick, mm.
MARK_MM, APART_MM, HAIRLINE_MM = 5.0, 2.0, 0.1


class PdfWish(TextWish):
    """What PDF is wanted. bleed: how far the drawing goes on beyond the sheet, mm."""

    format: Literal["pdf"] = "pdf"
    bleed: float = Field(0.0, ge=0, le=20, allow_inf_nan=False)

    def refuses(self, text: Text) -> str:
        """Why words cannot be text in it; "" where they can."""
        return pdf_text.refuses(text)


def write(path: Path, delivery: Delivery, wish: PdfWish) -> None:
    """Write a PDF of one page: its trim box is the sheet."""
    _write(path, artwork_of(delivery, wish), delivery.sheet.title, wish.bleed)


def write_artwork(path: Path, artwork: Artwork, title: str) -> None:
    """Write artwork as a PDF of one page without bleed."""
    _write(path, artwork, title, 0.0)


def _write(path: Path, artwork: Artwork, title: str, bleed: float) -> None:
    room = bleed + APART_MM + MARK_MM if bleed else 0.0
    width, height = artwork.width + 2 * room, artwork.height + 2 * room
    canvas = new_canvas(str(path), width, height, title)
    canvas.setTrimBox(_box(room, artwork))
    canvas.setBleedBox(_box(room, artwork, bleed))
    painter = Painter(canvas)
    painter.page_of(width, height)
    canvas.translate(room, room)
    painter.artwork(artwork, bleed)
    if bleed:
        _mark(canvas, artwork, bleed)
    canvas.showPage()
    canvas.save()


def _box(room: float, artwork: Artwork, beyond: float = 0.0) -> tuple[float, ...]:
    ends = room + artwork.width + beyond, room + artwork.height + beyond
    return tuple(side * POINTS_A_MM for side in (room - beyond, room - beyond, *ends))


def _mark(canvas: Any, artwork: Artwork, bleed: float) -> None:
    """Lines to cut by, beside all four corners."""
    canvas.setStrokeColorRGB(0, 0, 0)
    canvas.setLineWidth(HAIRLINE_MM)
    near, far = bleed + APART_MM, bleed + APART_MM + MARK_MM
    for x, out_x in ((0.0, -1), (artwork.width, 1)):
        for y, out_y in ((0.0, -1), (artwork.height, 1)):
            canvas.line(x + out_x * near, y, x + out_x * far, y)
            canvas.line(x, y + out_y * near, x, y + out_y * far)


FORMAT = Format(
    wish=PdfWish,
    label="PDF (vectors in spot colours)",
    suffixes=("pdf",),
    media_type="application/pdf",
    frame=vector_frame,
    write=write,
    group=Group.SHAPES,
    write_artwork=write_artwork,
)
