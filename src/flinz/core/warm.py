"""Compiles, or loads from the cache, everything that is compiled at first use."""

import numpy as np

from flinz.core.document import Plate, Sheet
from flinz.core.looks import LOOKS
from flinz.core.photo import Photo
from flinz.core.press import Press, whole
from flinz.core.stages.clean import Clean
from flinz.core.stages.smooth import AlongForm, EdgeKeeping
from flinz.core.stages.tone import Tone


def warm_up() -> None:
    """Draw a tiny picture with every look and kernel there is."""
    shade = np.linspace(0, 255, 48 * 64, dtype=np.uint8).reshape(48, 64)
    pixels = np.stack([shade, shade.T.reshape(48, 64), shade[::-1]], -1)
    photo = Photo(np.ascontiguousarray(pixels), "warm-up")
    for look in LOOKS.values():
        settings = look.settings()
        variants = [settings]
        if "edge" in look.settings.model_fields:
            variants.append(settings.model_copy(update={"edge": 1.0}))
        if look.name == "dot-screen":
            variants.append(look.settings.model_validate({"dot": "diamond"}))
        for draw in variants:
            plate = Plate(draw=draw, smooth=EdgeKeeping(), clean=Clean(smooth=0.5, specks=0.1))
            sheet = Sheet(plates=[plate])
            Press(0).proof(photo, sheet, whole(sheet, photo))
    plate = Plate(tone=Tone(reds=0.2, shadows=0.2), smooth=AlongForm())
    sheet = Sheet(plates=[plate])
    for edge in (None, 40):
        Press(0).proof(photo, sheet, whole(sheet, photo, edge))
