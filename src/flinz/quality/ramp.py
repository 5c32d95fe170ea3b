"""Tone on a grey ramp: what a look leaves of it, as it starts and with dials turned."""

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.filters import blurred
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press

# Dials that shape marks and shall leave the tone alone, turned far from where they start.
TURNED: dict[str, tuple[dict[str, Any], ...]] = {
    "crosshatch": (
        {"spacing": 0.4},
        {"wobble": 2.0},
        {"wobble": 1.2, "spacing": 2.0},
        {"turn": 20},
        {"taper": 5.0},
    ),
    "contour-hatch": ({"length": 2.0}, {"taper": 0.0}, {"layers": 2}),
    "dot-screen": ({"dot": "diamond"}, {"dot": "picture"}, {"angle": 0.0}),
    "line-screen": ({"lines": "crossed"}, {"lines": "concentric"}),
    "stipple": (
        *({"mark": mark} for mark in ("dash", "ring", "square", "leaf", "diamond")),
        {"pen_wear": 1.0},
        {"dot": 0.35},
        {"dot": 1.5},
        {"smallest": 0.2},
        {"evenness": 0.0},
        {"evenness": 0.3},
        {"evenness": 1.0},
    ),
}
PX, RIM = 2400, 80


def cases() -> Iterator[tuple[str, dict[str, Any]]]:
    """Every look that keeps an even tone, as it starts and with each of its TURNED."""
    for name, look in LOOKS.items():
        if look.pitch is not None and look.tone_error is not None:
            yield name, {}
            yield from ((name, turned) for turned in TURNED.get(name, ()))


def tone_error(name: str, turned: Mapping[str, Any]) -> float:
    """Mean difference of drawing and wished tone over a spot, on a ramp of 0.1 to 0.9.

    turned: dials that do not stand as they start. A spot is a Gaussian of 1.5 times the pitch.
    """
    row = np.round(np.linspace(0.1, 0.9, 1200) * 65535).astype(np.uint16)
    photo = Photo(np.repeat(np.tile(row, (400, 1))[..., None], 3, 2), "ramp")
    look = LOOKS[name]
    plain = {"lightest": 1.0, "darkest": 0.0, "edges": 0.0}
    dials = {key: value for key, value in plain.items() if key in look.settings.model_fields}
    draw = look.settings(**dials, **turned)
    sheet = Sheet(plates=[Plate(draw=draw)])
    frame = whole(sheet, photo, PX)
    drawn = Press().proof(photo, sheet, frame, exact=True)
    wished = np.tile(np.linspace(0.1, 0.9, frame.width, dtype=np.float32), (frame.height, 1))
    sigma = frame.px(1.5 * look.pitch(draw)) if look.pitch else 0.0
    inner = slice(RIM, -RIM), slice(RIM, -RIM)
    return float(np.abs(blurred(drawn, sigma) - blurred(wished, sigma))[inner].mean())
