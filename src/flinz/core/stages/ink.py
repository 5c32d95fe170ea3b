"""Ink: lays a plate's coverage on the sheet in its colour."""

import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Colour, Dial, Settings
from flinz.core.filters import Plane


class Ink(Settings):
    """One colour of ink."""

    colour: str = Colour("#000000", label="Ink", hint="The colour this plate prints in")
    opacity: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Opacity",
        hint="How much it hides what lies beneath",
    )


def rgb_of(colour: str) -> NDArray[np.float32]:
    """(3,) float32 0..1 of #rrggbb."""
    values = [int(colour[k : k + 2], 16) for k in (1, 3, 5)]
    return np.array(values, np.float32) / np.float32(255)


def printed(under: NDArray[np.float32], cover: Plane, settings: Ink) -> NDArray[np.float32]:
    """Multiply a plate onto what is printed so far.

    under: (H, W, 3) float32 0..1, sRGB-encoded; cover: (H, W) ink 0..1. Returns (H, W, 3).
    The blend mode multiply of W3C Compositing and Blending Level 1, in encoded values.
    """
    lost = (1 - rgb_of(settings.colour)) * np.float32(settings.opacity)
    return np.asarray(under * (1 - cover[..., None] * lost), np.float32)


def printed_grey(under: Plane, cover: Plane, settings: Ink) -> Plane:
    """printed() where ink and paper are neutral: (H, W) instead of (H, W, 3)."""
    lost = (np.float32(1) - rgb_of(settings.colour)[0]) * np.float32(settings.opacity)
    return np.asarray(under * (1 - cover * lost), np.float32)
