"""True corners of closed contours: where an outline turns within a point, not along a bow."""

import math
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.trace.contours import Contours

# How far to either side an outline is looked along, in closenesses and at least in pixels; the
# part next to a corner is rounded by the pixels, and tells nothing of its sides.
ARM_CLOSENESS, ARM_PX, ROUNDED_PX = 4.0, 5.5, 1.3
# Seen from less far a corner is as sharp; a bow is not.
NEARER, AS_SHARP = 0.5, 0.72
# How far a corner may be set beyond the contour, in closenesses.
BEYOND = 1.7
# The two ways along a contour. Of plain numbers kernels of their own would be compiled.
BACK, ON = np.int64(-1), np.int64(1)


def with_corners(
    contours: Contours, sharper_deg: float, closeness_px: float
) -> tuple[Contours, NDArray[np.bool_]]:
    """Contours with their corners drawn out, and which of their points (P,) are corners.

    A corner is a point where the outline turns by more than sharper_deg, as much when it is seen
    from near as from far. It is set where its two sides meet.
    """
    if not len(contours):
        return contours, np.zeros(0, np.bool_)
    arm = max(ARM_PX, ARM_CLOSENESS * closeness_px)
    x, y, is_corner = _cornered(
        contours.x,
        contours.y,
        contours.first,
        math.radians(sharper_deg),
        arm,
        max(BEYOND * closeness_px, 0.5),
    )
    return Contours(x, y, contours.first, contours.piece, contours.area), is_corner


@njit(parallel=True, cache=True, nogil=True, error_model="numpy")
def _cornered(x, y, first, sharper, arm, beyond) -> Any:  # type: ignore[no-untyped-def]
    out_x, out_y = x.copy(), y.copy()
    is_corner = np.zeros(len(x), np.bool_)
    for k in prange(len(first) - 1):
        begin, end = first[k], first[k + 1]
        _corners_of(
            x[begin:end], y[begin:end], sharper, arm, beyond, out_x, out_y, is_corner, begin
        )
    return out_x, out_y, is_corner


@njit(cache=True, nogil=True, error_model="numpy")
def _corners_of(x, y, sharper, arm, beyond, out_x, out_y, is_corner, at) -> None:  # type: ignore[no-untyped-def]
    count = len(x)
    if count < 8:
        return
    length = 0.0
    for i in range(count):
        j = (i + 1) % count
        length += math.hypot(x[j] - x[i], y[j] - y[i])
    # Both arms of all corners of a small square still lie on its sides.
    reach = min(arm, length / 9)
    turn = np.zeros(count)
    for i in range(count):
        turn[i] = _turning(x, y, i, reach)
    for i in range(count):
        if turn[i] < sharper or not _is_peak(x, y, turn, i, reach):
            continue
        if _turning(x, y, i, reach * NEARER) < AS_SHARP * turn[i]:
            continue
        is_corner[at + i] = True
        meet_x, meet_y = _meeting(x, y, i, reach)
        away = math.hypot(meet_x - x[i], meet_y - y[i])
        share = min(1.0, beyond / away) if away > 0 else 0.0
        out_x[at + i] = x[i] + share * (meet_x - x[i])
        out_y[at + i] = y[i] + share * (meet_y - y[i])
        for way in (BACK, ON):
            _straighten(x, y, i, min(ROUNDED_PX, reach * 0.4), way, out_x, out_y, at)


@njit(cache=True, nogil=True, error_model="numpy")
def _straighten(x, y, i, near, way, out_x, out_y, at) -> None:  # type: ignore[no-untyped-def]
    """Lays the rounded part beside a corner onto the side that leads there."""
    count = len(x)
    far_x, far_y = _walked(x, y, i, near, way)
    corner_x, corner_y = out_x[at + i], out_y[at + i]
    here, gone = i, 0.0
    for _ in range(count - 1):
        there = (here + way) % count
        gone += math.hypot(x[there] - x[here], y[there] - y[here])
        if gone >= near:
            return
        share = gone / near
        out_x[at + there] = corner_x + share * (far_x - corner_x)
        out_y[at + there] = corner_y + share * (far_y - corner_y)
        here = there


@njit(cache=True, nogil=True, error_model="numpy")
def _walked(x, y, i, far, way) -> Any:  # type: ignore[no-untyped-def]
    """The point so far along a closed outline, on it."""
    count, here, gone = len(x), i, 0.0
    for _ in range(count):
        there = (here + way) % count
        step = math.hypot(x[there] - x[here], y[there] - y[here])
        if gone + step >= far and step > 0:
            share = (far - gone) / step
            return x[here] + share * (x[there] - x[here]), y[here] + share * (y[there] - y[here])
        gone += step
        here = there
    return x[here], y[here]


@njit(cache=True, nogil=True, error_model="numpy")
def _turning(x, y, i, reach) -> Any:  # type: ignore[no-untyped-def]
    before_x, before_y = _walked(x, y, i, reach, BACK)
    after_x, after_y = _walked(x, y, i, reach, ON)
    in_x, in_y = x[i] - before_x, y[i] - before_y
    out_x, out_y = after_x - x[i], after_y - y[i]
    return abs(math.atan2(in_x * out_y - in_y * out_x, in_x * out_x + in_y * out_y))


@njit(cache=True, nogil=True, error_model="numpy")
def _is_peak(x, y, turn, i, reach) -> Any:  # type: ignore[no-untyped-def]
    """Whether it turns more there than anywhere within reach of it; of equals the first."""
    count = len(x)
    for way in (-1, 1):
        here, gone = i, 0.0
        for _ in range(count - 1):
            there = (here + way) % count
            gone += math.hypot(x[there] - x[here], y[there] - y[here])
            if gone > reach * 0.75:
                break
            if turn[there] > turn[i] or (turn[there] == turn[i] and there < i):
                return False
            here = there
    return True


@njit(cache=True, nogil=True, error_model="numpy")
def _meeting(x, y, i, reach) -> Any:  # type: ignore[no-untyped-def]
    """Where the lines through its two sides meet; the point itself where they run alike."""
    near = min(ROUNDED_PX, reach * 0.4)
    a_x, a_y = _walked(x, y, i, reach, BACK)
    b_x, b_y = _walked(x, y, i, near, BACK)
    c_x, c_y = _walked(x, y, i, near, ON)
    d_x, d_y = _walked(x, y, i, reach, ON)
    one_x, one_y, other_x, other_y = b_x - a_x, b_y - a_y, d_x - c_x, d_y - c_y
    across = one_x * other_y - one_y * other_x
    if abs(across) < 1e-6 * (abs(one_x) + abs(one_y)) * (abs(other_x) + abs(other_y)):
        return x[i], y[i]
    along = ((c_x - a_x) * other_y - (c_y - a_y) * other_x) / across
    return a_x + along * one_x, a_y + along * one_y
