"""Dot screen: a halftone of round, elliptical or diamond dots."""

import functools
from enum import StrEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Choice, Dial
from flinz.core.filters import Plane
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.scale import Frame
from flinz.core.screens import dot_cover, spot_levels


class Dot(StrEnum):
    """The shape of a dot."""

    ROUND = "round"
    ELLIPTICAL = "elliptical"
    DIAMOND = "diamond"


class DotScreen(ToneWindow):
    """Dots at a ruling and an angle."""

    look: Literal["dot-screen"] = "dot-screen"
    dot: Dot = Choice(Dot.ROUND, label="Dot", hint="Shape of the dots")
    ruling: float = Dial(
        12.0,
        ge=1.0,
        le=80.0,
        low=2.0,
        high=40.0,
        step=0.5,
        unit="/cm",
        label="Ruling",
        hint="Dots to a centimetre",
    )
    angle: float = Dial(
        45.0,
        ge=-180.0,
        le=180.0,
        low=0.0,
        high=90.0,
        step=1.0,
        unit="°",
        label="Angle",
        hint="Direction of the rows",
    )


def draw(tone: Plane, settings: DotScreen, frame: Frame, desk: Desk) -> Plane:
    """Dots as ink 0..1; the spot function's levels are calibrated to the share of ink."""
    kind = list(Dot).index(settings.dot)
    cover = wished_cover(tone, settings)
    return dot_cover(cover, frame, settings.angle, settings.ruling / 10, kind, _levels(kind))


@functools.cache
def _levels(kind: int) -> NDArray[np.float32]:
    return spot_levels(kind)


LOOK = Look(
    settings=DotScreen,
    label="Dot screen",
    purpose="A halftone of dots at a ruling and an angle",
    draw=draw,
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
)
