"""Crosshatch: layers of wavy hatch lines that thicken, then cross, as the tone darkens."""

from typing import Literal

import numpy as np

from flinz.core.dial import Dial
from flinz.core.filters import Plane
from flinz.core.grain import paper_grain
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import EDGE_REACH_MM, HatchWindow, hatched_cover
from flinz.core.scale import Frame
from flinz.core.screens import line_cover, pixel_span, positions

WOBBLE_SEED = 51
WOBBLE_GRAIN_MM = 9.0
MAX_LAYERS = 4


class Crosshatch(HatchWindow):
    """Pen strokes in layers."""

    look: Literal["crosshatch"] = "crosshatch"
    spacing: float = Dial(
        1.0,
        ge=0.2,
        le=10.0,
        low=0.4,
        high=4.0,
        step=0.05,
        unit="mm",
        label="Spacing",
        hint="From one line to the next",
    )
    weight: float = Dial(
        0.55,
        ge=0.1,
        le=0.95,
        step=0.01,
        label="Weight",
        hint="Thickest line, as a share of the spacing",
    )
    layers: float = Dial(
        3,
        ge=1,
        le=MAX_LAYERS,
        step=1,
        label="Layers",
        hint="How often lines cross in the dark",
    )
    angle: float = Dial(
        40.0,
        ge=-180.0,
        le=180.0,
        low=0.0,
        high=180.0,
        step=1.0,
        unit="°",
        label="Angle",
        hint="Direction of the first layer",
    )
    turn: float = Dial(
        52.0,
        ge=5.0,
        le=90.0,
        low=15.0,
        step=1.0,
        unit="°",
        label="Turn",
        hint="From one layer's direction to the next",
    )
    wobble: float = Dial(
        0.6,
        ge=0.0,
        le=6.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Wobble",
        hint="How far a hand strays from straight",
    )


def draw(tone: Plane, settings: Crosshatch, frame: Frame, desk: Desk) -> Plane:
    """Hatch lines as ink 0..1.

    Layer after layer takes as much of the wished ink as its thickest lines can carry; the next
    one begins where that is not enough. Lines stray by noise fixed to the paper, a hand's own
    for each layer.
    """
    bare = 1 - hatched_cover(tone, settings, frame, desk)
    ink = np.zeros(tone.shape, np.float32)
    for layer in range(round(settings.layers)):
        # Lines of two layers overlap at random: what stays bare is the product.
        wish = np.clip(1 - bare, 0, 1)
        last = layer == round(settings.layers) - 1
        share = wish if last else np.minimum(wish, np.float32(settings.weight))
        share = np.where(share < 0.035, 0, share)
        ink = 1 - (1 - ink) * (1 - _layer(share.astype(np.float32), settings, frame, desk, layer))
        bare = np.clip(bare / np.maximum(1 - share, 1e-3), 0, 1)
    return np.asarray(ink, np.float32)


def _layer(share: Plane, settings: Crosshatch, frame: Frame, desk: Desk, layer: int) -> Plane:
    angle = settings.angle + layer * settings.turn
    _, across = positions(frame, angle)
    seed = WOBBLE_SEED + layer
    hand = desk.keep("hand", layer, lambda: paper_grain(frame, WOBBLE_GRAIN_MM, seed))
    strayed = across + np.float32(2 * settings.wobble) * (hand - np.float32(0.5))
    phase = np.asarray(strayed / np.float32(settings.spacing), np.float32)
    return line_cover(share, phase, pixel_span(frame, angle, settings.spacing))


LOOK = Look(
    settings=Crosshatch,
    label="Crosshatch",
    purpose="Layers of wavy pen lines that thicken and cross in the dark",
    draw=draw,
    reach_mm=lambda settings: EDGE_REACH_MM,
    two_tone=lambda settings: True,
    proof_factor=2,
)
