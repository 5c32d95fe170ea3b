"""Tone: how the photo's colours become one grey, and how that grey is spread."""

import math
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Dial, Points, Settings, Switch
from flinz.core.planes.filters import Plane, looked_up, smoothstep
from flinz.core.planes.grain import paper_grain
from flinz.core.scale import Frame
from flinz.core.stages.grey import decoded, encoded

CURVE = ("black", "white", "middle", "floor", "ceiling", "contrast", "invert")
CURVE_STEPS = 65_535  # so that every 16-bit value lies on a step
MEDIAN_WANTED = 0.5


MAX_PULLS = 8
# White lies at least so far above black.
LEAST_SPAN = 0.01
# Grain before drawing: which grain, how far it moves tone at most, how softly its tones end.
GRAIN_SEED, GRAIN_SWING, GRAIN_SOFT = 47, 1.6, 0.06


class Pull(Settings):
    """A colour taken lighter or darker: its hue on the circle, how far, how many degrees about it.

    Red lies at 0°, green at 120°, blue at 240°.
    """

    hue: float = Field(ge=0, lt=360, allow_inf_nan=False)
    pull: float = Field(ge=-1, le=1, allow_inf_nan=False)
    reach: float = Field(60.0, ge=10, le=180, allow_inf_nan=False)


class Tone(Settings):
    """Grey by luminance, moved by a ring of hues, then light, levels, contrast, invert."""

    black: float = Dial(
        0.0,
        ge=-4.0,
        le=0.95,
        low=0.0,
        high=0.6,
        step=0.005,
        label="Black point",
        group="Levels",
        hint="Tones below this become black",
    )
    white: float = Dial(
        1.0,
        ge=0.05,
        le=5.0,
        low=0.4,
        high=1.0,
        step=0.005,
        label="White point",
        group="Levels",
        hint="Tones above this become white",
    )
    middle: float = Dial(
        0.5,
        ge=0.02,
        le=0.98,
        low=0.1,
        high=0.9,
        step=0.01,
        label="Mid-tone",
        group="Levels",
        hint="Becomes middle grey; lower opens shadows",
    )
    floor: float = Dial(
        0.0,
        ge=0.0,
        le=0.95,
        high=0.5,
        step=0.01,
        label="Floor",
        group="Levels",
        hint="The tone that black is raised to",
    )
    ceiling: float = Dial(
        1.0,
        ge=0.05,
        le=1.0,
        low=0.5,
        step=0.01,
        label="Ceiling",
        group="Levels",
        hint="The tone that white is lowered to",
    )
    contrast: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        step=0.02,
        label="Contrast",
        group="Contrast",
        hint="Steeper or flatter about the pivot",
    )
    pivot: float = Dial(
        0.5,
        ge=0.05,
        le=0.95,
        low=0.2,
        high=0.8,
        step=0.01,
        label="Pivot",
        group="Contrast",
        hint="The tone that contrast leaves in place",
        idle_at={"contrast": 0},
    )
    shadows: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        step=0.02,
        label="Shadows",
        group="Light",
        hint="Opens or deepens dark areas, detail kept",
    )
    highlights: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        step=0.02,
        label="Highlights",
        group="Light",
        hint="Brightens or holds light areas, detail kept",
    )
    local: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        step=0.02,
        label="Local contrast",
        group="Light",
        hint="Detail against its surroundings",
    )
    reach: float = Dial(
        12.0,
        ge=1.0,
        le=60.0,
        low=2.0,
        high=40.0,
        step=0.5,
        unit="mm",
        label="Reach",
        group="Light",
        hint="How wide an area shares its light",
        idle_at={"shadows": 0, "highlights": 0, "local": 0},
    )
    hues: tuple[Pull, ...] = Points(
        label="Ring of hues",
        hint="Colours drawn lighter or darker; greys stay",
        group="Colours to grey",
        most=MAX_PULLS,
    )
    invert: bool = Switch(False, label="Invert", hint="Draw the negative")
    grain_amount: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Grain",
        group="Grain before drawing",
        hint="Looks answer to it as to the photo",
    )
    grain: float = Dial(
        0.5,
        ge=0.05,
        le=10.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Grain size",
        group="Grain before drawing",
        hint="Of one grain",
        idle_at={"grain_amount": 0},
    )
    grain_from: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Grain from",
        group="Grain before drawing",
        hint="Over tones at least this light",
        idle_at={"grain_amount": 0},
    )
    grain_to: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Grain to",
        group="Grain before drawing",
        hint="Over tones at most this light",
        idle_at={"grain_amount": 0},
    )

    @property
    def pulls(self) -> tuple[tuple[float, float, float], ...]:
        """Hue, pull and reach of every point of the ring that pulls at all."""
        return tuple((each.hue, each.pull, each.reach) for each in self.hues if each.pull)

    @property
    def light(self) -> tuple[float, float, float]:
        """Shadows, highlights, local contrast."""
        return self.shadows, self.highlights, self.local


