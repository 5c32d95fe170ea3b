"""Flat tones: a few even greys with small detail melted away, as a base for a comic look."""

from typing import Literal

import numpy as np

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame
from flinz.core.shapes import islands
from flinz.core.shapes.cutting import cut_at, flattened, flattened_reach_mm, slope_of


class FlatTones(LookSettings):
    """Tone in a few flat steps."""

    look: Literal["flat-tones"] = "flat-tones"
    steps: float = Dial(
        5,
        ge=2,
        le=12,
        high=8,
        step=1,
        label="Steps",
        hint="How many tones there are, paper included",
    )
    smoothing: float = Dial(
        0.8,
        ge=0.0,
        le=20.0,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Smoothing",
        hint="Detail smaller than this melts away",
    )
    crumbs: float = Dial(
        2.0,
        ge=0.0,
        le=200.0,
        high=40.0,
        step=0.5,
        unit="mm²",
        label="Crumbs",
        hint="Patches under this melt into neighbours",
    )
    lightest: float = Dial(
        0.8,
        ge=0.05,
        le=1.0,
        low=0.4,
        step=0.01,
        label="Lightest",
        hint="Tones above it stay bare paper",
    )
    darkest: float = Dial(
        0.12,
        ge=0.0,
        le=0.95,
        high=0.6,
        step=0.01,
        label="Darkest",
        hint="Tones below it are full ink",
    )


def draw(tone: Plane, settings: FlatTones, frame: Frame, desk: Desk) -> Plane:
    """Ink in even steps; the levels between them are spread from darkest to lightest."""
    smoothing = settings.smoothing
    flat = desk.keep("flat", smoothing, lambda: flattened(tone, frame, smoothing))
    count = round(settings.steps) - 1
    lightest = max(settings.lightest, settings.darkest + 0.01)
    levels = [settings.darkest] if count == 1 else np.linspace(settings.darkest, lightest, count)
    cover = np.zeros(tone.shape, np.float32)
    slope = desk.keep("slope", smoothing, lambda: slope_of(flat))
    for level in levels:
        cover += cut_at(flat, float(level), frame, settings.crumbs, slope)
    # A sum of thirds may pass 1 by a rounding.
    cover *= np.float32(1 / count)
    return np.minimum(cover, 1, out=cover)


def reach_mm(settings: FlatTones) -> float:
    """The flattening, and patches a few times as long as wide."""
    return flattened_reach_mm(settings.smoothing) + 4 * float(np.sqrt(settings.crumbs))


LOOK = Look(
    settings=FlatTones,
    label="Flat tones",
    purpose="A few flat greys with small detail melted away, as a base for a comic",
    draw=draw,
    reach_mm=reach_mm,
    proof_factor=2,
    made_ready=islands.made_ready,
    suits=Suits(parted=(0.7, 0.6), fine=(0.1, 1), led=(0.5, 0.1), spread=(0.7, 0.4)),
)
