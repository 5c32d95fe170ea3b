"""Contour hatch: strokes that run along the form, as in an engraving, broader in the dark."""

from typing import Literal

import numpy as np

from flinz.core import flow
from flinz.core.cutting import edge_cover
from flinz.core.dial import Dial
from flinz.core.filters import Plane, blurred
from flinz.core.grain import paper_strokes
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.scale import Frame

STROKE_SEED = 61
EDGE_MM = 0.22


class ContourHatch(ToneWindow):
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
    edges: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Edges",
        hint="Edges are kept sharper than the tone",
    )
    lightest: float = Dial(
        0.88,
        ge=0.05,
        le=1.0,
        low=0.4,
        step=0.01,
        label="Lightest",
        hint="Tones above it stay bare paper",
    )
    darkest: float = Dial(
        0.1,
        ge=0.0,
        le=0.95,
        high=0.6,
        step=0.01,
        label="Darkest",
        hint="Tones below it are full ink",
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
    fine = desk.keep("fine", None, lambda: _edges(tone, frame))
    sharp = np.clip(tone + np.float32(4 * settings.edges) * fine, 0, 1)
    cover = wished_cover(np.asarray(sharp, np.float32), settings)
    drawn = edge_cover(np.asarray(cover - texture, np.float32), 1.0)
    drawn = np.where(cover >= 0.995, 1, np.where(cover <= 0.01, 0, drawn))
    return np.asarray(drawn, np.float32)


def _edges(tone: Plane, frame: Frame) -> Plane:
    near, wide = blurred(tone, frame.px(EDGE_MM)), blurred(tone, frame.px(1.8 * EDGE_MM))
    return np.asarray(near - wide, np.float32)


LOOK = Look(
    settings=ContourHatch,
    label="Contour hatch",
    purpose="Engraver's strokes that run along the form",
    draw=draw,
    reach_mm=lambda settings: 4 * settings.form + 2,
    two_tone=lambda settings: True,
    proof_factor=2,
)
