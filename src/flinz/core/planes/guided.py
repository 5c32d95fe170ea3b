"""The guided filter with a picture as its own guide: surfaces are evened, edges stay."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange

from flinz.core.planes.filters import Plane, averaged, box_mean

# A window this wide may be fitted on a grid twice as coarse, and so on up to the coarsest.
COARSE_RADIUS_PX = 5.0
COARSEST = 4


def guided(tone: Plane, radius_px: float, strength: float, coarsest: int = COARSEST) -> Plane:
    """Edge-keeping mean over windows of radius_px; differences under strength are levelled.

    Wide windows are fitted on a coarser grid and applied on the full one: K. He and J. Sun
    (2015), "Fast guided filter". Their fit varies slowly, so nothing is lost but time. coarsest: 1
    fits every window on all its pixels.
    """
    if radius_px < 0.5:
        return tone
    height, width = tone.shape
    coarser = min(coarsest, max(1, int(radius_px / COARSE_RADIUS_PX)), height, width)
    small, radius = tone, max(1, math.floor(radius_px / coarser + 0.5))
    if coarser > 1:
        small = averaged(tone, max(1, round(width / coarser)), max(1, round(height / coarser)))
    slope, offset = window_lines(small, small * small, radius, strength)
    if coarser > 1:
        slope, offset = (
            np.asarray(cv2.resize(plane, (width, height)), np.float32) for plane in (slope, offset)
        )
    return window_value(tone, slope, offset)


def window_lines(
    tone: Plane, square: Plane, radius_px: int, strength: float
) -> tuple[Plane, Plane]:
    """Slope and offset of the line of tone that is the edge-keeping mean at each pixel.

    tone and its square may both be averages over blocks of finer pixels.
    """
    slope, offset = _window_fit(
        box_mean(tone, radius_px), box_mean(square, radius_px), np.float32(strength**2)
    )
    return box_mean(slope, radius_px), box_mean(offset, radius_px)


def window_value(tone: Plane, slope: Plane, offset: Plane) -> Plane:
    """What the lines of window_lines make of a tone, 0..1."""
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
