"""One cubic curve through a stretch of points, by least squares: free, or with given directions."""

import math
from typing import Any

import numpy as np
from numba import njit

# Points of a long stretch that a curve is fitted to; all are looked at when it is judged.
FITTED = 32
ROUNDS = 5
# Legs that together turn by less than half round make a curve that meets itself nowhere.
HALF_ROUND = 3.0
# What bulges by less than this share of what a curve may is a line.
STRAIGHT = 0.6
# While it is this much too far off after some rounds, more rounds do not help.
HOPELESS = 4.0


@njit(cache=True, nogil=True, error_model="numpy")
def fitted(x, y, begin, end, tangents, within, curve) -> Any:  # type: ignore[no-untyped-def]
    """The largest squared distance of points begin..end from the curve fitted to them.

    x, y: float64. tangents: (4,) directions at begin and end, both along the stretch; zeros are
    free. within: squared; from a curve that stays far beyond it, a large number comes back. curve:
    (8,) its four points, written here. Least squares with reparametrisation (P. J. Schneider,
    1990).
    """
    count = end - begin + 1
    curve[0], curve[1], curve[6], curve[7] = x[begin], y[begin], x[end], y[end]
    as_line(curve)
    if count < 3:
        return 0.0
    every = min(count, FITTED)
    index = np.empty(every, np.int64)
    for k in range(every):
        index[k] = begin + k * (count - 1) // (every - 1)
    at = np.empty(every)
    at[0] = 0.0
    for k in range(1, every):
        far = math.hypot(x[index[k]] - x[index[k - 1]], y[index[k]] - y[index[k - 1]])
        at[k] = at[k - 1] + far
    length = at[-1]
    if length <= 0:
        return 0.0
    at /= length
    best = np.inf
    tried = np.empty(8)
    for turn in range(ROUNDS):
        for k in range(8):
            tried[k] = curve[k]
        _solve(x, y, index, at, tangents, length, tried)
        worst = _nearer(x, y, index, at, tried)
        if worst < best:
            best = worst
            for k in range(2, 6):
                curve[k] = tried[k]
        if best <= within * 0.25 or (turn >= 1 and best > within * HOPELESS**2):
            break
        if worst > best * 1.5:
            break
    if every < count and best <= within:
        best = max(best, _farthest(x, y, index, at, curve))
    return best


@njit(cache=True, nogil=True, error_model="numpy")
def as_line(curve) -> None:  # type: ignore[no-untyped-def]
    """Sets the handles of a curve on the thirds of its line."""
    for axis in range(2):
        begin, end = curve[axis], curve[6 + axis]
        curve[2 + axis] = begin + (end - begin) / 3
        curve[4 + axis] = end - (end - begin) / 3


@njit(cache=True, nogil=True, error_model="numpy")
def _solve(x, y, index, at, tangents, length, curve) -> None:  # type: ignore[no-untyped-def]
    a = b = c = 0.0
    right = np.zeros(4)
    fixed_begin = tangents[0] != 0 or tangents[1] != 0
    fixed_end = tangents[2] != 0 or tangents[3] != 0
    # Inner points as unknowns; a direction that is given leaves one length of each.
    t1x, t1y, t2x, t2y = tangents[0], tangents[1], -tangents[2], -tangents[3]
    for k in range(1, len(at) - 1):
        u = at[k]
        v = 1 - u
        b0, b1, b2, b3 = v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u
        px, py = x[index[k]], y[index[k]]
        a += b1 * b1
        b += b1 * b2
        c += b2 * b2
        rx, ry = px - b0 * curve[0] - b3 * curve[6], py - b0 * curve[1] - b3 * curve[7]
        right[0] += b1 * rx
        right[1] += b1 * ry
        right[2] += b2 * rx
        right[3] += b2 * ry
    if a + c < 1e-9 and not (fixed_begin and fixed_end):
        # All points lie at the ends: there it is a line.
        return
    if not fixed_begin and not fixed_end:
        # A little drawn towards the chord, so that few points have an answer too.
        slack = 1e-5 * (a + c)
        third_x, third_y = (curve[6] - curve[0]) / 3, (curve[7] - curve[1]) / 3
        a, c = a + slack, c + slack
        right[0] += slack * (curve[0] + third_x)
        right[1] += slack * (curve[1] + third_y)
        right[2] += slack * (curve[6] - third_x)
        right[3] += slack * (curve[7] - third_y)
        det = a * c - b * b
        curve[2] = (c * right[0] - b * right[2]) / det
        curve[3] = (c * right[1] - b * right[3]) / det
        curve[4] = (a * right[2] - b * right[0]) / det
        curve[5] = (a * right[3] - b * right[1]) / det
        return
    _solve_directed(a, b, c, right, fixed_begin, fixed_end, t1x, t1y, t2x, t2y, length, curve)


