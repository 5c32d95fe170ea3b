"""Filters that several stages share: blurs of any width at a bounded cost."""

import math
from collections.abc import Callable
from typing import Any, TypeVar

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.threads import mapping

Plane = NDArray[np.float32]
P = TypeVar("P", np.float32, np.uint8, np.uint16)

# Below this the exact kernel is cheap; above it three box filters differ by about 1 % of a step.
EXACT_BELOW_PX = 6.0
BOX_PASSES = 3
BORDER = cv2.BORDER_REFLECT_101
STRIPS = 4


def blurred(plane: Plane, sigma_px: float) -> Plane:
    """Gaussian blur.

    plane: (H, W) float32. sigma_px: standard deviation in pixels; under 0.05 nothing happens.
    Wide blurs are three box filters whose variances add up to sigma²: after P. Kovesi (2010),
    "Fast almost-Gaussian filtering". Their cost does not grow with sigma.
    """
    if sigma_px < 0.05:
        return plane
    if sigma_px < EXACT_BELOW_PX:
        reach = min(math.ceil(4 * sigma_px), max(plane.shape))
        side = 2 * reach + 1
        return np.asarray(
            cv2.GaussianBlur(plane, (side, side), sigma_px, borderType=BORDER), np.float32
        )
    for side in _box_sides(sigma_px):
        plane = _boxed(plane, side)
    return plane


def _boxed(plane: Plane, side: int) -> Plane:
    reach = side // 2
    # The number of strips does not depend on the machine, so that neither does the last bit.
    count = STRIPS if plane.shape[0] >= 8 * STRIPS + 4 * reach else 1

    def mean(part: Plane) -> Plane:
        return np.asarray(cv2.blur(part, _fitting(side, part), borderType=BORDER), np.float32)

    return in_strips(plane, reach, count, mean)


def in_strips(
    plane: NDArray[P], reach: int, count: int, filtered: Callable[[NDArray[P]], NDArray[P]]
) -> NDArray[P]:
    """filtered(plane), by strips that see reach rows beyond their own.

    For filters of OpenCV that run on one core: strips use them all where that is worth it.
    """
    if count <= 1:
        return filtered(plane)
    height = plane.shape[0]
    edges = [round(k * height / count) for k in range(count + 1)]
    out = np.empty_like(plane)

    def strip(top: int, bottom: int) -> None:
        first, last = max(0, top - reach), min(height, bottom + reach)
        out[top:bottom] = filtered(plane[first:last])[top - first : bottom - first]

    for _ in mapping(plane.size)(strip, edges[:-1], edges[1:]):
        pass
    return out


def from_edge(mask: NDArray[np.bool_]) -> Plane:
    """How far each pixel lies within a mask or without it, in pixels, (H, W) float32."""
    inside = mask.view(np.uint8)
    # One takes one core: both at once.
    within, without = mapping(mask.size)(
        lambda part: cv2.distanceTransform(part, cv2.DIST_L2, 5), (inside, 1 - inside)
    )
    return np.asarray(np.maximum(within, without), np.float32)


def _box_sides(sigma_px: float) -> list[int]:
    ideal = math.sqrt(12 * sigma_px**2 / BOX_PASSES + 1)
    small = math.floor(ideal)
    small -= 1 - small % 2
    wanted = 12 * sigma_px**2 - BOX_PASSES * (small**2 + 4 * small + 3)
    many = round(wanted / (-4 * small - 4))
    return [small if k < many else small + 2 for k in range(BOX_PASSES)]


def _fitting(side: int, plane: Plane) -> tuple[int, int]:
    # The border can be reflected once only, so a box may reach as far as the picture is long.
    height, width = plane.shape
    return min(side, 2 * width - 1), min(side, 2 * height - 1)


def box_mean(plane: NDArray[np.float32], radius_px: int) -> Plane:
    """Mean over a square window of 2 radius_px + 1 pixels a side."""
    return _boxed(plane, 2 * radius_px + 1)


def averaged(picture: NDArray[P], width: int, height: int) -> NDArray[P]:
    """The picture shrunk to width x height; each pixel is the mean of the area it covers."""
    small = cv2.resize(picture, (width, height), interpolation=cv2.INTER_AREA)
    return np.asarray(small, picture.dtype)


def smoothstep(low: float, high: float, values: Plane) -> Plane:
    """0 at low, 1 at high, smooth between; low may lie above high."""
    t = np.clip((values - np.float32(low)) / np.float32(high - low), 0, 1)
    return np.asarray(t * t * (3 - 2 * t), np.float32)


@njit(inline="always")
def eased(t) -> Any:  # type: ignore[no-untyped-def]
    """smoothstep from 0 to 1 of one float32, for kernels."""
    t = min(max(t, np.float32(0.0)), np.float32(1.0))
    return t * t * (np.float32(3.0) - np.float32(2.0) * t)


def looked_up(
    plane: Plane, table: NDArray[np.float32], low: float = 0.0, high: float = 1.0
) -> Plane:
    """What a table holds for each value of a plane (H, W), float32.

    table: (N,) at even steps from low to high, straight between them; its ends hold beyond.
    """
    return np.asarray(
        _looked_up(plane, table, np.float32(low), np.float32((len(table) - 1) / (high - low))),
        np.float32,
    )


@njit(parallel=True, fastmath=True, cache=True)
def _looked_up(plane, table, low, steps) -> Any:  # type: ignore[no-untyped-def]
    last = table.shape[0] - 1
    out = np.empty_like(plane)
    for row in prange(plane.shape[0]):
        for column in range(plane.shape[1]):
            place = (plane[row, column] - low) * steps
            place = min(max(place, np.float32(0)), np.float32(last))
            k = min(int(place), last - 1)
            out[row, column] = table[k] + (place - k) * (table[k + 1] - table[k])
    return out
