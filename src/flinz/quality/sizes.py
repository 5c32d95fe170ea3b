"""Small pictures: an export of any size is a larger one shrunk, and even grounds do not beat."""

import math
from typing import Any

import numpy as np

from flinz.core.document import builtin
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS, look_of
from flinz.core.marks.screens import WHOLE_PX
from flinz.core.planes.filters import averaged, blurred
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press

SIZES, LARGER = (500, 700, 1000, 1500), 3
RULINGS, PROOFS = np.linspace(4, 60, 40), (300, 420, 700, 1000)
SCREENS: dict[str, dict[str, Any]] = {
    "line-screen": {},
    "dot-screen": {},
    "dot-screen, diamond": {"dot": "diamond"},
}
EVEN = 128


def as_recipe(photo: Photo, recipe: str) -> Sheet:
    """A sheet of a built-in recipe on a photo."""
    return fitting.fitted(Press(), photo, builtin.named(recipe).on(photo.key, recipe))


def small_and_shrunk(photo: Photo, sheet: Sheet, edge_px: int) -> tuple[Any, Any]:
    """An export of a size, and one LARGER times as large that is averaged down."""
    press = Press()
    small = press.proof(photo, sheet, whole(sheet, photo, edge_px))
    large = press.proof(photo, sheet, whole(sheet, photo, LARGER * edge_px))
    return small, averaged(large, small.shape[1], small.shape[0])


def are_marks_drawn(sheet: Sheet, photo: Photo, edge_px: int) -> bool:
    """Whether the marks of all plates stand far enough apart to be more than a tone."""
    frame = whole(sheet, photo, edge_px)
    drawn = (look_of(plate.draw) for plate in sheet.plates)
    pitches = [
        look.pitch(plate.draw) if look.pitch else math.inf
        for look, plate in zip(drawn, sheet.plates, strict=True)
    ]
    return frame.px(min(pitches)) >= WHOLE_PX


def beating(screen: str) -> float:
    """Largest departure from an even tone, over a spot, of proofs of many rulings and sizes."""
    photo = Photo(np.full((300, 400, 3), EVEN, np.uint8), "even")
    model: Any = LOOKS[screen.partition(",")[0]].settings
    worst = 0.0
    for ruling in RULINGS:
        sheet = Sheet(plates=[Plate(draw=model(ruling=float(ruling), **SCREENS[screen]))])
        for edge in PROOFS:
            frame = whole(sheet, photo, edge)
            sigma = max(3.0, frame.px(15 / ruling))
            rim = math.ceil(2.5 * sigma)
            spot = blurred(Press(0).proof(photo, sheet, frame), sigma)[rim:-rim, rim:-rim]
            worst = max(worst, float(np.abs(spot - EVEN / 255).max()))
    return worst
