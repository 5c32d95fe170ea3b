"""Inks, papers and cloths by name, and inks that go together: what there is to choose from."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Pot:
    """A colour by name, #rrggbb."""

    name: str
    colour: str


@dataclass(frozen=True)
class Pair:
    """Two colours that work together: what is dark of a drawing, and what is light."""

    name: str
    dark: str
    light: str


INKS = (
    Pot("Lamp black", "#000000"),
    Pot("Warm black", "#2a221d"),
    Pot("Slate", "#4a545c"),
    Pot("Walnut", "#5b3a22"),
    Pot("Brick", "#9c3d24"),
    Pot("Poppy", "#d0321f"),
    Pot("Beetroot", "#8a1f4b"),
    Pot("Foxglove", "#b25a9a"),
    Pot("Damson", "#4a2b62"),
    Pot("Ink blue", "#1d3f73"),
    Pot("Cornflower", "#3f74bd"),
    Pot("Pond", "#1f6f66"),
    Pot("Bottle green", "#1f4a33"),
    Pot("Bean green", "#5d8a2f"),
    Pot("Straw", "#e3c15a"),
    Pot("Marigold", "#eb9a1c"),
    Pot("Squash", "#d9642a"),
    Pot("Shell pink", "#efb9a6"),
    Pot("Chalk", "#ffffff"),
)
PAPERS = (
    Pot("White", "#ffffff"),
    Pot("Natural", "#f6efdf"),
    Pot("Cream", "#f3e3bd"),
    Pot("Sugar paper", "#b9c3c6"),
    Pot("Kraft", "#c9a77a"),
    Pot("Black card", "#1d1b1a"),
)
CLOTHS = (
    Pot("White cloth", "#fafafa"),
    Pot("Ecru cloth", "#efe4cf"),
    Pot("Ash cloth", "#c4c3c0"),
    Pot("Mustard cloth", "#cf9a2c"),
    Pot("Brick cloth", "#9a4330"),
    Pot("Moss cloth", "#5b6a3c"),
    Pot("Sky cloth", "#9cbcd2"),
    Pot("Navy cloth", "#1e2a44"),
    Pot("Charcoal cloth", "#3b3b3d"),
    Pot("Black cloth", "#17171a"),
)
PAIRS = (
    Pair("Damson and straw", "#4a2b62", "#e3c15a"),
    Pair("Ink blue and shell pink", "#1d3f73", "#efb9a6"),
    Pair("Bottle green and cream", "#1f4a33", "#f3e3bd"),
    Pair("Walnut and kraft", "#5b3a22", "#c9a77a"),
    Pair("Brick and sky", "#9c3d24", "#c9dde8"),
    Pair("Beetroot and bean", "#8a1f4b", "#cfe0a8"),
    Pair("Pond and marigold", "#1f6f66", "#f3b552"),
    Pair("Lamp black and poppy", "#000000", "#d0321f"),
    Pair("Slate and chalk", "#4a545c", "#f2f2ee"),
)
