"""SVG for a pen plotter: single lines in order, a group a pen."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import ClassVar, Literal
from xml.sax.saxutils import escape, quoteattr

from pydantic import Field

from flinz.core.deliver.artwork import WHITE, Artwork, Colour, VectorWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.plotting import Drawn, left_out, pens_of, work_words
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.shaping import artwork_of
from flinz.core.stages.ink import hex_of
from flinz.errors import DocumentError


class PlotterWish(VectorWish):
    """What lines are wanted. nib: width of the pen, mm; to_width: whether marks wider than it are
    drawn as wide as they are, or by their middle lines alone.
    """

    is_drawn: ClassVar[bool] = True

    format: Literal["plotter"] = "plotter"
    nib: float = Field(0.4, gt=0.02, le=10.0, allow_inf_nan=False)
    to_width: bool = False


@dataclass(frozen=True, eq=False)
class Plot:
    """What pens draw on a sheet of so many mm; paper: its colour."""

    width: float
    height: float
    paper: Colour
    pens: list[Drawn]
    nib: float

    @property
    def words(self) -> str:
        """What there is to draw, and about how long it takes."""
        drawn, travelled = (
            sum(getattr(pen, name) for pen in self.pens) for name in ("drawn", "travelled")
        )
        return work_words(sum(len(pen.lines) for pen in self.pens), drawn, travelled)


def lines_of(delivery: Delivery, wish: PlotterWish) -> Artwork:
    """What pens are to draw. Raises DocumentError where a plate has greys, which no pen draws."""
    sheet = delivery.sheet.model_copy(update={"paper": delivery.sheet.paper.dry()})
    artwork = artwork_of(replace(delivery, sheet=sheet), wish)
    greys = left_out(artwork)
    if greys:
        raise DocumentError(
            f"{', '.join(greys)}: a pen draws no greys. Choose a look made of lines or dots, or "
            "part it in tones."
        )
    return artwork


def plot_of(artwork: Artwork, wish: PlotterWish) -> Plot:
    """The ways of the pens of a wish."""
    pens = pens_of(artwork, wish.nib, to_width=wish.to_width)
    return Plot(artwork.width, artwork.height, artwork.paper or WHITE, pens, wish.nib)


def write(path: Path, delivery: Delivery, wish: PlotterWish) -> None:
    """Write the lines. Raises DocumentError where a plate has greys."""
    plot = plot_of(lines_of(delivery, wish), wish)
    with path.open("w", encoding="utf-8") as file:
        file.writelines(_written(plot, delivery.sheet.title))


def _written(plot: Plot, title: str) -> Iterator[str]:
    pens, nib = plot.pens, plot.nib
    width, height = f"{plot.width:.3f}", f"{plot.height:.3f}"
    yield (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">\n<title>{escape(title)}</title>\n'
        f"<desc>{plot.words}</desc>\n"
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
