"""Six sheets put together: grounds, borders, words, strewn marks, a worn copier, a second photo."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Brush, Stroke
from flinz.demo.handmade import WALL, Handmade

FITTED = ["tone.black", "tone.white", "tone.middle"]
PLAIN = {"look": "undrawn"}
CUT_OUT = {"part": "subject"}
# A line drawn by hand across the packet, mm.
TWIG = ((8, 88), (20, 85.5), (32, 88.5), (46, 86), (60, 88.5), (72, 85.5))
# What bares the paper and prints nothing there.
BARE = {"opacity": 0.0}


def _block(**dials: Any) -> dict[str, Any]:
    position = dials.pop("position", {})
    return {"kind": "block", "block": dials, "position": position}


def _words(words: str, x: float, y: float, **dials: Any) -> dict[str, Any]:
    position = {"x": x, "y": y, "turn": dials.pop("turn", 0.0)}
    return {"kind": "lettering", "lettering": {"words": words, **dials}, "position": position}


def _lines(**dials: Any) -> dict[str, Any]:
    position = dials.pop("position", {})
    return {"kind": "lines", "lines": dials, "position": position}


def _sheet(title: str, paper: dict[str, Any], picture: dict[str, Any], *plates: Any) -> Sheet:
    numbered = [{"id": f"plate-{k}", **plate} for k, plate in enumerate(plates, start=1)]
    return parsed(Sheet, {"title": title, "paper": paper, "picture": picture, "plates": numbered})


def _on_paper(long_edge: float, *places: tuple[float, float], **brush: Any) -> Stroke:
    """A stroke on paper of that long edge; places and the brush's width in mm."""
    points = np.array([[x / long_edge, y / long_edge, 1.0] for x, y in places])
    said = {"size": 1.0, **brush}
    said["size"] = said["size"] / long_edge
    return Stroke(Brush.model_validate(said), points)


def _own(width: float, height: float, colour: str, **more: Any) -> dict[str, Any]:
    return {"size": "own", "width": width, "height": height, "colour": colour, **more}


PEARS = Handmade(
    "pears.jpg",
    _sheet(
        "Two pears, ground and border",
        _own(200, 200, "#f6efdf", margin=10),
        {"cutout": {"hair": 0.6}, "position": {"x": 98, "y": 100, "width": 236}},
        {
            "name": "ground",
            "source": _block(figure="ellipse", width=172, height=172),
            "draw": {"look": "loose-hatch", "line_gap": 1.1},
            "ink": {"colour": "#c9822f", "opacity": 0.9},
        },
        {
            "name": "white border",
            "source": _block(figure="cutout", grow=4.0),
            "draw": PLAIN,
            "photo": {"covers": True},
            "ink": BARE,
        },
        {
            "name": "flat tones",
            "photo": CUT_OUT,
            "draw": {"look": "flat-tones", "steps": 4, "smoothing": 1.2, "crumbs": 8},
            "ink": {
                "colouring": "two-colour",
                "blend": "normal",
                "between": 2,
                "lights": "#f3e6a8",
                "mid_1": "#d9cb62",
                "mid_2": "#98a345",
                "colour": "#4f6b3a",
            },
            "fitted": FITTED,
        },
        {
            "name": "sketch",
            "photo": CUT_OUT,
            "draw": {"look": "pencil"},
            "ink": {"colour": "#1d1b16"},
            "fitted": FITTED,
        },
    ),
)

