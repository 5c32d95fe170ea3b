"""Screens: periodic lines and dots whose ink is exact at any scale, so that they never alias."""

import math
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay

SPOT_STEPS = 1024
BEYOND = 0.01
# Diamonds are sampled a little beside the middle: on it, at a right angle, whole rows of samples
# would lie just on an edge.
NUDGED = 1.37
# How much longer than wide an elliptical dot's tone spreads.
ELLIPTICAL = 0.62


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
            ink = (_inked_up_to(x + reach, duty) - _inked_up_to(x - reach, duty)) / (2 * reach)
            # Lines closer than a pixel or two would beat with the pixels; there tone is all
            # that can be seen.
            drawn = min(max((0.5 / reach - 2.4) / 2.8, 0.0), 1.0)
            out[row, column] = min(max(drawn * ink + (1.0 - drawn) * duty, 0.0), 1.0)
    return out


def positions(frame: Frame, angle_deg: float, lay: Lay | None = None) -> tuple[Plane, Plane]:
    """Place in the box in mm along and across an angle (counter-clockwise), (H, W) float32 each.

    lay: how the box lies where the frame is the paper's; None where the frame is the box's own.
    """
    if lay is None:
        x = ((frame.left + np.arange(frame.width) + 0.5) / frame.px_per_mm)[None]
        y = ((frame.top + np.arange(frame.height) + 0.5) / frame.px_per_mm)[:, None]
    else:
        column, row = (np.arange(frame.width) + 0.5)[None], (np.arange(frame.height) + 0.5)[:, None]
        x, y = (by[0] * column + by[1] * row + by[2] for by in lay.box_mm(frame))
    cosine, sine = np.cos(np.radians(angle_deg)), np.sin(np.radians(angle_deg))
    along = x * cosine - y * sine
    across = x * sine + y * cosine
    return along.astype(np.float32), across.astype(np.float32)


def pixel_span(frame: Frame, pitch_mm: float, lay: Lay | None = None) -> np.float32:
    """How many pitches a pixel spans across lines.

    A square seen from any side has the same spread as a stretch as long as its own side.
    """
    return np.float32(1 / _px_per_mm(frame, lay) / pitch_mm)


def box_size(frame: Frame, lay: Lay | None = None) -> tuple[float, float]:
    """Width and height of the box, mm."""
    if lay is not None:
        return lay.width, lay.height
    return frame.full_width / frame.px_per_mm, frame.full_height / frame.px_per_mm


def _px_per_mm(frame: Frame, lay: Lay | None) -> float:
    # Pixels to a millimetre of the box.
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
    """Ink of a dot screen: the spot function against its level at 4 x 4 places in each pixel.

    cover: (H, W) float32 ink wished in frame; per_mm: dots a mm; kind: 0 round, 1 elliptical,
    2 diamond; levels: from spot_levels; lay: as for positions. Where a dot is smaller than three
    pixels the wished tone itself takes over, since nothing smaller could be seen.
    """
    # Dots a pixel, to the right and down, along and across the screen.
    per_px = per_mm / _px_per_mm(frame, lay)
    turn_deg = angle_deg if lay is None else lay.turn + (-angle_deg if lay.mirrored else angle_deg)
    cosine, sine = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    step_u, step_v = per_px * cosine, per_px * sine
    start_x, start_y = frame.left + 0.5, frame.top + 0.5
    if lay is not None:
        start_x, start_y = _start_of_lattice(frame, lay, cosine, sine, angle_deg)
    drawn = min(max((1 / per_px - 1.5) / 1.5, 0.0), 1.0)
    kernel = _diamond_dots if kind == 2 else _cosine_dots
    flat = ELLIPTICAL if kind == 1 else 1.0
    return np.asarray(
        kernel(cover, start_x, start_y, step_u, step_v, per_px, flat, drawn, levels), np.float32
    )


def _start_of_lattice(
    frame: Frame, lay: Lay, cosine: float, sine: float, angle_deg: float
) -> tuple[float, float]:
    """Where the first pixel of a frame of the paper would lie, in pixels, if the screen hung on the
    corner of the paper. cosine, sine: of the direction in which it lies there. Dots are the same
    from both sides, so that a mirrored screen is one that is turned the other way.
    """
    x, y = lay.box_mm(frame) @ (0.5, 0.5, 1.0) * _px_per_mm(frame, lay)
    in_box = math.radians(angle_deg)
    along = x * math.cos(in_box) - y * math.sin(in_box)
    across = x * math.sin(in_box) + y * math.cos(in_box)
    if lay.mirrored:
        along = -along
    return along * cosine + across * sine, across * cosine - along * sine


@njit(parallel=True, fastmath=True, cache=True)
def _cosine_dots(  # type: ignore[no-untyped-def]
    cover, start_x, start_y, step_u, step_v, per_px, flat, drawn, levels
) -> Any:
    steps = levels.shape[0] - 1
    turn = 2.0 * np.pi
    # From pixel to pixel and from sample to sample the cosines turn by fixed angles: four
    # products a pixel in place of 32 cosines.
    cos_u, sin_u = np.cos(turn * step_u), np.sin(turn * step_u)
    cos_v, sin_v = np.cos(turn * step_v), np.sin(turn * step_v)
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        u = turn * (start_x * step_u - (start_y + row) * step_v)
        v = turn * (start_x * step_v + (start_y + row) * step_u)
        real_u, imaginary_u, real_v, imaginary_v = np.cos(u), np.sin(u), np.cos(v), np.sin(v)
        within_cos, within_sin = np.empty(4), np.empty(4)
        for k in range(4):
            within_cos[k] = np.cos(turn * per_px * (k - 1.5) / 4)
            within_sin[k] = np.sin(turn * per_px * (k - 1.5) / 4)
        for column in range(cover.shape[1]):
            wish = cover[row, column]
            place = wish * np.float32(steps)
            k = min(int(place), steps - 1)
            level = levels[k] + (place - k) * (levels[k + 1] - levels[k])
            # The height is -(flat cos u + cos v) / (1 + flat).
            bar = -level * (1.0 + flat)
            inked = 0
            for i in range(4):
                rest = bar - flat * (real_u * within_cos[i] - imaginary_u * within_sin[i])
                for j in range(4):
                    inked += real_v * within_cos[j] - imaginary_v * within_sin[j] < rest
            out[row, column] = drawn * inked / 16 + (1 - drawn) * wish
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
    cover, start_x, start_y, step_u, step_v, per_px, flat, drawn, levels
) -> Any:
    steps = levels.shape[0] - 1
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            wish = cover[row, column]
            place = wish * np.float32(steps)
            k = min(int(place), steps - 1)
            level = levels[k] + (place - k) * (levels[k + 1] - levels[k])
            u = (start_x + column) * step_u - (start_y + row) * step_v
            v = (start_x + column) * step_v + (start_y + row) * step_u
            inked = 0
            for i in range(4):
                at_u = u + (i - NUDGED) * per_px / 4
                rest = 1.0 - abs(at_u - np.floor(at_u) - 0.5) * 2 - level
                for j in range(4):
                    at_v = v + (j - 1.5) * per_px / 4
                    inked += abs(at_v - np.floor(at_v) - 0.5) * 2 < rest
            out[row, column] = drawn * inked / 16 + (1 - drawn) * wish
    return out