@njit(cache=True, nogil=True, error_model="numpy")
def _solve_directed(  # type: ignore[no-untyped-def]
    a, b, c, right, fixed_begin, fixed_end, t1x, t1y, t2x, t2y, length, curve
) -> None:
    least = length * 0.02
    slack = 1e-5 * (a + c)
    a, c = a + slack, c + slack
    third = length / 3
    if fixed_begin and fixed_end:
        dot = t1x * t2x + t1y * t2y
        # P1 = P0 + r t1, P2 = P3 + s t2.
        one = t1x * right[0] + t1y * right[1] - a * (t1x * curve[0] + t1y * curve[1])
        one += slack * (t1x * curve[0] + t1y * curve[1] + third)
        one -= b * (t1x * curve[6] + t1y * curve[7])
        two = t2x * right[2] + t2y * right[3] - c * (t2x * curve[6] + t2y * curve[7])
        two += slack * (t2x * curve[6] + t2y * curve[7] + third)
        two -= b * (t2x * curve[0] + t2y * curve[1])
        det = a * c - b * b * dot * dot
        r, s = third, third
        if det > 1e-12:
            r, s = (c * one - b * dot * two) / det, (a * two - b * dot * one) / det
        r = third if r < least else min(r, 1.2 * length)
        s = third if s < least else min(s, 1.2 * length)
        curve[2], curve[3] = curve[0] + r * t1x, curve[1] + r * t1y
        curve[4], curve[5] = curve[6] + s * t2x, curve[7] + s * t2y
        return
    # One direction is given: three unknowns, the free point put away first.
    if fixed_begin:
        near_x, near_y, dir_x, dir_y = curve[0], curve[1], t1x, t1y
        own, other, r0, r1, r2, r3 = a, c, right[0], right[1], right[2], right[3]
    else:
        near_x, near_y, dir_x, dir_y = curve[6], curve[7], t2x, t2y
        own, other, r0, r1, r2, r3 = c, a, right[2], right[3], right[0], right[1]
    whole = own - b * b / other
    lean_x, lean_y = r0 - b * r2 / other, r1 - b * r3 / other
    reach = third
    if whole > 1e-12:
        reach = (dir_x * lean_x + dir_y * lean_y) / whole - (dir_x * near_x + dir_y * near_y)
    reach = third if reach < least else min(reach, 1.2 * length)
    held_x, held_y = near_x + reach * dir_x, near_y + reach * dir_y
    free_x, free_y = (r2 - b * held_x) / other, (r3 - b * held_y) / other
    if fixed_begin:
        curve[2], curve[3], curve[4], curve[5] = held_x, held_y, free_x, free_y
    else:
        curve[2], curve[3], curve[4], curve[5] = free_x, free_y, held_x, held_y