FAIR = Handmade(
    "scarecrow.jpg",
    _sheet(
        "Harvest fair, through one copier",
        _own(297, 420, "#f4efe2", margin=16),
        {"cutout": {"hair": 2.0}, "position": {"x": 148, "y": 205, "width": 300}},
        {
            "name": "Old Barnaby",
            "photo": CUT_OUT,
            "tone": {"shadows": 0.3, "local": 0.3},
            "draw": {"look": "photocopy", "grain_size": 0.6, "dirt": 0.0},
            "fitted": FITTED,
        },
        {
            "name": "headline",
            "source": _words("HARVEST", 148, 58, face="condensed", size=62),
            "draw": {"look": "photocopy", "dirt": 0.0, "grain_size": 0.6},
        },
        {
            "name": "when",
            "source": _words("Saturday, from ten", 148, 398, face="typewriter", size=12),
            "draw": {"look": "photocopy", "dirt": 0.0, "grain_size": 0.5},
        },
        {
            "name": "where",
            "source": _words(
                "Quillmere\nAllotments", 148, 355, face="wood-type", size=17, line=1.15
            ),
            "draw": {"look": "photocopy", "dirt": 0.0, "grain_size": 0.6},
        },
        {
            "name": "what it missed",
            "source": {
                "kind": "copier",
                "wear": {
                    "missed": 4,
                    "missed_width": 1.1,
                    "streaks": 0.35,
                    "dust": 0,
                    "corners": 34,
                    "edges": 3,
                },
            },
            "draw": PLAIN,
            "photo": {"covers": True},
            "ink": BARE,
        },
        {
            "name": "dirt",
            "source": {"kind": "copier", "wear": {"missed": 0, "dust": 0.5, "seed": 7}},
            "draw": PLAIN,
        },
    ),
    cutout=WALL.cutout,
    # Rubbed away over the eyes: they stay whole.
    hand={
        ("plate-6", "ink"): [
            _on_paper(420, (60, 60), (240, 60), verb="hide", size=70.0, hardness=0.2)
        ]
    },
)

CHALK = Handmade(
    "pears.jpg",
    _sheet(
        "Seed table, on the board",
        _own(297, 210, "#33413b", margin=12, texture="chalkboard", tooth=0.35, printed=True),
        {"cutout": {"hair": 0.8}, "position": {"x": 216, "y": 106, "width": 156}},
        {
            "name": "border",
            "source": _block(figure="border", inset=9, thickness=1.6, corner=8),
            "draw": {"look": "loose-hatch", "line_gap": 0.8},
            "ink": {"colour": "#efe9d8", "blend": "normal", "opacity": 0.9},
        },
        {
            "name": "words",
            "source": _words("SEED\nSWAP", 88, 82, face="grotesque-bold", size=31, line=1.12),
            "draw": {"look": "loose-hatch", "line_gap": 0.75},
            "ink": {"colour": "#f6f1e2", "blend": "normal", "opacity": 0.95},
        },
        {
            "name": "smaller",
            "source": _words("beans for beets, Sunday", 100, 164, face="chalk", size=9),
            "draw": PLAIN,
            "ink": {"colour": "#efd27a", "blend": "normal"},
        },
        {
            "name": "underline",
            "source": _lines(
                along="wave",
                wide=150,
                high=5,
                waves=5,
                nib="chalk",
                width=2.6,
                position={"x": 100, "y": 182},
            ),
            "draw": PLAIN,
            "ink": {"colour": "#efd27a", "blend": "normal"},
        },
        {
            "name": "pears",
            "photo": CUT_OUT,
            "tone": {"invert": True},
            "draw": {"look": "contour-hatch"},
            "ink": {"colour": "#f6f1e2", "blend": "normal", "opacity": 0.95},
        },
    ),
)

