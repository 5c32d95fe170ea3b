"""Woodcut: a field of wavy lines cut by tone, bending over the forms."""

from typing import Literal

import numpy as np

from flinz.core.dial import Angle, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import EDGE_REACH_MM, HatchWindow, hatched_cover
from flinz.core.marks.screens import line_cover, positions
from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.grain import paper_grain
from flinz.core.scale import Frame

WAVE_SEED = 31
WAVE_MM = 14.0
FORM_MM = 3.0


class Woodcut(HatchWindow):
    """Gouge lines, thick in the dark and thin in the light."""

    look: Literal["woodcut"] = "woodcut"
    scale: float = Dial(
        1.1,
        ge=0.2,
        le=10.0,
        low=0.4,
        high=4.0,
        step=0.05,
        unit="mm",
        label="Pattern scale",
        hint="From one line to the next",
    )
    angle: float = Angle(20.0, hint="Direction of the lines")
    wobble: float = Dial(
        1.2,
        ge=0.0,
        le=10.0,
        high=5.0,
        step=0.1,
        unit="mm",
        label="Wobble",
        hint="How far lines wander from straight",
    )
    relief: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Relief",
        hint="How much lines bend over the forms",
    )


def draw(tone: Plane, settings: Woodcut, frame: Frame, desk: Desk) -> Plane:
    """Lines as ink 0..1: a line screen whose phase wanders and follows the broad tone."""
    _, across = positions(frame, settings.angle)
    wave = desk.keep("wave", None, lambda: paper_grain(frame, WAVE_MM, WAVE_SEED))
    form = desk.keep("form", None, lambda: blurred(tone, frame.px(FORM_MM)))
    bent = across + np.float32(settings.wobble) * (wave - np.float32(0.5))
    bent = bent + np.float32(6 * settings.relief * settings.scale) * (form - np.float32(0.5))
    cover = hatched_cover(tone, settings, frame, desk)
    phase = np.asarray(bent / np.float32(settings.scale), np.float32)
    return line_cover(cover, phase, frame.finer)


LOOK = Look(
    settings=Woodcut,
    label="Woodcut",
    purpose="Wavy gouge lines that bend over the forms",
    draw=draw,
    reach_mm=lambda settings: 4 * FORM_MM + EDGE_REACH_MM,
    two_tone=lambda settings: True,
    proof_factor=2,
    suits=Suits(parted=(0.7, 0.6), fine=(0.3, 0.6), led=(0.6, 0.4), spread=(0.9, 0.6)),
    decides=True,
    pitch=lambda settings: settings.scale,
    tone_error=None,
)