@njit(cache=True, nogil=True, error_model="numpy")
def nearest(px, py, u, curve) -> Any:  # type: ignore[no-untyped-def]
    """One step (I. Newton) to where a curve is nearest to a point: the place, squared distance."""
    v = 1 - u
    d0x, d0y = curve[2] - curve[0], curve[3] - curve[1]
    d1x, d1y = curve[4] - curve[2], curve[5] - curve[3]
    d2x, d2y = curve[6] - curve[4], curve[7] - curve[5]
    b0, b1, b2, b3 = v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u
    qx = b0 * curve[0] + b1 * curve[2] + b2 * curve[4] + b3 * curve[6] - px
    qy = b0 * curve[1] + b1 * curve[3] + b2 * curve[5] + b3 * curve[7] - py
    tx = 3 * (v * v * d0x + 2 * v * u * d1x + u * u * d2x)
    ty = 3 * (v * v * d0y + 2 * v * u * d1y + u * u * d2y)
    ax, ay = 6 * (v * (d1x - d0x) + u * (d2x - d1x)), 6 * (v * (d1y - d0y) + u * (d2y - d1y))
    below = tx * tx + ty * ty + qx * ax + qy * ay
    squared = qx * qx + qy * qy
    if below <= 1e-12:
        return u, squared
    return min(1.0, max(0.0, u - (qx * tx + qy * ty) / below)), squared


@njit(cache=True, nogil=True, error_model="numpy")
def _nearer(x, y, index, at, curve) -> Any:  # type: ignore[no-untyped-def]
    """Moves places nearer to their points; the largest squared distance before that."""
    worst = 0.0
    for k in range(1, len(at) - 1):
        at[k], squared = nearest(x[index[k]], y[index[k]], at[k], curve)
        worst = max(worst, squared)
    return worst


@njit(cache=True, nogil=True, error_model="numpy")
def _farthest(x, y, index, at, curve) -> Any:  # type: ignore[no-untyped-def]
    """The largest squared distance of all points, those between the fitted ones too."""
    worst = 0.0
    for k in range(len(at) - 1):
        steps = index[k + 1] - index[k]
        for step in range(1, steps):
            u = at[k] + (at[k + 1] - at[k]) * step / steps
            px, py = x[index[k] + step], y[index[k] + step]
            u, _ = nearest(px, py, u, curve)
            _, squared = nearest(px, py, u, curve)
            worst = max(worst, squared)
    return worst


@njit(cache=True, nogil=True, error_model="numpy")
def strictest(around, begin, end) -> Any:  # type: ignore[no-untyped-def]
    """What is asked of the strictest of points begin..end, and one at least. around: (3, N) x, y
    and strictness squared.
    """
    most = 1.0
    for place in range(begin, end + 1):
        most = max(most, around[2, place])
    return most


@njit(cache=True, nogil=True, error_model="numpy")
def winds(curve, most) -> Any:  # type: ignore[no-untyped-def]
    """Whether a curve turns by more than so many radians, or has handles far too long."""
    chord = math.hypot(curve[6] - curve[0], curve[7] - curve[1])
    one_x, one_y = curve[2] - curve[0], curve[3] - curve[1]
    two_x, two_y = curve[4] - curve[2], curve[5] - curve[3]
    three_x, three_y = curve[6] - curve[4], curve[7] - curve[5]
    first = math.atan2(one_x * two_y - one_y * two_x, one_x * two_x + one_y * two_y)
    second = math.atan2(two_x * three_y - two_y * three_x, two_x * three_x + two_y * three_y)
    long = max(math.hypot(one_x, one_y), math.hypot(three_x, three_y))
    return abs(first) + abs(second) > most or (long > 4 * chord and chord > 0)


@njit(cache=True, nogil=True, error_model="numpy")
def bulge(x, y, begin, end, allowed) -> Any:  # type: ignore[no-untyped-def]
    """The largest squared distance from the chord; -1 where it is more than allowed."""
    along_x, along_y = x[end] - x[begin], y[end] - y[begin]
    squared, worst = along_x * along_x + along_y * along_y, 0.0
    for place in range(begin + 1, end):
        off = along_x * (y[place] - y[begin]) - along_y * (x[place] - x[begin])
        worst = max(worst, off * off)
        if worst > allowed * squared:
            return -1.0
    return worst / squared if squared > 0 else -1.0


@njit(cache=True, nogil=True, error_model="numpy")
def line_of(x, y, begin, end, curve) -> None:  # type: ignore[no-untyped-def]
    """Writes the line from one point to another as a curve."""
    for axis in range(2):
        of = x if axis == 0 else y
        curve[axis], curve[6 + axis] = of[begin], of[end]
    as_line(curve)
