"""A sheet parted in its inks: what each prints, black, and how it is called."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np

from flinz.core.deliver.artwork import WHITE, Artwork, Colour, Greys, Item, Layer, VectorWish
from flinz.core.deliver.format import Wish
from flinz.core.deliver.inking import prints_lights
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.line_screen import LineScreen
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Colouring, hex_of

# Room round the sheet for register marks and names, and half the size of a mark, mm.
MARGIN_MM, MARK_MM = 12.0, 4.0
# What a format does that holds them.
SEPARATIONS = "separations"
UNDER_LAYER = "Under-layer"


@dataclass(frozen=True)
class Separation:
    """One ink: its name and colour, the plates that print in it, and those whose lights do; or
    what is printed beneath all plates: the ids of its layers.
    """

    name: str
    colour: str
    plates: list[Plate] = field(default_factory=list)
    lights_of: list[Plate] = field(default_factory=list)
    beneath: list[str] = field(default_factory=list)

    @property
    def words(self) -> str:
        """Name, colour and rulings."""
        rulings = sorted({said for plate in self.plates if (said := _ruling(plate))})
        return ", ".join([self.name, self.colour, *rulings])

    def strength_of(self, item: Item, layer: Layer) -> float:
        """How much of this ink an item of a layer prints, 0..1."""
        if item.given:
            return layer.opacity * (hex_of(item.colour) == self.colour)
        for plates, strength in ((self.plates, item.strength), (self.lights_of, 1 - item.strength)):
            for plate in plates:
                if plate.id == layer.id:
                    # A picture says how much of each ink it has.
                    return 1.0 if isinstance(item.content, Greys) else strength * plate.ink.hiding
        return float(layer.id in self.beneath)


def separations_of(sheet: Sheet, layers: Iterable[Layer] = ()) -> list[Separation]:
    """What of its layers is printed beneath all plates, the inks of a sheet in the order that they
    are first printed, then colours that shapes of its layers were given. Those in the colour of the
    paper are no ink, but for a plate's own.
    """
    layers = list(layers)
    paper = sheet.paper.colour.lower()
    found: dict[str, Separation] = {}
    for plate in sheet.plates:
        if plate.shown:
            name, own, lights = name_of(plate), plate.ink.colour.lower(), plate.ink.lights.lower()
            if prints_lights(plate.ink) and lights not in (paper, own):
                ink = found.setdefault(lights, Separation(f"{name}, lights", lights))
                ink.lights_of.append(plate)
            found.setdefault(own, Separation(name, own)).plates.append(plate)
    items = [item for layer in layers for item in layer.items]
    given = dict.fromkeys(hex_of(item.colour) for item in items if item.given)
    others = [each for each in given if each not in found and each != paper]
    shapes = [Separation("Shapes", colour) for colour in others]
    return [*_beneath(sheet, layers), *found.values(), *shapes]


def _beneath(sheet: Sheet, layers: list[Layer]) -> list[Separation]:
    """An under-layer and a band round it, which are one ink."""
    plates = {plate.id for plate in sheet.plates}
    own = [layer for layer in layers if layer.id not in plates and not layer.is_bare]
    if not own:
        return []
    ids = [layer.id for layer in own]
    return [Separation(UNDER_LAYER, hex_of(own[0].ink), beneath=ids)]


def said_of_inks(sheet: Sheet, wish: Wish) -> list[str]:
    """The separations of a sheet in words, and what no ink of it holds."""
    under = []
    if isinstance(wish, VectorWish) and wish.wants_silhouette:
        under = [Separation(UNDER_LAYER, wish.under_colour).words]
    mixed = [
        f"{name_of(plate)}: it has colours that no one ink holds, and is black where it prints"
        for plate in sheet.plates
        if plate.shown and plate.ink.colouring != Colouring.SINGLE and not prints_lights(plate.ink)
    ]
    return under + [each.words for each in separations_of(sheet)] + mixed


def _ruling(plate: Plate) -> str:
    if isinstance(plate.draw, DotScreen | LineScreen):
        return f"{plate.draw.ruling:g} to the cm at {plate.draw.angle:g}°"
    return ""


def black_layers(artwork: Artwork, separation: Separation) -> list[Layer]:
    """The layers of an ink, each as black as it is strong; bare where another is laid over it, and
    where a plate takes away what lies beneath.
    """
    lights = {plate.id for plate in separation.lights_of}
    found: list[Layer] = []
    for layer in artwork.layers:
        if layer.is_bare:
            if found:
                bare = [replace(item, colour=WHITE) for item in layer.items]
                found.append(replace(layer, items=bare))
            continue
        strengths = [separation.strength_of(item, layer) for item in layer.items]
        if any(strengths):
            items = [
                _black(item, strength, is_lights=layer.id in lights)
                for item, strength in zip(layer.items, strengths, strict=True)
            ]
            found.append(replace(layer, items=items, blend=Blend.MULTIPLY, opacity=1.0, times=1))
    return found


def _black(item: Item, strength: float, *, is_lights: bool) -> Item:
    if isinstance(item.content, Greys):
        pixels = np.zeros_like(item.content.pixels)
        pixels[..., 3] = item.content.inks[..., int(is_lights)]
        return replace(item, content=Greys(pixels))
    colour: Colour = (1 - strength, 1 - strength, 1 - strength)
    return replace(item, colour=colour)
