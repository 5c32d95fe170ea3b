"""Sums along curves that follow the form of a picture."""

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.planes.flow import IN_ORDER, Field
from flinz.core.scale import Frame

# Cosine of a turn in one step beyond which a curve has met another form, and ends.
SHARPEST_TURN = 0.64
MOST_SAMPLES = 60
# Pixels across a cell up to which its sums are taken pixel by pixel, and beyond which sample by
# sample along its rows.
NARROW = 6


@dataclass(frozen=True, eq=False)
class Curves:
    """The curve of the form through the middle of each cell of a field, as samples.

    steps: (h, w, 2 n, 2) int16, where the samples lie from the middle, in thousandths of a mm, n
    one way and then n the other; weights: (n + 1,) float32 by distance; ends: (h, w, 2) uint8,
    how many samples either way has before the form breaks off.
    """

    field: Field
    steps: NDArray[np.int16]
    ends: NDArray[np.uint8]
    weights: NDArray[np.float32]


def curves(field: Field, sigma_mm: float, step_mm: float) -> Curves:
    """Curves that follow a field for two sigma_mm each way, sampled every step_mm.

    Each step goes the mean of the directions at both of its ends (K. Heun, 1900), so that long
    steps stay on a tight curve. Where the field turns sharply a curve has met another form, and
    ends.
    """
    count = min(MOST_SAMPLES, max(1, math.ceil(2.0 * sigma_mm / step_mm)))
    weights = np.exp(-0.5 * (np.arange(count + 1) * step_mm / max(sigma_mm, 1e-6)) ** 2)
    steps, ends = _followed(
        field.directions, np.float32(step_mm), np.float32(field.frame.px_per_mm), count
    )
    return Curves(field, steps, ends, weights.astype(np.float32))


