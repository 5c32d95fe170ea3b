"""Smooth: takes away what is too fine to draw, in one of several ways."""

import math
from enum import StrEnum
from typing import Annotated, Any, Literal

import cv2
import numpy as np
from numba import njit, prange
from pydantic import Field

from flinz.core.dial import Dial, Settings
from flinz.core.filters import Plane, blurred, box_mean
from flinz.core.scale import Frame


class SmoothKind(StrEnum):
    """The ways to smooth."""

    NONE = "none"
    GAUSSIAN = "gaussian"
    MEDIAN = "median"
    EDGE_KEEPING = "edge-keeping"


class NoSmoothing(Settings):
    """The tone passes as it is."""

    kind: Literal["none"] = "none"


class Gaussian(Settings):
    """Even blur: fine texture goes, edges soften."""

    kind: Literal["gaussian"] = "gaussian"
    radius: float = Dial(
        0.3,
        ge=0.0,
        le=20.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Radius",
        hint="How far tone spreads",
    )


class Median(Settings):
    """Specks and hairs go, corners round off, edges stay crisp."""

    kind: Literal["median"] = "median"
    radius: float = Dial(
        0.4,
        ge=0.0,
        le=10.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Radius",
        hint="Details smaller than this disappear",
    )


class EdgeKeeping(Settings):
    """Surfaces flatten, strong edges stay."""

    kind: Literal["edge-keeping"] = "edge-keeping"
    radius: float = Dial(
        1.0,
        ge=0.0,
        le=20.0,
        high=6.0,
        step=0.1,
        unit="mm",
        label="Radius",
        hint="How far a surface is evened out",
    )
    strength: float = Dial(
        0.1,
        ge=0.005,
        le=1.0,
        high=0.4,
        step=0.005,
        label="Strength",
        hint="Differences up to about this are evened out",
    )


Smooth = Annotated[NoSmoothing | Gaussian | Median | EdgeKeeping, Field(discriminator="kind")]
KINDS: dict[str, type[Settings]] = {
    "none": NoSmoothing,
    "gaussian": Gaussian,
    "median": Median,
    "edge-keeping": EdgeKeeping,
}


def smoothed(tone: Plane, settings: Settings, frame: Frame) -> Plane:
    """Tone after smoothing. tone: (H, W) float32 0..1; returns the same shape and range.

    The median takes the middle of a disc-like window on 256 tones. Edge-keeping is the guided
    filter with the picture as its own guide: K. He, J. Sun and X. Tang (2010).
    """
    match settings:
        case Gaussian(radius=radius):
            return blurred(tone, frame.px(radius))
        case Median(radius=radius):
            return _median(tone, frame.px(radius))
        case EdgeKeeping(radius=radius, strength=strength):
            return guided(tone, frame.px(radius), strength)
    return tone


def reach_mm(settings: Settings) -> float:
    """How far away, in mm, a tone still matters to the smoothed one."""
    match settings:
        case Gaussian(radius=radius):
            return 4 * radius
        case Median(radius=radius):
            return radius
        case EdgeKeeping(radius=radius):
            return 2 * radius
    return 0.0


def _median(tone: Plane, radius_px: float) -> Plane:
    whole = round(radius_px)
    if whole < 1:
        return tone
    whole = min(whole, 120)
    steps = np.rint(tone * 255).astype(np.uint8)
    middle = cv2.medianBlur(steps, 2 * whole + 1)
    return np.asarray(middle, np.float32) / np.float32(255)


def guided(tone: Plane, radius_px: float, strength: float) -> Plane:
    """Edge-keeping mean over windows of radius_px; differences under strength are levelled."""
    radius = max(1, math.floor(radius_px + 0.5))
    if radius_px < 0.5:
        return tone
    mean = box_mean(tone, radius)
    square = box_mean(tone * tone, radius)
    slope, offset = _window_fit(mean, square, np.float32(strength**2))
    value = _window_value(tone, box_mean(slope, radius), box_mean(offset, radius))
    return np.asarray(value, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _window_fit(mean, square, epsilon) -> Any:  # type: ignore[no-untyped-def]
    # The line a * tone + b that fits each window best; a falls to 0 where the window is flat.
    slope = np.empty_like(mean)
    offset = np.empty_like(mean)
    for row in prange(mean.shape[0]):
        for column in range(mean.shape[1]):
            m = mean[row, column]
            variance = max(square[row, column] - m * m, np.float32(0.0))
            a = variance / (variance + epsilon)
            slope[row, column] = a
            offset[row, column] = m - a * m
    return slope, offset


@njit(parallel=True, fastmath=True, cache=True)
def _window_value(tone, slope, offset) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(tone)
    for row in prange(tone.shape[0]):
        for column in range(tone.shape[1]):
            value = slope[row, column] * tone[row, column] + offset[row, column]
            out[row, column] = min(max(value, np.float32(0.0)), np.float32(1.0))
    return out
