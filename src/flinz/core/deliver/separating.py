"""A sheet parted in its inks: what each prints, black, and how it is called."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Colour, Greys, Item, Layer
from flinz.core.deliver.covering import WHITE
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.line_screen import LineScreen
from flinz.core.press.impressions import Impression, left_by_all
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Colouring, hex_of

# Room round the sheet for register marks and names, and half the size of a mark, mm.
MARGIN_MM, MARK_MM = 12.0, 4.0


@dataclass(frozen=True)
class Separation:
    """One ink: its name and colour, the plates that print in it, what is said of it."""

    name: str
    colour: str
    plates: list[Plate]

    @property
    def words(self) -> str:
        """Name, colour and rulings."""
        rulings = sorted({said for plate in self.plates if (said := _ruling(plate))})
        return ", ".join([self.name, self.colour, *rulings])


def separations_of(sheet: Sheet, layers: Iterable[Layer] = ()) -> list[Separation]:
    """The inks of a sheet in the order that they are first printed, then colours that shapes of
    its layers were given. Those in the colour of the paper are no ink.
    """
    found: dict[str, list[Plate]] = {}
    for plate in sheet.plates:
        if plate.shown:
            found.setdefault(plate.ink.colour.lower(), []).append(plate)
    inks = [Separation(name_of(plates[0]), colour, plates) for colour, plates in found.items()]
    items = [item for layer in layers for item in layer.items]
    given = dict.fromkeys(hex_of(item.colour) for item in items if item.given)
    others = [each for each in given if each not in found and each != sheet.paper.colour.lower()]
    return inks + [Separation("Shapes", colour, []) for colour in others]


def _ruling(plate: Plate) -> str:
    if isinstance(plate.draw, DotScreen | LineScreen):
        return f"{plate.draw.ruling:g} to the cm at {plate.draw.angle:g}°"
    return ""


def black_layers(artwork: Artwork, separation: Separation) -> list[Layer]:
    """The layers of an ink, each as black as it is strong; bare where another is laid over it, and
    where a plate takes away what lies beneath.
    """
    ids = {plate.id for plate in separation.plates}
    found: list[Layer] = []
    for layer in artwork.layers:
        if layer.is_bare:
            if found:
                bare = [replace(item, colour=WHITE) for item in layer.items]
                found.append(replace(layer, items=bare))
            continue
        is_own = layer.id in ids
        items = [
            _black(item, float(is_of(item, separation, is_own)))
            for item in layer.items
            if is_own or is_of(item, separation, is_own)
        ]
        if items:
            found.append(replace(layer, items=items))
    return found


def is_of(item: Item, separation: Separation, is_own: bool) -> bool:
    """Whether an item prints in an ink. is_own: whether its plate does."""
    return hex_of(item.colour) == separation.colour if item.given else is_own


def _black(item: Item, share: float) -> Item:
    if isinstance(item.content, Greys):
        pixels = item.content.pixels.copy()
        pixels[..., :3] = 0
        return replace(item, content=Greys(pixels))
    value = 1 - item.strength * share
    colour: Colour = (value, value, value)
    return replace(item, colour=colour)


def inked_share(impression: Impression) -> NDArray[np.float32]:
    """How much ink an impression lays, (H, W) float32 0..1, as strong as it prints."""
    if impression.ink.colouring != Colouring.SINGLE:
        return impression.share
    black = {"colour": "#000000", "blend": Blend.MULTIPLY}
    inked = replace(impression, ink=impression.ink.model_copy(update=black))
    return np.asarray(1 - left_by_all([inked], 2), np.float32)