PACKET = Handmade(
    "sunflower.jpg",
    _sheet(
        "Sunflower packet, with leaves",
        _own(80, 115, "#f5eedc", margin=4),
        {"position": {"x": 40, "y": 58, "width": 66}},
        {
            "name": "border",
            "source": _block(figure="border", inset=3, thickness=0.5, lines=2, gap=0.7, corner=4),
            "draw": PLAIN,
            "ink": {"colour": "#1f4a2c"},
        },
        {
            "name": "wreath",
            "source": _lines(
                along="arc",
                wide=62,
                high=11,
                nib="marks",
                mark="leaf",
                size=5.2,
                spacing=3.6,
                sides=True,
                lean=38,
                vary_size=0.25,
                position={"x": 40, "y": 22.5},
            ),
            "draw": PLAIN,
            "ink": {"colour": "#2f6b3a"},
        },
        {
            "name": "twig by hand",
            "source": _lines(
                nib="marks", mark="sprig", size=6.4, spacing=5, smooth=1.5, vary_turn=0.12
            ),
            "draw": PLAIN,
            "ink": {"colour": "#2f6b3a"},
        },
        {
            "name": "flower",
            "draw": {"look": "stipple", "dot": 0.26, "edges": 0.85},
            "ink": {"colour": "#1f2a1c"},
            "fitted": FITTED,
        },
        {
            "name": "its frame",
            "source": _lines(
                along="rectangle", wide=66, high=49.5, width=0.6, position={"x": 40, "y": 58}
            ),
            "draw": PLAIN,
            "ink": {"colour": "#1f4a2c"},
        },
        {
            "name": "title",
            "source": _words("SUNFLOWER", 40, 96.5, face="slab", size=5.6, tracking=0.06),
            "draw": PLAIN,
            "ink": {"colour": "#8a2f1e"},
        },
        {
            "name": "small print",
            "source": _words(
                "tallest of plot two, sow in May", 40, 104, face="old-style", size=2.2
            ),
            "draw": PLAIN,
            "ink": {"colour": "#1f2a1c"},
        },
        {
            "name": "society",
            "source": _words(
                "QUILLMERE ALLOTMENTS", 40, 13.5, face="grotesque-bold", size=2.6, arc=58
            ),
            "draw": PLAIN,
            "ink": {"colour": "#1f4a2c"},
        },
    ),
    hand={
        ("plate-3", "lines"): [
            _on_paper(
                115, (8, 88), (20, 85.5), (32, 88.5), (46, 86), (60, 88.5), (72, 85.5), verb="draw"
            ),
        ]
    },
)

HALF_SUN = Handmade(
    "sunflower.jpg",
    _sheet(
        "Half a sunflower on rough paper",
        {
            "size": "as-picture",
            "long_edge": 240,
            "colour": "#f3ead6",
            "texture": "rough",
            "light_from": 81,
            "tooth": 0.25,
            "printed": True,
        },
        {},
        {
            "name": "photo",
            "draw": {"look": "undrawn", "ink": "full"},
            "ink": {
                "colouring": "photo",
                "fade": "straight",
                "fade_x": 0.42,
                "fade_y": 0.5,
                "gone_x": 0.62,
                "gone_y": 0.5,
            },
        },
        {
            "name": "line",
            "draw": {"look": "ink-line", "nib": 0.45},
            "ink": {"colour": "#1d1b16"},
            "fitted": [*FITTED, "draw.detail", "draw.shortest"],
        },
    ),
)

UNDER = Handmade(
    "watering-can.jpg",
    _sheet(
        "The can, squashes beneath",
        {"size": "as-picture", "long_edge": 200, "colour": "#f6efdf"},
        {},
        {
            "name": "squashes",
            "source": {"kind": "photo", "picture": {"photo": "squashes.jpg"}},
            "draw": {"look": "dot-screen", "ruling": 9, "angle": 20},
            "ink": {"colour": "#dd8a2c"},
            "fitted": FITTED,
        },
        {
            "name": "can",
            "photo": {"part": "subject", "covers": True},
            "draw": {"look": "crosshatch"},
            "ink": {"colour": "#1c2b35"},
            "fitted": FITTED,
        },
    ),
)

# By file of the photo that they are begun with; other photos in them are named by their files.
ALL = (PEARS, FAIR, CHALK, PACKET, HALF_SUN, UNDER)


def with_photos(sheet: Sheet, ids: Mapping[str, str]) -> Sheet:
    """A sheet whose further photos are named by their ids, not by their files."""
    plates = []
    for plate in sheet.plates:
        picture = getattr(plate.source, "picture", None)
        if picture is not None:
            named = picture.model_copy(update={"photo": ids[picture.photo]})
            source = plate.source.model_copy(update={"picture": named})
            plate = plate.model_copy(update={"source": source})
        plates.append(plate)
    return sheet.model_copy(update={"plates": plates})
