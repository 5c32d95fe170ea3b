"""The form of a picture: which way its edges run, and sums taken along that way."""

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.filters import Plane, blurred
from flinz.core.lattice import lattice_frame, resampled
from flinz.core.scale import Frame

# The direction field is made at no more than this, so that a proof and an export share it.
FIELD_PX_PER_MM = 3.5
GRADIENT_SIGMA_MM = 0.29


@dataclass(frozen=True, eq=False)
class Field:
    """Unit directions along the edges: (h, w, 2) float32 (x, y down), on a frame of its own."""

    directions: Plane
    frame: Frame

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return int(self.directions.nbytes)


def direction_field(
    tone: Plane, frame: Frame, smoothing_mm: float, rest_deg: float = 0.0, rest: float = 2e-4
) -> Field:
    """The direction along the edges at every place.

    tone: (H, W) float32. smoothing_mm: how far neighbours agree. Where the picture is flat the
    direction is rest_deg (counter-clockwise from the x axis); rest is the squared tone per mm
    at which form and rest weigh the same.

    The minor eigenvector of the structure tensor, smoothed; after J. Weickert (1998) and
    H. Kang et al. (2007).
    """
    grid = frame
    if frame.px_per_mm > FIELD_PX_PER_MM:
        grid = lattice_frame(frame, FIELD_PX_PER_MM)
    calm = blurred(resampled(tone, frame, grid), grid.px(GRADIENT_SIGMA_MM))
    across_x = cv2.Scharr(calm, cv2.CV_32F, 1, 0, scale=grid.px_per_mm / 32)
    across_y = cv2.Scharr(calm, cv2.CV_32F, 0, 1, scale=grid.px_per_mm / 32)
    sigma = grid.px(smoothing_mm)
    xx = blurred(np.asarray(across_x * across_x, np.float32), sigma)
    xy = blurred(np.asarray(across_x * across_y, np.float32), sigma)
    yy = blurred(np.asarray(across_y * across_y, np.float32), sigma)
    # A flat place gets the tensor of an edge that runs along the angle of rest (y points down).
    angle = -math.radians(rest_deg)
    xx = xx + np.float32(rest * math.sin(angle) ** 2)
    yy = yy + np.float32(rest * math.cos(angle) ** 2)
    xy = xy - np.float32(rest * math.sin(angle) * math.cos(angle))
    half_turn = 0.5 * np.arctan2(2 * xy, xx - yy) + np.float32(math.pi / 2)
    return Field(np.stack([np.cos(half_turn), np.sin(half_turn)], -1).astype(np.float32), grid)


def along_form(
    plane: Plane,
    frame: Frame,
    field: Field,
    sigma_px: float,
    where: NDArray[np.bool_] | None = None,
    step_px: float = 1.0,
) -> Plane:
    """Gaussian mean of a plane along a direction field.

    plane: (H, W) float32 in frame; sigma_px in pixels of plane; where: (H, W) pixels to work
    out, the others keep their value.
    A line integral with linear sampling; after B. Cabral and L. Leedom (1993).
    """
    steps = max(1, math.ceil(2.2 * sigma_px / step_px))
    weights = np.exp(-0.5 * (np.arange(steps + 1) * step_px / max(sigma_px, 1e-6)) ** 2)
    mask = np.ones(plane.shape, np.bool_) if where is None else where
    grid = field.frame
    to_x, to_y = grid.full_width / frame.full_width, grid.full_height / frame.full_height
    place = np.array(
        [
            to_x,
            (frame.left + 0.5) * to_x - grid.left,
            to_y,
            (frame.top + 0.5) * to_y - grid.top,
        ],
        np.float32,
    )
    summed = _integrate(
        plane, field.directions, place, weights.astype(np.float32), np.float32(step_px), mask
    )
    return np.asarray(summed, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _integrate(  # type: ignore[no-untyped-def]
    plane, field, place, weights, step, mask
) -> Any:
    height, width = plane.shape
    field_h, field_w = field.shape[0], field.shape[1]
    to_x, from_x, to_y, from_y = place
    limit_x = np.float32(width - 1.001)
    limit_y = np.float32(height - 1.001)
    out = np.empty_like(plane)
    for row in prange(height):
        for column in range(width):
            if not mask[row, column]:
                out[row, column] = plane[row, column]
                continue
            total = weights[0] * plane[row, column]
            weight = weights[0]
            for side in range(2):
                x = np.float32(column)
                y = np.float32(row)
                fy = min(max(int(y * to_y + from_y), 0), field_h - 1)
                fx = min(max(int(x * to_x + from_x), 0), field_w - 1)
                dx = field[fy, fx, 0]
                dy = field[fy, fx, 1]
                if side == 1:
                    dx = -dx
                    dy = -dy
                for k in range(1, weights.shape[0]):
                    x += dx * step
                    y += dy * step
                    if x < 0 or y < 0 or x > limit_x or y > limit_y:
                        break
                    ix = int(x)
                    iy = int(y)
                    u = x - ix
                    v = y - iy
                    top = plane[iy, ix] * (1 - u) + plane[iy, ix + 1] * u
                    low = plane[iy + 1, ix] * (1 - u) + plane[iy + 1, ix + 1] * u
                    total += weights[k] * (top * (1 - v) + low * v)
                    weight += weights[k]
                    fy = min(max(int(y * to_y + from_y), 0), field_h - 1)
                    fx = min(max(int(x * to_x + from_x), 0), field_w - 1)
                    nx = field[fy, fx, 0]
                    ny = field[fy, fx, 1]
                    if nx * dx + ny * dy < 0:
                        nx = -nx
                        ny = -ny
                    dx = nx
                    dy = ny
            out[row, column] = total / weight
    return out
