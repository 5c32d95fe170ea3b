"""A large sheet over many pages of a home printer, to be cut and glued: PDF."""

import math
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.painting import Painter, new_canvas
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.shaping import artwork_of
from flinz.core.scale import POINTS_A_MM
from flinz.errors import DocumentError

# What home printers leave bare at the edges, mm.
MARGIN_MM = 8.0
# Least room within margins and overlap that a page must add, mm.
LEAST_MM = 20.0
MOST_PAGES = 400
TICK_MM, HAIRLINE_MM, LETTERS_MM = 5.0, 0.1, 3.0
SHEET = "sheet"


class Page(StrEnum):
    """A size of paper."""

    A4 = "a4"
    A3 = "a3"
    LETTER = "letter"


SIZES = {Page.A4: (210.0, 297.0), Page.A3: (297.0, 420.0), Page.LETTER: (215.9, 279.4)}


class TilesWish(VectorWish):
    """What tiles are wanted. mirrored: as seen from behind, for a light box or for transfer."""

    format: Literal["tiles"] = "tiles"
    page: Page = Page.A4
    overlap: float = Field(10.0, ge=0.0, le=100.0, allow_inf_nan=False)
    mirrored: bool = False


@dataclass(frozen=True)
class Tiling:
    """Pages over a sheet: their size, room within margins, mm, and how many across and down."""

    page: tuple[float, float]
    room: tuple[float, float]
    overlap: float
    across: int
    down: int

    def begin(self, column: int, row: int) -> tuple[float, float]:
        """Where the room of a page begins on the sheet, mm."""
        return column * (self.room[0] - self.overlap), row * (self.room[1] - self.overlap)

    def name(self, column: int, row: int) -> str:
        """A page's name: A1 at the top left, B1 on its right."""
        letters, rest = "", column + 1
        while rest:
            rest, letter = divmod(rest - 1, 26)
            letters = chr(65 + letter) + letters
        return f"{letters}{row + 1}"


def tiling(width: float, height: float, page: Page, overlap: float) -> Tiling:
    """The fewest pages over a sheet, upright or across. Raises DocumentError if they have no room
    within their margins and overlap, or would be too many.
    """
    upright = SIZES[page]
    ways = [_tiling(width, height, size, overlap) for size in (upright, upright[::-1])]
    best = min(ways, key=lambda each: each.across * each.down)
    if best.across * best.down > MOST_PAGES:
        raise DocumentError(
            f"This sheet would lie over {best.across * best.down:,} pages; the limit is "
            f"{MOST_PAGES}. Choose a larger page or a smaller sheet."
        )
    return best


def _tiling(width: float, height: float, size: tuple[float, float], overlap: float) -> Tiling:
    room = size[0] - 2 * MARGIN_MM, size[1] - 2 * MARGIN_MM
    if min(room) - overlap < LEAST_MM:
        raise DocumentError(
            f"Pages of {size[0]:g} × {size[1]:g} mm have no room left beside an overlap of "
            f"{overlap:g} mm: the most is {min(room) - LEAST_MM:g} mm."
        )
    across, down = (
        max(1, math.ceil((length - overlap) / (own - overlap) - 1e-9))
        for length, own in zip((width, height), room, strict=True)
    )
    return Tiling(size, room, overlap, across, down)


def write(path: Path, delivery: Delivery, wish: TilesWish) -> None:
    """Write the pages, a map of them first."""
    artwork = artwork_of(delivery, wish)
    found = tiling(artwork.width, artwork.height, wish.page, wish.overlap)
    canvas = new_canvas(str(path), *found.page, delivery.sheet.title)
    painter = Painter(canvas)
    canvas.beginForm(SHEET, 0, 0, artwork.width, artwork.height)
    painter.artwork(artwork)
    painter.end_form()
    _map(canvas, painter, artwork, found, wish.mirrored)
    for row in range(found.down):
        for column in range(found.across):
            _page(canvas, painter, artwork, found, column, row, wish.mirrored)
    canvas.save()


def _sheet(canvas: Any, artwork: Artwork, mirrored: bool) -> None:
    canvas.saveState()
    if mirrored:
        canvas.translate(artwork.width, 0)
        canvas.scale(-1, 1)
    canvas.doForm(SHEET)
    canvas.restoreState()


