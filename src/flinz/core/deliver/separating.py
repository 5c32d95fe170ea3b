"""A sheet parted in its inks: what each prints, black, and how it is called."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Colour, Greys, Item, Layer
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.line_screen import LineScreen
from flinz.core.press.impressions import Impression
from flinz.core.stages.ink import Colouring

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


def separations_of(sheet: Sheet) -> list[Separation]:
    """The inks of a sheet in the order that they are first printed."""
    found: dict[str, list[Plate]] = {}
    for plate in sheet.plates:
        if plate.shown:
            found.setdefault(plate.ink.colour.lower(), []).append(plate)
    return [Separation(name_of(plates[0]), colour, plates) for colour, plates in found.items()]


def _ruling(plate: Plate) -> str:
    if isinstance(plate.draw, DotScreen | LineScreen):
        return f"{plate.draw.ruling:g} to the cm at {plate.draw.angle:g}°"
    return ""


def black_layers(artwork: Artwork, separation: Separation) -> list[Layer]:
    """The layers of an ink, each as black as it is strong."""
    ids = {plate.id for plate in separation.plates}
    return [
        replace(layer, items=[_black(item) for item in layer.items])
        for layer in artwork.layers
        if layer.id in ids
    ]


def _black(item: Item) -> Item:
    if isinstance(item.content, Greys):
        pixels = item.content.pixels.copy()
        pixels[..., :3] = 0
        return replace(item, content=Greys(pixels))
    value = 1 - item.strength
    colour: Colour = (value, value, value)
    return replace(item, colour=colour)


def inked_share(impression: Impression) -> NDArray[np.float32]:
    """How much ink an impression lays, (H, W) float32 0..1, as strong as it prints."""
    share = impression.share
    if impression.ink.colouring != Colouring.SINGLE:
        return share
    left = np.float32(1) - share * np.float32(impression.ink.opacity)
    return np.asarray(1 - left ** round(impression.ink.times), np.float32)
