"""Contour hatch: strokes that run along the form, as in an engraving, broader in the dark."""

from typing import Literal

import numpy as np

from flinz.core import flow
from flinz.core.cutting import edge_cover
from flinz.core.dial import Dial
from flinz.core.filters import Plane
from flinz.core.grain import paper_strokes
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import EDGE_REACH_MM, HatchWindow, hatched_cover
from flinz.core.scale import Frame

STROKE_SEED = 61


class ContourHatch(HatchWindow):
    """Strokes along the form."""

    look: Literal["contour-hatch"] = "contour-hatch"
    stroke: float = Dial(
        0.7,
        ge=0.2,
        le=5.0,
        low=0.3,
        high=2.5,
        step=0.05,
        unit="mm",
        label="Stroke",
        hint="From one stroke to the next",
    )
    length: float = Dial(
        12.0,
        ge=1.0,
        le=60.0,
        low=2.0,
        high=30.0,
        step=0.5,
        unit="mm",
        label="Length",
        hint="How long strokes run",
    )
    form: float = Dial(
        1.6,
        ge=0.3,
        le=20.0,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Form",
        hint="How broad a form strokes follow",
    )
    angle: float = Dial(
        35.0,
        ge=-180.0,
        le=180.0,
        low=0.0,
        high=180.0,
        step=1.0,
        unit="°",
        label="Angle",
        hint="Direction where there is no form",
    )


def draw(tone: Plane, settings: ContourHatch, frame: Frame, desk: Desk) -> Plane:
    """Strokes as ink 0..1: a texture of strokes along the form, cut at the wished ink.

    The texture is spread evenly over 0..1, so that cutting it at a share inks that share.
    """
    key = (settings.form, settings.angle)
    form = desk.keep(
        "form",
        key,
        lambda: flow.direction_field(tone, frame, settings.form, settings.angle, 2e-4),
    )
    texture = desk.keep(
        "texture",
        (*key, settings.stroke, settings.length),
        lambda: paper_strokes(frame, form, settings.stroke, settings.length, STROKE_SEED),
    )
    cover = hatched_cover(tone, settings, frame, desk)
    drawn = edge_cover(np.asarray(cover - texture, np.float32), 1.0)
    drawn = np.where(cover >= 0.995, 1, np.where(cover <= 0.01, 0, drawn))
    return np.asarray(drawn, np.float32)


LOOK = Look(
    settings=ContourHatch,
    label="Contour hatch",
    purpose="Engraver's strokes that run along the form",
    draw=draw,
    reach_mm=lambda settings: 4 * settings.form + EDGE_REACH_MM,
    two_tone=lambda settings: True,
    proof_factor=2,
)
