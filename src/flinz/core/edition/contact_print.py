"""The contact print: small pictures of an edition with their names, a PDF to hang up."""

import io
from collections.abc import Sequence

from reportlab.lib.pagesizes import A4
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from flinz.core.ground.faces import FOLDER, Face

ACROSS, DOWN = 4, 5
MARGIN, GAP, LINE, NUMBER_ROOM = 36.0, 14.0, 11.0, 60.0
TITLE_POINTS, NAME_POINTS = 15.0, 7.5
# Ours, since those of every reader have Western letters alone.
FACES = (Face.GROTESQUE, Face.GROTESQUE_BOLD)


def contact_print(title: str, pictures: Sequence[tuple[str, bytes | None]]) -> bytes:
    """A PDF of A4 pages; pictures: names with PNGs, None for one that could not be drawn.

    Equal pictures give equal bytes.
    """
    plain, bold = (_registered(face) for face in FACES)
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    canvas.setTitle(title)
    width, height = A4
    cell = (width - 2 * MARGIN - (ACROSS - 1) * GAP) / ACROSS
    top = height - MARGIN - TITLE_POINTS - GAP
    row = (top - MARGIN - (DOWN - 1) * GAP) / DOWN
    a_page = ACROSS * DOWN
    pages = max(1, -(-len(pictures) // a_page))
    for page in range(pages):
        line = height - MARGIN - TITLE_POINTS
        canvas.setFont(bold, TITLE_POINTS)
        room = width - 2 * MARGIN - NUMBER_ROOM
        canvas.drawString(MARGIN, line, _fitting(title, bold, TITLE_POINTS, room))
        canvas.setFont(plain, NAME_POINTS)
        canvas.drawRightString(width - MARGIN, line, f"{page + 1} of {pages}")
        for place, (name, data) in enumerate(pictures[page * a_page : (page + 1) * a_page]):
            down, across = divmod(place, ACROSS)
            left = MARGIN + across * (cell + GAP)
            bottom = top - down * (row + GAP) - row
            _picture(canvas, data, left, bottom + LINE, cell, row - LINE)
            canvas.drawString(left, bottom, _fitting(name, plain, NAME_POINTS, cell))
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _registered(face: Face) -> str:
    """A face that ships, as reportlab knows it."""
    pdfmetrics.registerFont(TTFont(face.value, FOLDER / f"{face.value}.ttf"))
    return face.value


def _picture(
    canvas: Canvas, data: bytes | None, left: float, bottom: float, width: float, height: float
) -> None:
    """A picture in a room, as large as that lets it be; a crossed box where there is none."""
    if data is None:
        canvas.setLineWidth(0.5)
        canvas.rect(left, bottom, width, height)
        canvas.line(left, bottom, left + width, bottom + height)
        canvas.line(left, bottom + height, left + width, bottom)
        return
    picture = ImageReader(io.BytesIO(data))
    wide, high = picture.getSize()
    scale = min(width / wide, height / high)
    drawn_width, drawn_height = wide * scale, high * scale
    at = left + (width - drawn_width) / 2, bottom + (height - drawn_height) / 2
    canvas.drawImage(picture, *at, drawn_width, drawn_height)
    canvas.setLineWidth(0.25)
    canvas.rect(*at, drawn_width, drawn_height)


def _fitting(text: str, face: str, points: float, width: float) -> str:
    """A text cut so that it is no wider."""
    if pdfmetrics.stringWidth(text, face, points) <= width:
        return text
    while text and pdfmetrics.stringWidth(f"{text}…", face, points) > width:
        text = text[:-1]
    return f"{text}…"
