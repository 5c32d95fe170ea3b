"""The form of a picture: which way its edges run, and sums taken straight along that way."""

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.lattice import coarser
from flinz.core.scale import Frame

# The direction field is made at no more than this, so that a proof and an export share it.
FIELD_PX_PER_MM = 2.5
# Cells of a field to a pixel of a draft: those of one cell share a curve, which saves most of it.
DRAFT_CELLS = 0.5
GRADIENT_SIGMA_MM = 0.29
# Sums are taken in their order: in any other, the few values of a short one are gathered for a
# processor's wide registers, which takes longer.
IN_ORDER = {"contract", "arcp", "nsz"}


@dataclass(frozen=True, eq=False)
class Field:
    """Unit directions along the edges: (h, w, 2) float32 (x, y down), on a frame of its own."""

    directions: Plane
    frame: Frame

    def turned(self, angle_deg: float) -> "Field":
        """The field with every direction turned counter-clockwise."""
        cosine, sine = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
        x, y = self.directions[..., 0], self.directions[..., 1]
        # y points down.
        turned = np.stack([x * cosine + y * sine, y * cosine - x * sine], -1)
        return Field(np.asarray(turned, np.float32), self.frame)

    def place(self, frame: Frame) -> Plane:
        """Scale and offset in x, then in y, from pixels of a frame to the field's."""
        grid = self.frame
        to_x, to_y = grid.full_width / frame.full_width, grid.full_height / frame.full_height
        offset_x = (frame.left + 0.5) * to_x - grid.left
        offset_y = (frame.top + 0.5) * to_y - grid.top
        return np.array([to_x, offset_x, to_y, offset_y], np.float32)


@dataclass(frozen=True, eq=False)
class FormTensor:
    """What direction the edges around each place have: xx, xy, yy (H, W) float32 on its frame."""

    xx: Plane
    xy: Plane
    yy: Plane
    frame: Frame


def form_tensor(
    tone: Plane, frame: Frame, smoothing_mm: float, px_per_mm: float = FIELD_PX_PER_MM
) -> FormTensor:
    """The smoothed structure tensor of tone (H, W) float32, on a grid of at most px_per_mm.

    smoothing_mm: how far neighbours agree.
    """
    small, grid = coarser(tone, frame, px_per_mm)
    calm = blurred(small, grid.px(GRADIENT_SIGMA_MM))
    return FormTensor(*structure_tensor(calm, grid.px(smoothing_mm), grid.px_per_mm), grid)


def direction_field(
    tone: Plane, frame: Frame, smoothing_mm: float, px_per_mm: float = FIELD_PX_PER_MM
) -> Field:
    """The direction along the edges at every place, on a grid of at most px_per_mm.

    tone: (H, W) float32. smoothing_mm: how far neighbours agree.
    """
    return directed(form_tensor(tone, frame, smoothing_mm, px_per_mm))


def directed(form: FormTensor, rest_deg: float = 0.0, rest: float = 2e-4) -> Field:
    """The direction along the edges of a form; where it is flat, rest_deg.

    rest_deg: counter-clockwise from the x axis; rest: the squared tone per mm at which form and
    rest weigh the same. The minor eigenvector of the structure tensor, smoothed; after
    J. Weickert (1998) and H. Kang et al. (2007).
    """
    xx, xy, yy = form.xx, form.xy, form.yy
    # A flat place gets the tensor of an edge that runs along the angle of rest (y points down).
    angle = -math.radians(rest_deg)
    xx = xx + np.float32(rest * math.sin(angle) ** 2)
    yy = yy + np.float32(rest * math.cos(angle) ** 2)
    xy = xy - np.float32(rest * math.sin(angle) * math.cos(angle))
    return Field(np.asarray(_minor_eigenvectors(xx, xy, yy), np.float32), form.frame)


def structure_tensor(
    plane: Plane, sigma_px: float, px_per_mm: float = 1.0
) -> tuple[Plane, Plane, Plane]:
    """xx, xy and yy of the gradient with itself, a Gaussian mean over neighbours.

    plane: (H, W) float32; the gradient is by mm. J. Bigün and G. Granlund (1987).
    """
    across_x = cv2.Scharr(plane, cv2.CV_32F, 1, 0, scale=px_per_mm / 32)
    across_y = cv2.Scharr(plane, cv2.CV_32F, 0, 1, scale=px_per_mm / 32)
    return (
        blurred(np.asarray(across_x * across_x, np.float32), sigma_px),
        blurred(np.asarray(across_x * across_y, np.float32), sigma_px),
        blurred(np.asarray(across_y * across_y, np.float32), sigma_px),
    )


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


@njit(parallel=True, fastmath=IN_ORDER, cache=True)
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
