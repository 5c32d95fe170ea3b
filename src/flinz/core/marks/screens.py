"""Screens: periodic lines and dots whose ink is exact at any scale, so that they never alias."""

import math
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay

# In pixels that are shown: marks this far apart are drawn, and no longer this far.
WHOLE_PX, GONE_PX = 2.05, 1.75
# A pixel spans at least this share of a pitch, or there would be nothing to divide by.
LEAST_SPAN = 1e-4
SPOT_STEPS = 1024
BEYOND = 0.01
# Places each way in a pixel at which dots are asked for, no two of them in a row or a column: along
# an edge that is upright or level all of them tell.
SAMPLES = 4
# Nearer the edge of a dot than the inverse of this, in heights, is on it.
ON_EDGE = 1e6
# How much longer than wide an elliptical dot's tone spreads.
ELLIPTICAL = 0.62


def line_cover(cover: Plane, phase: Plane, finer: int = 1) -> Plane:
    """Ink of a line screen, (H, W) float32.

    cover: ink wished, 0..1. phase: position across the lines in line pitches, (H, W) float32;
    lines are centred on whole numbers. finer: how many pixels are shown as one (see
    flinz.core.scale.Frame). Each pixel gets the mean of the lines over its own square, by their
    second antiderivative: at any ruling, angle and scale the tone is kept and nothing beats.
    """
    return np.asarray(_line_cover(cover, phase, finer), np.float32)


def drawn_share(pitch_px: float) -> float:
    """How much of a screen is drawn, 0..1, by how many pixels that are shown part its marks."""
    # Marks closer than a pixel or two would beat with the pixels that are shown; there tone is all
    # that can be seen.
    return min(max((pitch_px - GONE_PX) / (WHOLE_PX - GONE_PX), 0.0), 1.0)


_drawn_at = njit(inline="always")(drawn_share)


@njit(inline="always")
def _bent(x, duty) -> Any:  # type: ignore[no-untyped-def]
    # Ink of lines of width duty centred on whole numbers, less its mean, integrated twice: again
    # periodic and even.
    away = abs(x - np.rint(x))
    half = duty / 2
    if away <= half:
        return (1.0 - duty) * away * away / 2
    return (1.0 - duty) * half * half / 2 + half * (away - half) * (1.0 - away - half)


@njit(parallel=True, cache=True)
def _line_cover(cover, phase, finer) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(cover)
    height, width = cover.shape
    for row in prange(height):
        above, below = max(row - 1, 0), min(row + 1, height - 1)
        for column in range(width):
            left, right = max(column - 1, 0), min(column + 1, width - 1)
            x, duty = float(phase[row, column]), float(cover[row, column])
            # Half of what the pixel spans, over its columns and over its rows.
            a = abs(float(phase[row, right]) - float(phase[row, left])) / max(right - left, 1) / 2
            b = abs(float(phase[below, column]) - float(phase[above, column]))
            b /= 2 * max(below - above, 1)
            a, b = max(a, LEAST_SPAN), max(b, LEAST_SPAN)
            drawn = _drawn_at(0.5 / np.sqrt(a * a + b * b) / finer)
            away, reach = abs(x - np.rint(x)), a + b
            # Most pixels lie all in a line or all between two.
            if away + reach <= duty / 2:
                out[row, column] = duty + drawn * (1.0 - duty)
                continue
            if away - reach >= duty / 2:
                out[row, column] = duty - drawn * duty
                continue
            bend = _bent(x + reach, duty) - _bent(x + a - b, duty)
            bend += _bent(x - reach, duty) - _bent(x - a + b, duty)
            out[row, column] = min(max(duty + drawn * bend / (4 * a * b), 0.0), 1.0)
    return out


