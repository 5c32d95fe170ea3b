"""Pictures on a fixed grid of the sheet, whatever the output's size, and moving between grids."""

import math

import cv2
import numpy as np

from flinz.core.planes.filters import Plane, blurred
from flinz.core.scale import Frame


def lattice_frame(frame: Frame, px_per_mm: float) -> Frame:
    """The fixed grid of px_per_mm over the part of the sheet that frame shows (and a rim)."""
    step = px_per_mm / frame.px_per_mm
    full_width = max(2, round(frame.full_width * step))
    full_height = max(2, round(frame.full_height * step))
    left = max(0, math.floor(frame.left * step) - 2)
    top = max(0, math.floor(frame.top * step) - 2)
    right = min(full_width, math.ceil(frame.right * step) + 2)
    bottom = min(full_height, math.ceil(frame.bottom * step) + 2)
    scale = full_width / (frame.full_width / frame.px_per_mm)
    size = right - left, bottom - top
    return Frame(scale, full_width, full_height, left, top, *size, stretch=frame.stretch)


def coarser(plane: Plane, frame: Frame, px_per_mm: float) -> tuple[Plane, Frame]:
    """The plane on the fixed grid of px_per_mm, or as it is where the frame is no finer."""
    if frame.px_per_mm <= px_per_mm:
        return plane, frame
    grid = lattice_frame(frame, px_per_mm)
    return resampled(plane, frame, grid), grid


def resampled(plane: Plane, source: Frame, target: Frame) -> Plane:
    """The plane of one frame seen in another frame of the same sheet, (H, W) float32.

    Shrinking averages; enlarging interpolates linearly.
    """
    if source == target:
        return plane
    step_x = source.full_width / target.full_width
    step_y = source.full_height / target.full_height
    shrink = max(step_x, step_y)
    if shrink > 1:
        plane = blurred(plane, 0.45 * math.sqrt(shrink**2 - 1))
    back = np.array(
        [
            [step_x, 0, (target.left + 0.5) * step_x - 0.5 - source.left],
            [0, step_y, (target.top + 0.5) * step_y - 0.5 - source.top],
        ]
    )
    return np.asarray(
        cv2.warpAffine(
            plane,
            back,
            (target.width, target.height),
            flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
            borderMode=cv2.BORDER_REPLICATE,
        ),
        np.float32,
    )
