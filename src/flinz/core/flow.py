"""The form of a picture: which way its edges run, and sums taken along that way."""

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.filters import Plane, blurred
from flinz.core.lattice import coarser
from flinz.core.scale import Frame

# The direction field is made at no more than this, so that a proof and an export share it.
FIELD_PX_PER_MM = 2.5
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

    def place(self, frame: Frame) -> Plane:
        """Scale and offset in x, then in y, from pixels of a frame to the field's."""
        grid = self.frame
        to_x, to_y = grid.full_width / frame.full_width, grid.full_height / frame.full_height
        offset_x = (frame.left + 0.5) * to_x - grid.left
        offset_y = (frame.top + 0.5) * to_y - grid.top
        return np.array([to_x, offset_x, to_y, offset_y], np.float32)


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
    small, grid = coarser(tone, frame, FIELD_PX_PER_MM)
    calm = blurred(small, grid.px(GRADIENT_SIGMA_MM))
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
    return Field(np.asarray(_minor_eigenvectors(xx, xy, yy), np.float32), grid)


@njit(parallel=True, fastmath=True, cache=True)
def _minor_eigenvectors(xx, xy, yy) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty((*xx.shape, 2), np.float32)
    half = np.float32(0.5)
    for row in prange(xx.shape[0]):
        for column in range(xx.shape[1]):
            # Twice the angle of the gradient, then the half of it by the half-angle formulas.
            across = xx[row, column] - yy[row, column]
            mixed = 2 * xy[row, column]
            size = np.sqrt(across * across + mixed * mixed) + np.float32(1e-20)
            cosine = np.sqrt(max(half + half * across / size, np.float32(0.0)))
            sine = np.sqrt(max(half - half * across / size, np.float32(0.0)))
            out[row, column, 0] = -sine if mixed >= 0 else sine
            out[row, column, 1] = cosine
    return out


def along_form(
    plane: Plane,
    frame: Frame,
    field: Field,
    sigma_px: float,
    where: NDArray[np.bool_] | None = None,
    step_px: float = 1.0,
) -> Plane:
    """Gaussian mean of a plane along a direction field, over a straight line at each pixel.

    plane: (H, W) float32 in frame; sigma_px in pixels of plane; where: (H, W) pixels to work
    out, the others keep their value. For sums no longer than the field is smooth: there a
    straight line follows the form, and costs a third of tracing it (B. Cabral and L. Leedom,
    1993, trace it).
    """
    steps = max(1, math.ceil(2.2 * sigma_px / step_px))
    weights = np.exp(-0.5 * (np.arange(steps + 1) * step_px / max(sigma_px, 1e-6)) ** 2)
    weights /= weights[0] + 2 * weights[1:].sum()
    mask = np.ones(plane.shape, np.bool_) if where is None else where
    # Beyond the edge the outermost pixel goes on; padding spares the check at every sample.
    margin = math.ceil(steps * step_px) + 2
    padded = cv2.copyMakeBorder(plane, margin, margin, margin, margin, cv2.BORDER_REPLICATE)
    summed = _straight(
        padded,
        margin,
        field.directions,
        field.place(frame),
        weights.astype(np.float32),
        np.float32(step_px),
        mask,
    )
    return np.asarray(summed, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _straight(  # type: ignore[no-untyped-def]
    padded, margin, directions, place, weights, step, mask
) -> Any:
    # Offsets are whole numbers of 1/65,536 pixel, which are quick to part; samples are taken in
    # pairs on both sides.
    height, width = mask.shape
    across = padded.shape[1]
    values = padded.ravel()
    field_h, field_w = directions.shape[:2]
    to_x, from_x, to_y, from_y = place
    unit = np.float32(1 / 65_536)
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        fy = min(max(int(row * to_y + from_y), 0), field_h - 1)
        for column in range(width):
            here = (row + margin) * across + column + margin
            if not mask[row, column]:
                out[row, column] = values[here]
                continue
            fx = min(max(int(column * to_x + from_x), 0), field_w - 1)
            dx = np.int32(directions[fy, fx, 0] * step * np.float32(65_536))
            dy = np.int32(directions[fy, fx, 1] * step * np.float32(65_536))
            total = weights[0] * values[here]
            for k in range(1, weights.shape[0]):
                pair = np.float32(0.0)
                for side in (-k, k):
                    x = side * dx
                    y = side * dy
                    at = here + (y >> 16) * across + (x >> 16)
                    u = np.float32(x & 65_535) * unit
                    v = np.float32(y & 65_535) * unit
                    top = values[at] + u * (values[at + 1] - values[at])
                    below = at + across
                    low = values[below] + u * (values[below + 1] - values[below])
                    pair += top + v * (low - top)
                total += weights[k] * pair
            out[row, column] = total
    return out


def traced(
    plane: Plane,
    frame: Frame,
    field: Field,
    sigma_px: float,
    where: NDArray[np.bool_] | None = None,
    step_px: float = 1.0,
) -> Plane:
    """Gaussian mean of a plane along the curves of a direction field.

    As along_form, but each pixel's curve is followed step by step, so that it may be long and
    bend: a line integral with linear sampling, after B. Cabral and L. Leedom (1993).
    """
    steps = max(1, math.ceil(2.0 * sigma_px / step_px))
    weights = np.exp(-0.5 * (np.arange(steps + 1) * step_px / max(sigma_px, 1e-6)) ** 2)
    mask = np.ones(plane.shape, np.bool_) if where is None else where
    summed = _traced(
        plane,
        field.directions,
        field.place(frame),
        weights.astype(np.float32),
        np.float32(step_px),
        mask,
    )
    return np.asarray(summed, np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _traced(  # type: ignore[no-untyped-def]
    plane, directions, place, weights, step, mask
) -> Any:
    height, width = plane.shape
    field_h, field_w = directions.shape[:2]
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
            fy = min(max(int(row * to_y + from_y), 0), field_h - 1)
            fx = min(max(int(column * to_x + from_x), 0), field_w - 1)
            first_x = directions[fy, fx, 0]
            first_y = directions[fy, fx, 1]
            for _ in range(2):
                dx, dy = first_x, first_y
                x, y = np.float32(column), np.float32(row)
                for k in range(1, weights.shape[0]):
                    x += dx * step
                    y += dy * step
                    if x < 0 or y < 0 or x > limit_x or y > limit_y:
                        break
                    ix, iy = int(x), int(y)
                    u, v = x - ix, y - iy
                    top = plane[iy, ix] + u * (plane[iy, ix + 1] - plane[iy, ix])
                    low = plane[iy + 1, ix] + u * (plane[iy + 1, ix + 1] - plane[iy + 1, ix])
                    total += weights[k] * (top + v * (low - top))
                    weight += weights[k]
                    fy = min(max(int(y * to_y + from_y), 0), field_h - 1)
                    fx = min(max(int(x * to_x + from_x), 0), field_w - 1)
                    nx = directions[fy, fx, 0]
                    ny = directions[fy, fx, 1]
                    # The field has no heading; keep the one we came with.
                    if nx * dx + ny * dy < 0:
                        nx, ny = -nx, -ny
                    dx, dy = nx, ny
                first_x, first_y = -first_x, -first_y
            out[row, column] = total / weight
    return out