def positions(frame: Frame, angle_deg: float, lay: Lay | None = None) -> tuple[Plane, Plane]:
    """Place in the box in mm along and across an angle (counter-clockwise), (H, W) float32 each.

    lay: how the box lies where the frame is the paper's; None where the frame is the box's own.
    """
    if lay is None:
        columns, rows = frame.middles
        x, y = columns[None], rows[:, None]
    else:
        column, row = (np.arange(frame.width) + 0.5)[None], (np.arange(frame.height) + 0.5)[:, None]
        x, y = (by[0] * column + by[1] * row + by[2] for by in lay.box_mm(frame))
    cosine, sine = np.cos(np.radians(angle_deg)), np.sin(np.radians(angle_deg))
    along = x * cosine - y * sine
    across = x * sine + y * cosine
    return along.astype(np.float32), across.astype(np.float32)


def box_size(frame: Frame, lay: Lay | None = None) -> tuple[float, float]:
    """Width and height of the box, mm."""
    if lay is not None:
        return lay.width, lay.height
    return frame.sheet_mm


def box_px_per_mm(frame: Frame, lay: Lay | None) -> float:
    """Pixels to a millimetre of the box."""
    return frame.px_per_mm if lay is None else frame.px_per_mm * lay.scale


def spot_levels(kind: int) -> NDArray[np.float32]:
    """(SPOT_STEPS + 1,) the height of the spot function that leaves k / SPOT_STEPS above it."""
    cell = (np.arange(512) + 0.5) / 512
    heights = np.sort(
        _heights(np.tile(cell, (512, 1)), np.tile(cell[:, None], (1, 512)), kind), None
    )
    shares = np.linspace(1, 0, SPOT_STEPS + 1)
    levels = np.quantile(heights, shares)
    # The samples miss the very tip of a dot: bare paper must lie above it, and black below all.
    levels[0], levels[-1] = levels[0] + BEYOND, levels[-1] - BEYOND
    return np.asarray(levels, np.float32)


def _heights(u: NDArray[Any], v: NDArray[Any], kind: int) -> NDArray[Any]:
    if kind == 2:
        diamond: NDArray[Any] = 1 - np.abs((u % 1) - 0.5) * 2 - np.abs((v % 1) - 0.5) * 2
        return diamond
    flat = ELLIPTICAL if kind == 1 else 1.0
    round_: NDArray[Any] = -(np.cos(2 * np.pi * u) * flat + np.cos(2 * np.pi * v)) / (1 + flat)
    return round_


def dot_cover(
    cover: Plane,
    frame: Frame,
    angle_deg: float,
    per_mm: float,
    kind: int,
    levels: NDArray[np.float32],
    lay: Lay | None = None,
) -> Plane:
    """Ink of a dot screen: the spot function against its level at 16 places in each pixel.

    cover: (H, W) float32 ink wished in frame; per_mm: dots a mm; kind: 0 round, 1 elliptical,
    2 diamond; levels: from spot_levels; lay: as for positions. Where dots lie closer than three
    pixels of what is shown the wished tone itself takes over, since nothing smaller could be seen.
    """
    # Dots a pixel, to the right and down, along and across the screen.
    per_px = per_mm / box_px_per_mm(frame, lay)
    turn_deg = angle_deg if lay is None else lay.turn + (-angle_deg if lay.mirrored else angle_deg)
    cosine, sine = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    step_u, step_v = per_px * cosine, per_px * sine
    start_x, start_y = frame.left + 0.5, frame.top + 0.5
    high = 1 / frame.stretch
    if lay is not None:
        start_x, start_y = _start_of_lattice(frame, lay, cosine, sine, angle_deg)
    drawn = drawn_share(1 / per_px / frame.finer)
    kernel = _diamond_dots if kind == 2 else _cosine_dots
    flat = ELLIPTICAL if kind == 1 else 1.0
    return np.asarray(
        kernel(cover, start_x, start_y, high, step_u, step_v, flat, drawn, levels), np.float32
    )


def _start_of_lattice(
    frame: Frame, lay: Lay, cosine: float, sine: float, angle_deg: float
) -> tuple[float, float]:
    """Where the first pixel of a frame of the paper would lie, in pixels, if the screen hung on the
    corner of the paper. cosine, sine: of the direction in which it lies there. Dots are the same
    from both sides, so that a mirrored screen is one that is turned the other way.
    """
    x, y = lay.box_mm(frame) @ (0.5, 0.5, 1.0) * box_px_per_mm(frame, lay)
    in_box = math.radians(angle_deg)
    along = x * math.cos(in_box) - y * math.sin(in_box)
    across = x * math.sin(in_box) + y * math.cos(in_box)
    if lay.mirrored:
        along = -along
    return along * cosine + across * sine, across * cosine - along * sine


