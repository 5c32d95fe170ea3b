"""SVG for a pen plotter: single lines in order, a group a pen."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

from pydantic import Field

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.plotting import Drawn, left_out, pens_of, time_words
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.shaping import artwork_of
from flinz.core.stages.ink import hex_of
from flinz.errors import DocumentError


class PlotterWish(VectorWish):
    """What lines are wanted. nib: width of the pen, mm."""

    format: Literal["plotter"] = "plotter"
    nib: float = Field(0.4, gt=0.02, le=10.0, allow_inf_nan=False)


def write(path: Path, delivery: Delivery, wish: PlotterWish) -> None:
    """Write the lines. Raises DocumentError where a plate has greys, which no pen draws."""
    # A pen draws on paper that is there: what the sheet's does to ink is not drawn.
    paper = delivery.sheet.paper.model_copy(update={"tooth": 0.0, "soak": 0.0})
    sheet = delivery.sheet.model_copy(update={"paper": paper})
    artwork = artwork_of(replace(delivery, sheet=sheet), wish)
    greys = left_out(artwork)
    if greys:
        raise DocumentError(
            f"{', '.join(greys)}: a pen draws no greys. Choose a look made of lines or dots, or "
            "part it in tones."
        )
    with path.open("w", encoding="utf-8") as file:
        file.writelines(_written(artwork, pens_of(artwork, wish.nib), wish.nib, delivery))


def _written(artwork: Artwork, pens: list[Drawn], nib: float, delivery: Delivery) -> Iterator[str]:
    width, height = f"{artwork.width:.3f}", f"{artwork.height:.3f}"
    drawn, travelled = (sum(getattr(pen, name) for pen in pens) for name in ("drawn", "travelled"))
    takes = time_words(sum(pen.seconds for pen in pens))
    yield (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">\n<title>{escape(delivery.sheet.title)}</title>\n'
        f"<desc>{drawn / 1000:.1f} m drawn, {travelled / 1000:.1f} m travelled, about {takes}"
        "</desc>\n"
    )
    for pen in pens:
        yield (
            f'<g id={quoteattr(pen.id)} fill="none" stroke="{hex_of(pen.colour)}" '
            f'stroke-width="{nib:g}" stroke-linecap="round" stroke-linejoin="round">'
            f"<title>{escape(pen.name)}</title>\n"
        )
        for line in pen.lines:
            (x, y), *rest = line.round(3).tolist()
            along = "".join(f"L{x:g} {y:g}" for x, y in rest)
            yield f'<path d="M{x:g} {y:g}{along or "h0"}"/>\n'
        yield "</g>\n"
    yield "</svg>\n"


FORMAT = Format(
    wish=PlotterWish,
    label="Lines for a pen plotter, SVG",
    suffixes=("svg",),
    media_type="image/svg+xml",
    frame=vector_frame,
    write=write,
    group=Group.PRESS,
    way="plotter",
)