def _page(
    canvas: Any,
    painter: Painter,
    artwork: Artwork,
    tiles: Tiling,
    column: int,
    row: int,
    mirrored: bool,
) -> None:
    left, top = tiles.begin(column, row)
    wide, high = tiles.room
    canvas.saveState()
    painter.page_of(*tiles.page)
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(MARGIN_MM, MARGIN_MM, wide, high)
    canvas.clipPath(path, stroke=0, fill=0)
    canvas.translate(MARGIN_MM - left, MARGIN_MM - top)
    _sheet(canvas, artwork, mirrored)
    canvas.restoreState()
    canvas.setLineWidth(HAIRLINE_MM)
    canvas.setStrokeGray(0)
    # Cut where the next page is glued on; glue on the strip beyond.
    for x in (MARGIN_MM, MARGIN_MM + wide):
        for y in (MARGIN_MM, MARGIN_MM + high):
            _ticks(canvas, x, y, tiles.page)
    canvas.setDash(2, 2)
    canvas.setStrokeGray(0.5)
    if column + 1 < tiles.across and tiles.overlap:
        x = MARGIN_MM + wide - tiles.overlap
        canvas.line(x, MARGIN_MM, x, MARGIN_MM + high)
    if row + 1 < tiles.down and tiles.overlap:
        y = MARGIN_MM + high - tiles.overlap
        canvas.line(MARGIN_MM, y, MARGIN_MM + wide, y)
    canvas.restoreState()
    words = f"{tiles.name(column, row)} of {tiles.name(tiles.across - 1, tiles.down - 1)}"
    if mirrored:
        words += ", mirrored"
    _say(canvas, MARGIN_MM + TICK_MM, 3, words)
    canvas.showPage()


def _ticks(canvas: Any, x: float, y: float, page: tuple[float, float]) -> None:
    out_x = -1 if x < page[0] / 2 else 1
    out_y = -1 if y < page[1] / 2 else 1
    canvas.line(x + out_x, y, x + out_x * TICK_MM, y)
    canvas.line(x, y + out_y, x, y + out_y * TICK_MM)


def _map(canvas: Any, painter: Painter, artwork: Artwork, tiles: Tiling, mirrored: bool) -> None:
    """The whole sheet small, with the pages over it."""
    wide, high = tiles.room[0] - 2 * MARGIN_MM, tiles.room[1] - 3 * MARGIN_MM
    scale = min(wide / artwork.width, high / artwork.height, 1.0)
    canvas.saveState()
    painter.page_of(*tiles.page)
    canvas.translate(2 * MARGIN_MM, 3 * MARGIN_MM)
    canvas.scale(scale, scale)
    _sheet(canvas, artwork, mirrored)
    canvas.setLineWidth(HAIRLINE_MM / scale)
    canvas.setStrokeColorRGB(0.75, 0.1, 0.1)
    for row in range(tiles.down):
        for column in range(tiles.across):
            canvas.rect(*tiles.begin(column, row), *tiles.room, stroke=1, fill=0)
    canvas.restoreState()
    top = tiles.page[1]
    glued = f"{tiles.across} × {tiles.down} pages, {tiles.overlap:g} mm over each other"
    _say(canvas, 2 * MARGIN_MM, top - 12, f"{artwork.width:.0f} × {artwork.height:.0f} mm: {glued}")
    _say(
        canvas, 2 * MARGIN_MM, top - 18, "Cut along the ticks; glue the next page on to the dashes."
    )
    for row in range(tiles.down):
        for column in range(tiles.across):
            left, upper = (value * scale for value in tiles.begin(column, row))
            x, y = 2 * MARGIN_MM + left + 1, top - (3 * MARGIN_MM + upper) - LETTERS_MM
            _say(canvas, x, y, tiles.name(column, row))
    canvas.showPage()


def _say(canvas: Any, x: float, y: float, words: str) -> None:
    canvas.setFont("Helvetica", LETTERS_MM * POINTS_A_MM)
    canvas.drawString(x * POINTS_A_MM, y * POINTS_A_MM, words)


FORMAT = Format(
    wish=TilesWish,
    label="Pages to glue, PDF",
    suffixes=("pdf",),
    media_type="application/pdf",
    frame=vector_frame,
    write=write,
    group=Group.PRESS,
    way="tiles",
)