def traced(
    plane: Plane,
    frame: Frame,
    along: Curves,
    where: NDArray[np.bool_] | None = None,
    every: int = 1,
) -> Plane:
    """Weighted mean of a plane along the curves of its form.

    plane: (H, W) float32 in frame. As along_form, but the line bends, and pixels outside where
    become 0. every: 2 takes every other sample, for a search. A line integral with linear
    sampling, after B. Cabral and L. Leedom (1993), but the pixels of one cell share the curve
    through its middle, which is the whole of the saving.
    """
    mask = np.ones(plane.shape, np.bool_) if where is None else where
    reach = float(np.abs(along.steps).max(initial=0)) / 1000
    margin = math.ceil(frame.px(reach)) + 2
    padded = cv2.copyMakeBorder(plane, margin, margin, margin, margin, cv2.BORDER_REPLICATE)
    summed = _traced(
        padded,
        margin,
        along.steps,
        along.ends,
        along.weights,
        along.field.place(frame),
        np.float32(frame.px_per_mm / 1000),
        mask,
        every,
    )
    return np.asarray(summed, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _followed(directions, step_mm, px_per_mm, count) -> Any:  # type: ignore[no-untyped-def]
    field_h, field_w = directions.shape[:2]
    steps = np.zeros((field_h, field_w, 2 * count, 2), np.int16)
    ends = np.empty((field_h, field_w, 2), np.uint8)
    stride = step_mm * px_per_mm
    thousandths = np.float32(1000) / px_per_mm
    for cell_y in prange(field_h):
        for cell_x in range(field_w):
            for side in range(2):
                dx = directions[cell_y, cell_x, 0]
                dy = directions[cell_y, cell_x, 1]
                if side:
                    dx, dy = -dx, -dy
                x, y = np.float32(0.5), np.float32(0.5)
                reached = 0
                for k in range(count):
                    fx = min(max(cell_x + int(np.floor(x + dx * stride)), 0), field_w - 1)
                    fy = min(max(cell_y + int(np.floor(y + dy * stride)), 0), field_h - 1)
                    nx, ny = directions[fy, fx, 0], directions[fy, fx, 1]
                    # The field has no heading; keep the one we came with.
                    turn = nx * dx + ny * dy
                    if turn < 0:
                        nx, ny, turn = -nx, -ny, -turn
                    if turn < SHARPEST_TURN:
                        break
                    x += stride * np.float32(0.5) * (dx + nx)
                    y += stride * np.float32(0.5) * (dy + ny)
                    dx, dy = nx, ny
                    at = side * count + k
                    steps[cell_y, cell_x, at, 0] = int((x - np.float32(0.5)) * thousandths)
                    steps[cell_y, cell_x, at, 1] = int((y - np.float32(0.5)) * thousandths)
                    reached = k + 1
                ends[cell_y, cell_x, side] = reached
    return steps, ends


@njit(inline="always")
def _first_pixel(cell, cells, to_cell, offset, pixels) -> Any:  # type: ignore[no-untyped-def]
    # The outermost cells also take what lies beyond the field.
    if cell <= 0:
        return 0
    if cell >= cells:
        return pixels
    return min(max(int(np.ceil((cell - offset) / to_cell)), 0), pixels)


@njit(inline="always")
def _three(values, at, row_on, offsets, shares, samples) -> Any:  # type: ignore[no-untyped-def]
    # Sums for three pixels in a row: what each reads the next one reads, too.
    one, two, three = np.uint64(1), np.uint64(2), np.uint64(3)
    first = second = third = np.float32(0.0)
    for k in range(samples):
        high = at + offsets[k]
        low = high + row_on
        a, b, c, d = shares[k, 0], shares[k, 1], shares[k, 2], shares[k, 3]
        high_1, high_2 = values[high + one], values[high + two]
        low_1, low_2 = values[low + one], values[low + two]
        first += (a * values[high] + b * high_1) + (c * values[low] + d * low_1)
        second += (a * high_1 + b * high_2) + (c * low_1 + d * low_2)
        third += (a * high_2 + b * values[high + three]) + (c * low_2 + d * values[low + three])
    return first, second, third


@njit(inline="always")
def _two(values, at, row_on, offsets, shares, samples) -> Any:  # type: ignore[no-untyped-def]
    one, two = np.uint64(1), np.uint64(2)
    first = second = np.float32(0.0)
    for k in range(samples):
        high = at + offsets[k]
        low = high + row_on
        a, b, c, d = shares[k, 0], shares[k, 1], shares[k, 2], shares[k, 3]
        high_1, low_1 = values[high + one], values[low + one]
        first += (a * values[high] + b * high_1) + (c * values[low] + d * low_1)
        second += (a * high_1 + b * values[high + two]) + (c * low_1 + d * values[low + two])
    return first, second


@njit(inline="always")
def _one(values, at, row_on, offsets, shares, samples) -> Any:  # type: ignore[no-untyped-def]
    one = np.uint64(1)
    found = np.float32(0.0)
    for k in range(samples):
        high = at + offsets[k]
        low = high + row_on
        found += (shares[k, 0] * values[high] + shares[k, 1] * values[high + one]) + (
            shares[k, 2] * values[low] + shares[k, 3] * values[low + one]
        )
    return found


@njit(parallel=True, fastmath=IN_ORDER, cache=True)
def _traced(  # type: ignore[no-untyped-def]
    padded, margin, steps, ends, weights, place, px_per_thousandth, mask, every
) -> Any:
    height, width = mask.shape
    across = padded.shape[1]
    values = padded.ravel()
    field_h, field_w = ends.shape[:2]
    count = weights.shape[0] - 1
    to_x, from_x, to_y, from_y = place
    one = np.float32(1.0)
    one_on, row_on = np.uint64(1), np.uint64(across)
    out = np.zeros((height, width), np.float32)
    for fy in prange(field_h):
        top = _first_pixel(fy, field_h, to_y, from_y, height)
        bottom = _first_pixel(fy + 1, field_h, to_y, from_y, height)
        # Places are counted from the padding's corner, so that none is negative: an unsigned
        # index is not checked for counting from the end.
        home = margin * across + margin
        offsets = np.empty(2 * count + 1, np.uint64)
        shares = np.empty((2 * count + 1, 4), np.float32)
        for fx in range(field_w if bottom > top else 0):
            left = _first_pixel(fx, field_w, to_x, from_x, width)
            right = _first_pixel(fx + 1, field_w, to_x, from_x, width)
            wanted = False
            for row in range(top, bottom):
                for column in range(left, right):
                    wanted = wanted or mask[row, column]
            if not wanted:
                continue
            offsets[0] = home
            shares[0, 0] = weights[0]
            shares[0, 1] = shares[0, 2] = shares[0, 3] = np.float32(0.0)
            total_weight = weights[0]
            samples = 1
            for side in range(2):
                for k in range(every - 1, ends[fy, fx, side], every):
                    x = steps[fy, fx, side * count + k, 0] * px_per_thousandth
                    y = steps[fy, fx, side * count + k, 1] * px_per_thousandth
                    whole_x, whole_y = int(np.floor(x)), int(np.floor(y))
                    u, v = x - np.float32(whole_x), y - np.float32(whole_y)
                    w = weights[k + 1]
                    offsets[samples] = home + whole_y * across + whole_x
                    shares[samples, 0] = w * (one - u) * (one - v)
                    shares[samples, 1] = w * u * (one - v)
                    shares[samples, 2] = w * (one - u) * v
                    shares[samples, 3] = w * u * v
                    total_weight += w
                    samples += 1
            scale = one / total_weight
            if right - left <= NARROW:
                for row in range(top, bottom):
                    column = left
                    while column < right:
                        at = np.uint64(row * across + column)
                        if column + 3 <= right:
                            x, y, z = _three(values, at, row_on, offsets, shares, samples)
                            out[row, column] = scale * x
                            out[row, column + 1] = scale * y
                            out[row, column + 2] = scale * z
                            column += 3
                        elif column + 2 <= right:
                            x, y = _two(values, at, row_on, offsets, shares, samples)
                            out[row, column] = scale * x
                            out[row, column + 1] = scale * y
                            column += 2
                        else:
                            x = _one(values, at, row_on, offsets, shares, samples)
                            out[row, column] = scale * x
                            column += 1
                continue
            for k in range(samples):
                a, b = shares[k, 0] * scale, shares[k, 1] * scale
                c, d = shares[k, 2] * scale, shares[k, 3] * scale
                for row in range(top, bottom):
                    at = np.uint64(row * across + left) + offsets[k]
                    for column in range(left, right):
                        low = at + row_on
                        out[row, column] += (a * values[at] + b * values[at + one_on]) + (
                            c * values[low] + d * values[low + one_on]
                        )
                        at += one_on
    return out