def curved(grey: Plane, settings: Tone) -> Plane:
    """Levels, contrast and invert on a grey plane (H, W); neutral ones leave values untouched."""
    if _is_straight(settings):
        return grey
    curve = Tone(pivot=settings.pivot, **{name: getattr(settings, name) for name in CURVE})
    return looked_up(grey, _table(curve))


def grained(tones: Plane, settings: Tone, frame: Frame) -> Plane:
    """Tones with grain over those that are to have it, (H, W) float32 0..1, in a frame."""
    if settings.grain_amount == 0:
        return tones
    grain = paper_grain(frame, settings.grain, GRAIN_SEED) - np.float32(0.5)
    moved = grain * np.float32(GRAIN_SWING * settings.grain_amount)
    if settings.grain_from > 0 or settings.grain_to < 1:
        low, high = settings.grain_from, settings.grain_to
        above = smoothstep(low - GRAIN_SOFT, low, tones)
        moved = moved * above * smoothstep(high + GRAIN_SOFT, high, tones)
    return np.asarray(np.clip(tones + moved, 0, 1), np.float32)


def exposed(grey: Plane, stops: Plane) -> Plane:
    """Grey with its light doubled by each stop, halved by each below 0; both (H, W) float32.

    Where there are no stops it is as it was to the last bit.
    """
    touched = stops != 0
    left, top, width, height = cv2.boundingRect(touched.view(np.uint8))
    part = slice(top, top + height), slice(left, left + width)
    light = decoded(np.asarray(grey[part], np.float64)) * np.exp2(stops[part])
    found = grey.copy()
    found[part] = np.where(touched[part], encoded(np.clip(light, 0, 1)), grey[part])
    return found


def _is_straight(settings: Tone) -> bool:
    start = Tone()
    return all(getattr(settings, name) == getattr(start, name) for name in CURVE)


# It costs more than a draft's pixels, and is the same for all dials but the curve's own.
@lru_cache(maxsize=16)
def _table(settings: Tone) -> Plane:
    return _curve(np.linspace(0, 1, CURVE_STEPS + 1), settings).astype(np.float32)


def _curve(value: NDArray[np.float64], settings: Tone) -> NDArray[np.float64]:
    black, white = settings.black, max(settings.white, settings.black + LEAST_SPAN)
    out = np.clip((value - black) / (white - black), 0, 1)
    out = out ** (math.log(0.5) / math.log(settings.middle))
    pivot = settings.pivot
    if settings.contrast > 0:
        power = 2 ** (2 * settings.contrast)
        low = pivot * (np.minimum(out, pivot) / pivot) ** power
        high = 1 - (1 - pivot) * ((1 - np.maximum(out, pivot)) / (1 - pivot)) ** power
        out = np.where(out < pivot, low, high)
    else:
        out = pivot + (out - pivot) * (1 + 0.9 * settings.contrast)
    out = settings.floor + out * (max(settings.ceiling, settings.floor) - settings.floor)
    return 1 - out if settings.invert else out


def extent(grey: Plane) -> tuple[float, float, float]:
    """What counts as black in a grey plane, its median, and what counts as white.

    Black and white are the 0.5 and 99.5 percentiles.
    """
    low, median, high = (float(v) for v in np.percentile(grey, (0.5, 50, 99.5)))
    return low, median, high


def suggested(grey: Plane) -> dict[str, float]:
    """Black and white points and mid-tone that suit a grey plane before the curve.

    Points at the plane's extent; the mid-tone goes halfway to a median of one half,
    so that a picture that is meant to be dark stays dark.
    """
    low, median, high = extent(grey)
    if high - low < 0.02:
        return {"black": 0.0, "white": 1.0, "middle": MEDIAN_WANTED}
    centre = (median - low) / (high - low)
    middle = min(0.8, max(0.2, 0.5 * (centre + MEDIAN_WANTED)))
    return {"black": round(low, 3), "white": round(high, 3), "middle": round(middle, 2)}
