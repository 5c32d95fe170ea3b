"""The colour that an eye sees at a place: of a photo, or of the finished sheet."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import WHOLE_SHEET, Subject
from flinz.core.scale import region_frame
from flinz.core.stages.grey import decoded, encoded

# Looked at in a picture of this size, over so many pixels: a grain of noise is no colour.
LONG_EDGE_PX, REACH_PX = 1000, 3


def colour_at(
    press: Press, photo: Photo, sheet: Sheet, x: float, y: float, of: Literal["photo", "sheet"]
) -> NDArray[np.float32]:
    """The colour at shares x, y of a sheet, (3,) float32 0..1, sRGB-encoded; averaged as light."""
    frame = whole(sheet, photo, LONG_EDGE_PX)
    wide, high = REACH_PX / frame.full_width, REACH_PX / frame.full_height
    near = (max(0.0, x - wide), max(0.0, y - high), min(1.0, x + wide), min(1.0, y + high))
    subject = Subject("photo") if of == "photo" else WHOLE_SHEET
    seen = press.proof(photo, sheet, region_frame(frame, near), subject)
    if seen.ndim == 2:
        seen = np.repeat(seen[..., None], 3, -1)
    return np.asarray(encoded(decoded(seen.astype(np.float64)).mean((0, 1))), np.float32)
