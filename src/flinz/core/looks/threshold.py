"""Threshold: black where the tone lies below a level, for the whole sheet or place by place."""

import math
from enum import StrEnum
from typing import Literal

import numpy as np

from flinz.core.dial import Choice, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.planes.filters import Plane, blurred, box_mean
from flinz.core.scale import Frame
from flinz.core.shapes.cutting import edge_cover

HALF_RANGE = 0.5  # values in 0..1 cannot deviate by more


class Level(StrEnum):
    """Where the level comes from."""

    WHOLE = "whole"
    MEAN = "mean"
    GAUSSIAN = "gaussian"
    TEXTURE = "texture"


class Threshold(LookSettings):
    """One level for the sheet, or a level that follows the neighbourhood."""

    look: Literal["threshold"] = "threshold"
    method: Level = Choice(
        Level.WHOLE,
        label="Level from",
        hint="One for the whole sheet, or place by place",
        options={
            Level.WHOLE: ("The whole sheet", "One level everywhere: bold, what is dark goes black"),
            Level.MEAN: (
                "The neighbourhood, evenly",
                "Darker than its surroundings is ink; all within reach counts alike",
                "local mean",
            ),
            Level.GAUSSIAN: (
                "The neighbourhood, nearest first",
                "Darker than its surroundings is ink; what is near counts for more",
                "local Gaussian mean",
            ),
            Level.TEXTURE: (
                "Light and texture nearby",
                "Even areas stay paper, textured ones are drawn",
                "Sauvola",
            ),
        },
    )
    level: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.005,
        label="Level",
        hint="Tones below it are ink",
    )
    window: float = Dial(
        6.0,
        ge=0.2,
        le=100.0,
        low=0.5,
        high=30.0,
        step=0.1,
        unit="mm",
        only_for={"method": ["mean", "gaussian", "texture"]},
        label="Neighbourhood",
        hint="Reach of a local level",
    )
    texture: float = Dial(
        0.2,
        ge=0.0,
        le=1.0,
        step=0.01,
        only_for={"method": ["texture"]},
        label="Quiet",
        hint="Reluctance to ink even areas",
    )
    edge: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.05,
        unit="px",
        label="Edge softness",
        hint="0 is pure black and white",
    )


def draw(tone: Plane, settings: Threshold, frame: Frame, desk: Desk) -> Plane:
    """Ink where tone < level, exactly; 1.0 or 0.0 at edge softness 0.

    Local levels: the mean over a square window, a Gaussian mean, or J. Sauvola and
    M. Pietikäinen (2000), "Adaptive document image binarization", with their R of 128 as 0.5.
    """
    level = _level(tone, settings, frame, desk)
    if settings.edge == 0:
        return (tone < level).astype(np.float32)
    return edge_cover(np.asarray(level - tone, np.float32), settings.edge)


def _level(tone: Plane, settings: Threshold, frame: Frame, desk: Desk) -> Plane | np.float32:
    keep = desk.keep
    if settings.method == Level.WHOLE:
        return np.float32(settings.level)
    shift = np.float32(settings.level - 0.5)
    radius = max(1, math.floor(frame.px(settings.window) + 0.5))
    if settings.method == Level.GAUSSIAN:
        near: Plane = keep("gaussian", radius, lambda: blurred(tone, radius / 2))
        return near + shift
    mean: Plane = keep("mean", radius, lambda: box_mean(tone, radius))
    if settings.method == Level.MEAN:
        return mean + shift
    deviation: Plane = keep("deviation", radius, lambda: _deviation(tone, mean, radius))
    quiet = np.float32(settings.texture)
    return mean * (1 + quiet * (deviation / np.float32(HALF_RANGE) - 1)) + shift


def _deviation(tone: Plane, mean: Plane, radius: int) -> Plane:
    # Squares of the difference from a middle tone: near-equal squares lose less in float32.
    centred = tone - np.float32(0.5)
    square = box_mean(centred * centred, radius)
    return np.asarray(np.sqrt(np.maximum(square - (mean - np.float32(0.5)) ** 2, 0)), np.float32)


def reach_mm(settings: Threshold) -> float:
    """How far a local level looks."""
    return 0.0 if settings.method == Level.WHOLE else 2.2 * settings.window


def suggested(tone: Plane, frame: Frame) -> dict[str, float]:
    """The level that parts a tone plane best into two classes."""
    return {"level": otsu_level(tone)}


def suggested_by_eyes(eyes: list[Plane]) -> dict[str, float]:
    """The level at which the whites stay white in every eye: the lowest of their own levels."""
    return {"level": min(otsu_level(eye) for eye in eyes)}


def otsu_level(tone: Plane) -> float:
    """The level between two of 256 tones with the largest variance between its two sides.

    tone: (H, W) float32 0..1. A picture of one tone gives one half. Where several levels are
    equally good, the middle one. After N. Otsu (1979).
    """
    counts = np.bincount(np.rint(tone * 255).astype(np.int64).ravel(), minlength=256)
    if np.count_nonzero(counts) < 2:
        return 0.5
    weights = counts / counts.sum()
    below = np.cumsum(weights)[:-1]
    mean_below = np.cumsum(weights * np.arange(256))[:-1]
    mean = float((weights * np.arange(256)).sum())
    parted = below * (1 - below)
    between = np.zeros(255)
    there = parted > 0
    between[there] = (mean * below - mean_below)[there] ** 2 / parted[there]
    best = np.flatnonzero(between >= between.max() * (1 - 1e-12))
    return round(float((best[0] + best[-1]) / 2 + 0.5) / 255, 4)


LOOK = Look(
    settings=Threshold,
    label="Threshold",
    purpose="Pure black and white at one level, or at a level that follows the neighbourhood",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    suggested=suggested,
    suggested_by_eyes=suggested_by_eyes,
    proof_factor=2,
    fitted=("draw.level",),
    suits=Suits(parted=(0.95, 1), fine=(0.4, 0.3), led=(0.5, 0.1), spread=(1, 0.8)),
    decides=True,
    rehearsed=(Threshold(edge=1.0),),
)
