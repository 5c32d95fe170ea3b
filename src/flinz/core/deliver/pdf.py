"""PDF: a page of true size, vectors in named spot colours."""

from pathlib import Path
from typing import Literal

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.painting import Painter, new_canvas
from flinz.core.deliver.vectors import vector_format
from flinz.core.scale import POINTS_A_MM


class PdfWish(VectorWish):
    """What PDF is wanted."""

    format: Literal["pdf"] = "pdf"


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write a PDF of one page: its trim box is the sheet."""
    canvas = new_canvas(str(path), artwork.width, artwork.height, title)
    box = 0, 0, artwork.width * POINTS_A_MM, artwork.height * POINTS_A_MM
    canvas.setTrimBox(box)
    canvas.setBleedBox(box)
    painter = Painter(canvas)
    painter.page_of(artwork.width, artwork.height)
    painter.artwork(artwork)
    canvas.showPage()
    canvas.save()


FORMAT = vector_format(PdfWish, "PDF (vectors in spot colours)", ("pdf",), "application/pdf", write)
