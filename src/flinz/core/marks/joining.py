"""Joins the loose ends of drawn lines to the ink they point at."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.marks.vectors import Column, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.planes.lattice import coarser
from flinz.core.scale import Frame

INKED = 0.5
# Ends are looked for on a grid on which a nib is this wide.
SURVEY_PX_PER_NIB = 2.0
# A rim that comes back to within LOOSE of how far it went has turned round the end of a line.
ARM_NIBS, LOOSE = 1.6, 0.85
# How far a pen goes on to close a gap, and how far it swerves for that.
GAP_NIBS = 3.5
SWERVE = math.cos(math.radians(35))
# Of a nib: how wide the pen is where it closes a gap.
JOINT = 0.8


def joints(cover: Plane, frame: Frame, nib_mm: float) -> Strokes:
    """Short strokes from loose ends of lines to the ink ahead of them.

    cover: ink (H, W) float32 0..1, lines about nib_mm wide. An end is where the rim of the ink
    turns back on itself; from there the nearest ink within GAP_NIBS is taken that lies ahead and
    does not hang together with the end close by. What counts is near, so that a part of a sheet
    is joined as the whole is.
    """
    survey, grid = coarser(cover, frame, SURVEY_PX_PER_NIB / nib_mm)
    nib = grid.px(nib_mm)
    inked = (survey >= INKED).astype(np.uint8)
    rims, _ = cv2.findContours(inked, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    arm = max(2, round(ARM_NIBS * nib))
    rims = [rim[:, 0, :] for rim in rims if len(rim) > 2 * arm + 1]
    if not rims:
        return _strokes(np.zeros((0, 4)), grid, nib_mm)
    first = np.cumsum([0, *(len(rim) for rim in rims)])
    ends = _loose_ends(np.concatenate(rims), first, arm, np.float32(LOOSE * arm))
    # Where a frame cuts a line there is no end.
    beyond = math.ceil(GAP_NIBS * nib) + 1
    x, y = ends[:, 0], ends[:, 1]
    inner = (np.minimum(x, y) >= 2) & (x < grid.width - 2) & (y < grid.height - 2)
    return _strokes(
        _links(inked, ends[inner], beyond, np.float32(GAP_NIBS * nib), np.float32(SWERVE)),
        grid,
        nib_mm,
    )


def standing(joints: Strokes, drawn: NDArray[np.bool_], frame: Frame) -> Strokes:
    """The joints that begin where something is drawn, (H, W), in a frame."""
    places = frame.pixels_of(joints.x[::2], joints.y[::2])
    column, row = (each.astype(np.int64) for each in places)
    row, column = np.clip(row, 0, frame.height - 1), np.clip(column, 0, frame.width - 1)
    points = np.repeat(drawn[row, column], 2)
    return _pairs(joints.x[points], joints.y[points], joints.width[points])


def _strokes(links: NDArray[np.float64], grid: Frame, nib_mm: float) -> Strokes:
    middles = (links.reshape(-1, 2) + 0.5 + [grid.left, grid.top]) / grid.per_mm
    x, y = middles.T.astype(np.float32)
    return _pairs(x, y, np.full(len(x), JOINT * nib_mm, np.float32))


def _pairs(x: Column, y: Column, width: Column) -> Strokes:
    """Strokes of two points each."""
    return Strokes(x, y, width, np.arange(0, len(x) + 1, 2, dtype=np.int64))


@njit(cache=True, nogil=True)
def _loose_ends(points, first, arm, near) -> Any:  # type: ignore[no-untyped-def]
    # x, y of each end, and the way it points.
    out = np.empty((points.shape[0], 4), np.float32)
    count = 0
    for rim in range(first.shape[0] - 1):
        start, length = first[rim], first[rim + 1] - first[rim]
        closest, best = near, -1
        for step in range(length + 1):
            distance = near
            if step < length:
                before = points[start + (step - arm) % length]
                after = points[start + (step + arm) % length]
                distance = np.float32(np.hypot(before[0] - after[0], before[1] - after[1]))
            if distance < closest:
                closest, best = distance, step
            elif distance >= near and best >= 0:
                before = points[start + (best - arm) % length]
                after = points[start + (best + arm) % length]
                x, y = points[start + best, 0], points[start + best, 1]
                dx, dy = x - (before[0] + after[0]) / 2, y - (before[1] + after[1]) / 2
                size = np.hypot(dx, dy)
                if size > 0:
                    out[count, 0], out[count, 1] = x, y
                    out[count, 2], out[count, 3] = dx / size, dy / size
                    count += 1
                closest, best = near, -1
    return out[:count]


@njit(parallel=True, cache=True)
def _links(inked, ends, beyond, gap, swerve) -> Any:  # type: ignore[no-untyped-def]
    # From where to where, x, y, x, y; ends that meet nothing are left out.
    height, width = inked.shape
    side = 2 * beyond + 1
    out = np.empty((ends.shape[0], 4), np.float64)
    meets = np.zeros(ends.shape[0], np.bool_)
    for number in prange(ends.shape[0]):
        x, y = int(ends[number, 0]), int(ends[number, 1])
        left, right = max(x - beyond, 0), min(x + beyond, width - 1)
        top, bottom = max(y - beyond, 0), min(y + beyond, height - 1)
        # What hangs together with the end within the window.
        own = np.zeros((side, side), np.bool_)
        own[y - top, x - left] = True
        queue = np.empty((side * side, 2), np.int64)
        queue[0, 0], queue[0, 1] = x, y
        waiting = 1
        while waiting > 0:
            waiting -= 1
            at_x, at_y = queue[waiting, 0], queue[waiting, 1]
            for row in range(max(at_y - 1, top), min(at_y + 1, bottom) + 1):
                for column in range(max(at_x - 1, left), min(at_x + 1, right) + 1):
                    if inked[row, column] and not own[row - top, column - left]:
                        own[row - top, column - left] = True
                        queue[waiting, 0], queue[waiting, 1] = column, row
                        waiting += 1
        nearest = gap
        for row in range(top, bottom + 1):
            for column in range(left, right + 1):
                if not inked[row, column] or own[row - top, column - left]:
                    continue
                away = np.float32(np.hypot(column - x, row - y))
                ahead = (column - x) * ends[number, 2] + (row - y) * ends[number, 3]
                if away < nearest and ahead > swerve * away:
                    nearest = away
                    out[number, 0], out[number, 1] = x, y
                    out[number, 2], out[number, 3] = column, row
                    meets[number] = True
    return out[meets]
