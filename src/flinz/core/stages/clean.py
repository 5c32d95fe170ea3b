"""Clean: removes specks, fills pinholes, smooths, moves and sharpens edges, sets levels."""

import math

import numpy as np

from flinz.core.dial import Dial, Settings
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.planes.filters import Plane, blurred
from flinz.core.scale import Frame
from flinz.core.shapes.edges import thickened, with_smooth_edges
from flinz.core.shapes.islands import without_pinholes, without_specks


class Clean(Settings):
    """What is too small to print, and how edges run."""

    specks: float = Dial(
        0.0,
        ge=0.0,
        le=25.0,
        high=2.0,
        step=0.01,
        unit="mm²",
        label="Specks",
        hint="Dark islands under this are removed",
    )
    pinholes: float = Dial(
        0.0,
        ge=0.0,
        le=25.0,
        high=2.0,
        step=0.01,
        unit="mm²",
        label="Pinholes",
        hint="White holes under this are filled",
    )
    smooth: float = Dial(
        0.0,
        ge=0.0,
        le=3.0,
        high=1.0,
        step=0.02,
        unit="mm",
        label="Smooth edges",
        hint="Jags under this are rounded off",
    )
    thicken: float = Dial(
        0.0,
        ge=-3.0,
        le=3.0,
        low=-0.5,
        high=0.5,
        step=0.01,
        unit="mm",
        label="Thicken",
        hint="Every edge moves out; below 0 it moves in",
    )
    soften: float = Dial(
        0.0,
        ge=0.0,
        le=10.0,
        high=2.0,
        step=0.02,
        unit="mm",
        label="Soften",
        hint="Evenly, as ink that spread",
    )
    sharpen: float = Dial(
        0.0,
        ge=0.0,
        le=3.0,
        step=0.05,
        label="Sharpen",
        hint="Steeper edges in the drawing",
    )
    sharpen_radius: float = Dial(
        0.3,
        ge=0.05,
        le=5.0,
        high=2.0,
        step=0.05,
        unit="mm",
        label="Sharpen radius",
        hint="Width of the edges it works on",
        idle_at={"sharpen": 0},
    )
    arrives: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="How much arrives",
        hint="From none of this cleaning to all of it",
    )
    faintest: float = Dial(
        0.0,
        ge=0.0,
        le=0.9,
        high=0.6,
        step=0.01,
        label="Faintest",
        group="Levels",
        hint="Fainter ink becomes bare paper",
    )
    fullest: float = Dial(
        1.0,
        ge=0.1,
        le=1.0,
        low=0.3,
        step=0.01,
        label="Fullest",
        group="Levels",
        hint="Stronger ink becomes solid",
    )
    weight: float = Dial(
        1.0,
        ge=0.2,
        le=5.0,
        low=0.4,
        high=3.0,
        step=0.05,
        label="Weight",
        group="Levels",
        hint="Greys between, above 1 darker",
    )

    @property
    def is_neutral(self) -> bool:
        """Whether the drawing passes as it is."""
        shapes = self.specks or self.pinholes or self.smooth or self.thicken
        edges = self.soften or self.sharpen
        return not (shapes or edges) and self.levels_are_neutral

    @property
    def levels_are_neutral(self) -> bool:
        """Whether greys pass as they are."""
        return (self.faintest, self.fullest, self.weight) == (0.0, 1.0, 1.0)


def cleaned(
    cover: Plane, settings: Clean, frame: Frame, two_tone: bool, keep: Keep = keep_nothing
) -> Plane:
    """A drawing after cleaning.

    cover: (H, W) float32, ink 0..1. two_tone: whether the look draws pure black and white; its
    edges stay at most a pixel wide, where a grey drawing keeps its greys. keep remembers each
    step, so that a dial redoes only what comes after it. Returns the same shape.
    """
    out = cover
    smooth, specks, pinholes = settings.smooth, settings.specks, settings.pinholes
    if smooth > 0:
        sigma_px = frame.px(smooth) / 2
        out = keep("smooth", smooth, lambda: with_smooth_edges(cover, sigma_px, two_tone))
    if specks > 0:
        rough, least = out, frame.area_px(specks)
        out = keep("specks", (smooth, specks), lambda: without_specks(rough, least, two_tone))
    if pinholes > 0:
        holed, largest = out, frame.area_px(pinholes)
        out = keep(
            "pinholes",
            (smooth, specks, pinholes),
            lambda: without_pinholes(holed, largest, two_tone),
        )
    if settings.thicken != 0:
        thin, way_px = out, frame.px(settings.thicken)
        out = keep(
            "thicken",
            (smooth, specks, pinholes, settings.thicken),
            lambda: thickened(thin, way_px, two_tone),
        )
    if settings.soften > 0:
        out = blurred(out, frame.px(settings.soften) / 2)
    if settings.sharpen > 0:
        soft = blurred(out, frame.px(settings.sharpen_radius))
        out = np.clip(out + np.float32(settings.sharpen) * (out - soft), 0, 1)
    if not settings.levels_are_neutral:
        out = _levelled(out, settings)
    return np.asarray(out, np.float32)


def _levelled(cover: Plane, settings: Clean) -> Plane:
    span = max(settings.fullest - settings.faintest, 0.01)
    share = np.clip((cover - np.float32(settings.faintest)) * np.float32(1 / span), 0, 1)
    return np.asarray(share ** np.float32(1 / settings.weight), np.float32)


def reach_mm(settings: Clean) -> float:
    """How far away, in mm, ink still matters to a cleaned pixel."""
    # An island of an area is seldom more than a few times as long as it is wide.
    islands = 4 * math.sqrt(max(settings.specks, settings.pinholes))
    edges = 4 * settings.smooth if settings.smooth else 0.0
    sharpening = 4 * settings.sharpen_radius if settings.sharpen else 0.0
    return islands + edges + 2 * settings.soften + sharpening + 2 * abs(settings.thicken)
