"""Plates to begin with, from each kind of source."""

from flinz.core.document.plate import Plate
from flinz.core.document.source import (
    Beneath,
    FromBlock,
    FromLettering,
    FromLines,
    FromPhoto,
    FromSheet,
    FromWear,
)
from flinz.core.ground.lines import Lines
from flinz.core.looks.line_screen import LineScreen
from flinz.core.looks.pencil import Pencil
from flinz.core.looks.undrawn import Laid, Undrawn
from flinz.core.stages.ink import Colouring, Ink
from flinz.core.stages.part import Part


def beginnings() -> dict[str, Plate]:
    """A plate of each kind of source but the sheet's own photo, by that kind.

    What is made prints as plain ink until a look is chosen. What a copier misses shows bare paper.
    """
    plain = {"draw": Undrawn()}
    bare = {"photo": Part(covers=True), "ink": Ink(opacity=0.0)}
    pen = Lines(smooth=1.5)
    return {
        "lettering": Plate(name="Words", source=FromLettering(), **plain),
        "block": Plate(name="Figure", source=FromBlock(), **plain),
        "lines": Plate(name="Lines", source=FromLines(lines=pen), **plain),
        "photo": Plate(name="Second photo", source=FromPhoto(), draw=Pencil()),
        "sheet": Plate(
            name="Another sheet",
            # Empty until one is chosen: what it is drawn from comes with it.
            source=FromSheet(),
            draw=Undrawn(ink=Laid.FULL),
            ink=Ink(colouring=Colouring.PHOTO),
        ),
        "beneath": Plate(name="Over all", source=Beneath(), draw=LineScreen()),
        "copier": Plate(name="Copier", source=FromWear(), **plain, **bare),
    }