@njit(inline="always")
def sample_at(along, across) -> Any:  # type: ignore[no-untyped-def]
    """Where a sample stands, in pixels from the middle."""
    return (along + (across + 0.5) / SAMPLES) / SAMPLES - 0.5


@njit(parallel=True, fastmath=True, cache=True)
def _cosine_dots(  # type: ignore[no-untyped-def]
    cover, start_x, start_y, high, step_u, step_v, flat, drawn, levels
) -> Any:
    steps = levels.shape[0] - 1
    turn = 2.0 * np.pi
    # From pixel to pixel and from sample to sample the cosines turn by fixed angles: products in
    # place of cosines.
    cos_u, sin_u = np.cos(turn * step_u), np.sin(turn * step_u)
    cos_v, sin_v = np.cos(turn * step_v), np.sin(turn * step_v)
    # Samples stand in the pixel's own square, as the mean over it wants.
    within = np.empty((4, SAMPLES * SAMPLES))
    for j in range(SAMPLES):
        for i in range(SAMPLES):
            right, low = sample_at(i, j), sample_at(j, i)
            u, v = turn * (right * step_u - low * step_v), turn * (right * step_v + low * step_u)
            at = j * SAMPLES + i
            within[0, at], within[1, at] = np.cos(u), np.sin(u)
            within[2, at], within[3, at] = np.cos(v), np.sin(v)
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        down = (start_y + row) * high
        u = turn * (start_x * step_u - down * step_v)
        v = turn * (start_x * step_v + down * step_u)
        real_u, imaginary_u, real_v, imaginary_v = np.cos(u), np.sin(u), np.cos(v), np.sin(v)
        for column in range(cover.shape[1]):
            wish = cover[row, column]
            place = wish * np.float32(steps)
            k = min(int(place), steps - 1)
            level = levels[k] + (place - k) * (levels[k + 1] - levels[k])
            # The height is -(flat cos u + cos v) / (1 + flat).
            bar = -level * (1.0 + flat)
            inked = 0
            for at in range(SAMPLES * SAMPLES):
                height = flat * (real_u * within[0, at] - imaginary_u * within[1, at])
                height += real_v * within[2, at] - imaginary_v * within[3, at]
                inked += height < bar
            out[row, column] = drawn * inked / (SAMPLES * SAMPLES) + (1 - drawn) * wish
            real_u, imaginary_u = (
                real_u * cos_u - imaginary_u * sin_u,
                real_u * sin_u + imaginary_u * cos_u,
            )
            real_v, imaginary_v = (
                real_v * cos_v - imaginary_v * sin_v,
                real_v * sin_v + imaginary_v * cos_v,
            )
    return out


@njit(parallel=True, fastmath=True, cache=True)
def _diamond_dots(  # type: ignore[no-untyped-def]
    cover, start_x, start_y, high, step_u, step_v, flat, drawn, levels
) -> Any:
    steps = levels.shape[0] - 1
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            wish = cover[row, column]
            place = wish * np.float32(steps)
            k = min(int(place), steps - 1)
            level = levels[k] + (place - k) * (levels[k + 1] - levels[k])
            inked = 0.0
            for j in range(SAMPLES):
                for i in range(SAMPLES):
                    x = start_x + column + sample_at(i, j)
                    y = (start_y + row + sample_at(j, i)) * high
                    u, v = x * step_u - y * step_v, x * step_v + y * step_u
                    height = abs(u - np.floor(u) - 0.5) + abs(v - np.floor(v) - 0.5)
                    # What lies on the very edge counts by half, or upright diamonds would be light.
                    inked += min(max((1.0 - 2 * height - level) * ON_EDGE + 0.5, 0.0), 1.0)
            out[row, column] = drawn * inked / (SAMPLES * SAMPLES) + (1 - drawn) * wish
    return out
