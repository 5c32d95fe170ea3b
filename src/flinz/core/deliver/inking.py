"""How much of each of its inks a plate lays on the sheet."""

from dataclasses import replace

import numpy as np

from flinz.core.planes.filters import Plane
from flinz.core.press.impressions import Impression, left_by_all
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Colouring, Ink


def prints_lights(ink: Ink) -> bool:
    """Whether the lights of a plate are an ink of their own, and not mixed through others."""
    return ink.colouring == Colouring.TWO_COLOUR and len(ink.by_tone) == 2


def inked_share(impression: Impression) -> Plane:
    """How much of its ink an impression lays, (H, W) float32 0..1, as strong as it prints."""
    alone = {"colouring": Colouring.SINGLE, "colour": "#000000", "blend": Blend.MULTIPLY}
    inked = replace(impression, ink=impression.ink.model_copy(update=alone))
    return np.asarray(1 - left_by_all([inked], 2), np.float32)


def lights_share(impression: Impression) -> Plane:
    """As inked_share, of the ink of its lights, which lies where its ink may print and does not."""
    return inked_share(replace(impression, cover=1 - impression.cover))
