"""The ink a mark look wishes for a tone: between its lightest and its darkest."""

import numpy as np

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import LookSettings
from flinz.core.planes.filters import Plane, blurred, smoothstep
from flinz.core.scale import Frame

EDGE_MM = 0.22
EDGE_REACH_MM = 8 * EDGE_MM
SOLID_FROM, SOLID_AT = 0.89, 0.92


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


class HatchWindow(ToneWindow):
    """Base of looks that carry tone by lines and keep edges sharper than lines could."""

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
        hint="Tones below it are as dark as it gets",
    )


def hatched_cover(tone: Plane, window: HatchWindow, frame: Frame, desk: Desk) -> Plane:
    """Ink wished for a tone whose edges are sharpened by a difference of Gaussians."""

    def make() -> Plane:
        fine = desk.keep_whole("fine", frame, lambda: _fine(tone, frame), alike=True)
        sharp = np.clip(tone + np.float32(4 * window.edges) * fine, 0, 1)
        return wished_cover(np.asarray(sharp, np.float32), window)

    # Most dials of a look turn its marks and not the tone they carry.
    wish: Plane = desk.keep_whole(
        "wish", (frame, window.edges, window.lightest, window.darkest), make, alike=True
    )
    return wish


def _fine(tone: Plane, frame: Frame) -> Plane:
    near, wide = blurred(tone, frame.px(EDGE_MM)), blurred(tone, frame.px(1.8 * EDGE_MM))
    return np.asarray(near - wide, np.float32)


def wished_cover(tone: Plane, window: ToneWindow) -> Plane:
    """Ink 0..1 for a tone: 1 - tone when the window is all of it."""
    lightest = max(window.lightest, window.darkest + 0.01)
    cover = (np.float32(lightest) - tone) * np.float32(1 / (lightest - window.darkest))
    cover = np.clip(cover, 0, 1)
    # Gaps this narrow would fill up in print here and stay open there: they are closed at once.
    solid = smoothstep(SOLID_FROM, SOLID_AT, np.asarray(cover, np.float32))
    return np.asarray(cover + (1 - cover) * solid, np.float32)
