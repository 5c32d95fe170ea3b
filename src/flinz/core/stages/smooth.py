"""Smooth: takes away what is too fine to draw, in one of several ways."""

import math
import os
from concurrent.futures import ThreadPoolExecutor
from typing import Annotated, Any, Literal

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Dial, Settings
from flinz.core.filters import Plane, blurred, box_mean
from flinz.core.scale import Frame

# A window this wide may be fitted on a grid twice as coarse, and so on up to the coarsest.
COARSE_RADIUS_PX = 5.0
COARSEST = 4


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
    middle = _in_strips(steps, whole)
    return np.asarray(middle, np.float32) / np.float32(255)


def _in_strips(steps: NDArray[np.uint8], radius: int) -> NDArray[np.uint8]:
    # OpenCV's median of constant cost runs on one core; strips with a margin use them all.
    height = steps.shape[0]
    count = min(os.cpu_count() or 1, max(1, height // (4 * radius + 1)))
    edges = [round(k * height / count) for k in range(count + 1)]

    def strip(top: int, bottom: int) -> NDArray[np.uint8]:
        first, last = max(0, top - radius), min(height, bottom + radius)
        filtered = cv2.medianBlur(steps[first:last], 2 * radius + 1)
        return np.asarray(filtered[top - first : bottom - first], np.uint8)

    with ThreadPoolExecutor(count) as pool:
        return np.concatenate(list(pool.map(strip, edges[:-1], edges[1:])))


def guided(tone: Plane, radius_px: float, strength: float) -> Plane:
    """Edge-keeping mean over windows of radius_px; differences under strength are levelled.

    Wide windows are fitted on a coarser grid and applied on the full one: K. He and J. Sun
    (2015), "Fast guided filter". Their fit varies slowly, so nothing is lost but time.
    """
    if radius_px < 0.5:
        return tone
    height, width = tone.shape
    coarser = min(COARSEST, max(1, int(radius_px / COARSE_RADIUS_PX)), height, width)
    small, radius = tone, max(1, math.floor(radius_px / coarser + 0.5))
    if coarser > 1:
        size = max(1, round(width / coarser)), max(1, round(height / coarser))
        small = np.asarray(cv2.resize(tone, size, interpolation=cv2.INTER_AREA), np.float32)
    slope, offset = _window_fit(
        box_mean(small, radius), box_mean(small * small, radius), np.float32(strength**2)
    )
    slope, offset = box_mean(slope, radius), box_mean(offset, radius)
    if coarser > 1:
        slope, offset = (cv2.resize(plane, (width, height)) for plane in (slope, offset))
    return np.asarray(_window_value(tone, slope, offset), np.float32)


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
