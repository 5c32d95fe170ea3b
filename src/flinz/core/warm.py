"""Compiles, or loads from the cache, everything that is compiled at first use."""

from functools import partial

import numpy as np

from flinz.core import joining
from flinz.core.document import Plate, Sheet
from flinz.core.framing import whole
from flinz.core.looks import LOOKS
from flinz.core.looks.threshold import Threshold
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.core.run import Stop, never
from flinz.core.scale import region_frame, whole_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.smooth import AlongForm, EdgeKeeping
from flinz.core.stages.tone import Tone

DRAFTS_PX = (150, 300, 600)
WHOLE, PART = (0.0, 0.0, 1.0, 1.0), (0.4, 0.4, 0.6, 0.6)


def warm_up(stop: Stop = never) -> None:
    """Draw a tiny picture with every look and kernel there is. Raises Stopped on stop()."""
    draw = partial(Press().proof, stop=stop)
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
        for variant in variants:
            plate = Plate(draw=variant, smooth=EdgeKeeping(), clean=Clean(smooth=0.5, specks=0.1))
            sheet = Sheet(plates=[plate])
            draw(photo, sheet, whole(sheet, photo))
    # A photo comes with 8 or 16 bits, whole or in part, as it is, smaller or larger.
    toned = Plate(draw=Threshold(), tone=Tone(reds=0.2, shadows=0.2, contrast=0.2))
    sheet = Sheet(plates=[toned])
    for each in (photo, Photo(pixels.astype(np.uint16) * 257, "warm-up at 16 bits")):
        for edge in (None, 40, 80):
            frame = whole(sheet, each, edge)
            for region in (WHOLE, PART):
                draw(each, sheet, region_frame(frame, region), exact=True)
    sheet = Sheet(plates=[Plate(smooth=AlongForm())])
    draw(photo, sheet, whole(sheet, photo))
    # A pencil's strokes are smeared beforehand, once for each octave of the scales of drafts.
    sheet = Sheet(plates=[Plate(draw=LOOKS["pencil"].settings())])
    for edge in DRAFTS_PX:
        draw(photo, sheet, whole(sheet, photo, edge), exact=True, draft=True)
    # A line with a gap, which the picture above does not lead to.
    broken = np.zeros((48, 64), np.float32)
    broken[20:24, 8:28] = broken[20:24, 31:56] = 1
    joining.joints(broken, whole_frame(16.0, 64, 48), 1.0)
