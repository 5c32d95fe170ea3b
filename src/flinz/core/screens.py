"""Screens: periodic lines and dots whose ink is exact at any scale, so that they never alias."""

from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.filters import Plane
from flinz.core.scale import Frame

SPOT_STEPS = 1024


def line_cover(cover: Plane, phase: Plane, footprint: Plane | np.float32) -> Plane:
    """Ink of a line screen, (H, W) float32.

    cover: ink wished, 0..1. phase: position across the lines in line pitches, (H, W) float32;
    lines are centred on whole numbers. footprint: how many pitches a pixel spans across the
    lines. Each pixel gets the mean of the lines over its own footprint, by an antiderivative:
    at any ruling and scale the tone is kept and nothing beats against the pixels.
    """
    span = np.broadcast_to(np.asarray(footprint, np.float32), cover.shape)
    return np.asarray(_line_cover(cover, phase, span), np.float32)


@njit(inline="always")
def _inked_up_to(x, duty) -> Any:  # type: ignore[no-untyped-def]
    # Ink from 0 to x of lines of width duty centred on whole numbers, shifted by a half.
    whole = np.floor(x)
    part = x - whole - (0.5 - duty / 2)
    return whole * duty + min(max(part, 0.0), duty)


@njit(parallel=True, cache=True)
def _line_cover(cover, phase, span) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            duty = float(cover[row, column])
            reach = max(float(span[row, column]) / 2, 1e-4)
            x = float(phase[row, column]) + 0.5
            ink = _inked_up_to(x + reach, duty) - _inked_up_to(x - reach, duty)
            out[row, column] = min(max(ink / (2 * reach), 0.0), 1.0)
    return out


def positions(frame: Frame, angle_deg: float) -> tuple[Plane, Plane]:
    """Place on paper in mm along and across an angle (counter-clockwise), (H, W) float32 each."""
    x = ((frame.left + np.arange(frame.width) + 0.5) / frame.px_per_mm)[None]
    y = ((frame.top + np.arange(frame.height) + 0.5) / frame.px_per_mm)[:, None]
    cosine, sine = np.cos(np.radians(angle_deg)), np.sin(np.radians(angle_deg))
    along = x * cosine - y * sine
    across = x * sine + y * cosine
    return along.astype(np.float32), across.astype(np.float32)


def pixel_span(frame: Frame, angle_deg: float, pitch_mm: float) -> np.float32:
    """How many pitches a pixel spans across lines at an angle."""
    angle = np.radians(angle_deg)
    width = (abs(np.cos(angle)) + abs(np.sin(angle))) / frame.px_per_mm
    # A square's shadow is a trapezium; its mean width is a little less than its full one.
    return np.float32(0.85 * width / pitch_mm)


def spot_levels(kind: int) -> NDArray[np.float32]:
    """(SPOT_STEPS + 1,) the height of the spot function that leaves k / SPOT_STEPS above it."""
    cell = (np.arange(512) + 0.5) / 512
    heights = np.sort(
        _heights(np.tile(cell, (512, 1)), np.tile(cell[:, None], (1, 512)), kind), None
    )
    shares = np.linspace(1, 0, SPOT_STEPS + 1)
    return np.asarray(np.quantile(heights, shares), np.float32)


def _heights(u: NDArray[Any], v: NDArray[Any], kind: int) -> NDArray[Any]:
    if kind == 2:
        diamond: NDArray[Any] = 1 - np.abs((u % 1) - 0.5) * 2 - np.abs((v % 1) - 0.5) * 2
        return diamond
    flat = 0.62 if kind == 1 else 1.0
    round_: NDArray[Any] = -(np.cos(2 * np.pi * u) * flat + np.cos(2 * np.pi * v)) / (1 + flat)
    return round_


@njit(inline="always")
def _height(u, v, kind) -> Any:  # type: ignore[no-untyped-def]
    if kind == 2:
        return 1.0 - abs(u - np.floor(u) - 0.5) * 2 - abs(v - np.floor(v) - 0.5) * 2
    flat = 0.62 if kind == 1 else 1.0
    return -(np.cos(2 * np.pi * u) * flat + np.cos(2 * np.pi * v)) / (1.0 + flat)


@njit(parallel=True, cache=True)
def dot_cover(  # type: ignore[no-untyped-def]
    cover, along, across, per_mm, px_mm, kind, levels
) -> Any:
    """Ink of a dot screen: the spot function against its level at 4 x 4 places in each pixel.

    per_mm: dots a mm; px_mm: size of a pixel in mm; kind: 0 round, 1 elliptical, 2 diamond;
    levels: from spot_levels. Where a dot is smaller than three pixels the wished tone itself
    takes over, since nothing smaller could be seen.
    """
    steps = levels.shape[0] - 1
    pitch_px = 1.0 / (per_mm * px_mm)
    drawn = min(max((pitch_px - 1.5) / 1.5, 0.0), 1.0)
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            wish = float(cover[row, column])
            place = wish * steps
            k = min(int(place), steps - 1)
            level = levels[k] + (place - k) * (levels[k + 1] - levels[k])
            ink = 0.0
            for j in range(4):
                for i in range(4):
                    u = (along[row, column] + (i - 1.5) * px_mm / 4) * per_mm
                    v = (across[row, column] + (j - 1.5) * px_mm / 4) * per_mm
                    ink += 1.0 if _height(u, v, kind) > level else 0.0
            out[row, column] = drawn * ink / 16 + (1 - drawn) * wish
    return out
