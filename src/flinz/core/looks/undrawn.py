"""Undrawn: the tone as it is, or full ink, for the photograph under, over or beside a drawing."""

from enum import StrEnum
from typing import Literal

import numpy as np

from flinz.core.dial import Choice
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame


class Laid(StrEnum):
    """How much ink a tone takes."""

    TONE = "tone"
    FULL = "full"


class Undrawn(LookSettings):
    """The tone passes as it is."""

    look: Literal["undrawn"] = "undrawn"
    ink: Laid = Choice(
        Laid.TONE,
        label="Ink",
        hint="How much of it is laid",
        options={
            Laid.TONE: ("By tone", "As dark as the photo, in this plate's ink"),
            Laid.FULL: (
                "All over",
                "Full everywhere: with the photo's colours at Ink, the photo itself",
            ),
        },
    )


def draw(tone: Plane, settings: Undrawn, frame: Frame, desk: Desk) -> Plane:
    """Ink 0..1: what the tone lacks of white, or all there can be."""
    if settings.ink == Laid.FULL:
        return np.ones_like(tone)
    return np.asarray(1 - tone, np.float32)


LOOK = Look(
    settings=Undrawn,
    label="Undrawn",
    purpose="The photograph itself, under lines, over them, or fading into them",
    draw=draw,
    reach_mm=lambda settings: 0.0,
    gaussians=2,
    suits=Suits(parted=(0.5, 0.1), fine=(0.6, 0.1), led=(0.5, 0.1), spread=(1.0, 0.3)),
)
