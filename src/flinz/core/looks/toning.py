"""The ink a mark look wishes for a tone: between its lightest and its darkest."""

import numpy as np

from flinz.core.dial import Dial
from flinz.core.filters import Plane
from flinz.core.looks.look import LookSettings


class ToneWindow(LookSettings):
    """Base of looks that carry tone by marks."""

    lightest: float = Dial(
        1.0,
        ge=0.05,
        le=1.0,
        low=0.4,
        step=0.01,
        label="Lightest",
        hint="Tones above it stay bare paper",
    )
    darkest: float = Dial(
        0.0,
        ge=0.0,
        le=0.95,
        high=0.6,
        step=0.01,
        label="Darkest",
        hint="Tones below it are full ink",
    )


def wished_cover(tone: Plane, window: ToneWindow) -> Plane:
    """Ink 0..1 for a tone: 1 - tone when the window is all of it."""
    lightest = max(window.lightest, window.darkest + 0.01)
    cover = (np.float32(lightest) - tone) * np.float32(1 / (lightest - window.darkest))
    return np.asarray(np.clip(cover, 0, 1), np.float32)
