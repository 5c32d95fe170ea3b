"""Curves one after the other, moved and turned at their joints together until they lie nearest."""

import math
from typing import Any

import numpy as np
from numba import njit

# What is known of a joint: x, y, direction in radians, the handles before it and behind it, pixels.
X, Y, WAY, IN, OUT = range(5)
KNOWN = 5
# A curve depends on so much of its two joints; what depends on each other is no farther apart.
DEPENDS, BAND = 8, 2 * KNOWN
# Of a long curve about so many points are looked at while joints move; all when it is judged.
LOOKED = 16
# How cautious steps are at first, and at most; the factors after a good one and after a bad one.
CAUTION, MOST_CAUTION, BOLDER, SHYER = 1e-2, 1e3, 0.3, 10.0
# A joint moves by so much of the way to the next at once, turns by so much, and its handles get
# shorter and longer by these factors.
FAR, TURN, SHORTER, LONGER = 0.12, 0.3, 0.6, 1.6
# A step that gains less than this share is the last one.
LEAST_GAIN = 0.01
# A handle is at least this share of its chord and at most this one of its curve's length, both of a
# curve at most that: with longer ones it would run to and fro.
SHORT, LONG, BOTH = 0.03, 0.75, 0.88
# How strongly handles are drawn to a third of the length, where points say little.
DRAWN = 0.1
# Steps to the place of a point on its curve, and how short the last one is.
LOOKS, THERE = 5, 1e-3
# What is held is as heavy as this. Strict points weigh at most, and are judged at most, so much.
HELD, HEAVIEST, STRICTEST = 1e12, 40.0, 1e6


@njit(cache=True, nogil=True, error_model="numpy")
def settled(around, joints, known, holds_first, holds_last, rounds) -> None:  # type: ignore[no-untyped-def]
    """Moves joints, their directions and handles to where all points lie nearest; the first and
    the last stay, and keep their directions where these are held.

    around: (3, N) x, y and strictness squared of points. joints: (K,) the point at each joint,
    moved along. known: (K, KNOWN), written. Least squares of distances (K. Levenberg, 1944; D.
    Marquardt, 1963); as each curve touches two joints only, steps come from a narrow band.
    """
    count, first = len(joints), joints[0]
    place, length = np.empty(joints[-1] - first), np.empty(count - 1)
    for k in range(count - 1):
        length[k] = _laid_along(around, joints[k], joints[k + 1], place, first)
    band, right = np.empty((count * KNOWN, BAND)), np.empty(count * KNOWN)
    tried, solved = known.copy(), np.empty_like(band)
    error = np.inf
    # The places of points come nearer at each look.
    for _ in range(2):
        error = _gathered(around, joints, known, length, place, band, right)
    caution = CAUTION
    for _ in range(rounds):
        for axis in range(KNOWN):
            if axis < WAY or (axis == WAY and holds_first):
                band[axis, 0] += HELD
            if axis < WAY or (axis == WAY and holds_last):
                band[(count - 1) * KNOWN + axis, 0] += HELD
        _solve(band, right, caution, solved)
        _step(known, right, length, tried)
        then = _gathered(around, joints, tried, length, place, band, right)
        if not then < error:
            caution *= SHYER
            if caution > MOST_CAUTION:
                break
            error = _gathered(around, joints, known, length, place, band, right)
            continue
        gained, error = error - then, then
        for k in range(count):
            for axis in range(KNOWN):
                known[k, axis] = tried[k, axis]
        if gained < LEAST_GAIN * error:
            break
        caution *= BOLDER
        if _slid(around, joints, known, place):
            error = _gathered(around, joints, known, length, place, band, right)


@njit(cache=True, nogil=True, error_model="numpy")
def curve_of(known, k, curve) -> None:  # type: ignore[no-untyped-def]
    """Writes the curve (8,) from one joint to the next."""
    curve[0], curve[1] = known[k, X], known[k, Y]
    curve[2] = known[k, X] + known[k, OUT] * math.cos(known[k, WAY])
    curve[3] = known[k, Y] + known[k, OUT] * math.sin(known[k, WAY])
    curve[4] = known[k + 1, X] - known[k + 1, IN] * math.cos(known[k + 1, WAY])
    curve[5] = known[k + 1, Y] - known[k + 1, IN] * math.sin(known[k + 1, WAY])
    curve[6], curve[7] = known[k + 1, X], known[k + 1, Y]


@njit(cache=True, nogil=True, error_model="numpy")
def off(around, begin, end, curve) -> Any:  # type: ignore[no-untyped-def]
    """How far points lie from a curve at most, squared, each as strictly as is asked of it; and
    just how far.
    """
    place = np.ones(end - begin + 1)
    _laid_along(around, begin, end, place, begin)
    worst, farthest = 0.0, 0.0
    for i in range(begin, end + 1):
        u, squared = place[i - begin], 0.0
        for _ in range(LOOKS):
            before = u
            u, squared = _nearer(around[0, i], around[1, i], u, curve)
            if abs(u - before) < THERE:
                break
        farthest = max(farthest, squared)
        worst = max(worst, squared * min(around[2, i], STRICTEST))
    return worst, math.sqrt(farthest)


@njit(cache=True, nogil=True, error_model="numpy")
def _seen(px, py, u, curve) -> Any:  # type: ignore[no-untyped-def]
    """From a place on a curve: the way to a point, and the curve's own direction and speed."""
    v = 1 - u
    b0, b1, b2, b3 = v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u
    qx = px - (b0 * curve[0] + b1 * curve[2] + b2 * curve[4] + b3 * curve[6])
    qy = py - (b0 * curve[1] + b1 * curve[3] + b2 * curve[5] + b3 * curve[7])
    d0, d1, d2 = 3 * v * v, 6 * v * u, 3 * u * u
    tx = d0 * (curve[2] - curve[0]) + d1 * (curve[4] - curve[2]) + d2 * (curve[6] - curve[4])
    ty = d0 * (curve[3] - curve[1]) + d1 * (curve[5] - curve[3]) + d2 * (curve[7] - curve[5])
    return qx, qy, tx, ty


@njit(cache=True, nogil=True, error_model="numpy")
def _nearer(px, py, u, curve) -> Any:  # type: ignore[no-untyped-def]
    """One step along a curve to where it is nearest to a point: the place; how far it was, squared.

    It goes by the direction alone: by curvature, too, it would leap away from far points.
    """
    qx, qy, tx, ty = _seen(px, py, u, curve)
    squared = tx * tx + ty * ty
    step = (qx * tx + qy * ty) / squared if squared > 1e-9 else 0.0
    return min(1.0, max(0.0, u + step)), qx * qx + qy * qy


@njit(cache=True, nogil=True, error_model="numpy")
def _laid_along(around, begin, end, place, first) -> Any:  # type: ignore[no-untyped-def]
    """Gives points places on their curve by how far they lie along the outline; its length."""
    length = 0.0
    for i in range(begin, end):
        place[i - first] = length
        length += math.hypot(around[0, i + 1] - around[0, i], around[1, i + 1] - around[1, i])
    if length > 0:
        for i in range(begin - first, end - first):
            place[i] /= length
    return length


@njit(cache=True, nogil=True, error_model="numpy")
def _gathered(around, joints, known, length, place, band, right) -> Any:  # type: ignore[no-untyped-def]
    """The sum of squared distances; and what a step towards less of it is reckoned from.

    band: (K * KNOWN, BAND), the part of a symmetric matrix from its diagonal to the left.
    """
    band[:], right[:] = 0.0, 0.0
    first, error = joints[0], 0.0
    curve, by = np.empty(8), np.empty(DEPENDS)
    own, lean = np.empty((DEPENDS, DEPENDS)), np.empty(DEPENDS)
    for k in range(len(joints) - 1):
        curve_of(known, k, curve)
        own[:], lean[:] = 0.0, 0.0
        out, back = known[k, OUT], known[k + 1, IN]
        t0x, t0y = math.cos(known[k, WAY]), math.sin(known[k, WAY])
        t1x, t1y = math.cos(known[k + 1, WAY]), math.sin(known[k + 1, WAY])
        begin, end = joints[k], joints[k + 1]
        every = max(1, (end - begin) // LOOKED)
        for i in range(begin, end, every):
            px, py = around[0, i], around[1, i]
            u, _ = _nearer(px, py, place[i - first], curve)
            place[i - first] = u
            v = 1 - u
            b0, b1, b2, b3 = v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u
            qx, qy, tx, ty = _seen(px, py, u, curve)
            fast = math.sqrt(tx * tx + ty * ty)
            if fast == 0:
                continue
            nx, ny = -ty / fast, tx / fast
            away = nx * qx + ny * qy
            weight = every * min(around[2, i], HEAVIEST)
            error += weight * (qx * qx + qy * qy)
            by[0], by[1] = (b0 + b1) * nx, (b0 + b1) * ny
            by[2], by[3] = b1 * out * (ny * t0x - nx * t0y), b1 * (nx * t0x + ny * t0y)
            by[4], by[5] = (b2 + b3) * nx, (b2 + b3) * ny
            by[6], by[7] = b2 * back * (nx * t1y - ny * t1x), -b2 * (nx * t1x + ny * t1y)
            for a in range(DEPENDS):
                one = weight * by[a]
                lean[a] += one * away
                for b in range(a + 1):
                    own[a, b] += one * by[b]
        # Where points say little, handles are a third of the length.
        draw = DRAWN / max(length[k], 1.0)
        for a in (3, 7):
            lacks = length[k] / 3 - (out if a == 3 else back)
            error += draw * lacks * lacks
            own[a, a] += draw
            lean[a] += draw * lacks
        for a in range(DEPENDS):
            row = _row(k, a)
            right[row] += lean[a]
            for b in range(a + 1):
                other = _row(k, b)
                band[max(row, other), abs(row - other)] += own[a, b]
    return error


@njit(cache=True, nogil=True, inline="always")
def _row(k, a) -> Any:  # type: ignore[no-untyped-def]
    """Of what a curve depends on: x, y, way, out of its first joint; x, y, way, in of the next."""
    if a < 3:
        return k * KNOWN + a
    if a == 3:
        return k * KNOWN + OUT
    return (k + 1) * KNOWN + a - 4


@njit(cache=True, nogil=True, error_model="numpy")
def _solve(band, right, caution, solved) -> None:  # type: ignore[no-untyped-def]
    """Solves for a step, written to right. solved: as band, room (A.-L. Cholesky, 1910)."""
    count = len(right)
    for i in range(count):
        solved[i] = band[i]
        axis = i % KNOWN
        scale = band[i, 0]
        if axis < WAY:
            # Sliding along the outline changes little, and must not run away.
            scale = max(band[i - axis, 0], band[i - axis + 1, 0])
        solved[i, 0] += caution * min(scale, HELD) + 1e-6
    for j in range(count):
        for i in range(j, min(count, j + BAND)):
            held = solved[i, i - j]
            for k in range(max(0, i - BAND + 1), j):
                held -= solved[i, i - k] * solved[j, j - k]
            if i == j:
                solved[j, 0] = math.sqrt(max(held, 1e-12))
            else:
                solved[i, i - j] = held / solved[j, 0]
    for i in range(count):
        held = right[i]
        for k in range(max(0, i - BAND + 1), i):
            held -= solved[i, i - k] * right[k]
        right[i] = held / solved[i, 0]
    for i in range(count - 1, -1, -1):
        held = right[i]
        for k in range(i + 1, min(count, i + BAND)):
            held -= solved[k, k - i] * right[k]
        # What is held stays where it is to the last bit, as what it joins does.
        right[i] = held / solved[i, 0] if band[i, 0] < HELD else 0.0


@njit(cache=True, nogil=True, error_model="numpy")
def _step(known, step, length, tried) -> None:  # type: ignore[no-untyped-def]
    """Where a step leads, no farther than is safe."""
    count = len(known)
    for k in range(count):
        near = np.inf
        for other in (k - 1, k + 1):
            if 0 <= other < count:
                away = known[other, X] - known[k, X], known[other, Y] - known[k, Y]
                near = min(near, math.hypot(away[0], away[1]))
        own = step[k * KNOWN : (k + 1) * KNOWN]
        far = math.hypot(own[X], own[Y])
        share = min(1.0, FAR * near / far) if far > 0 else 1.0
        tried[k, X], tried[k, Y] = known[k, X] + share * own[X], known[k, Y] + share * own[Y]
        tried[k, WAY] = known[k, WAY] + min(max(own[WAY], -TURN), TURN)
        for a in (IN, OUT):
            was = known[k, a]
            tried[k, a] = min(max(was + own[a], was * SHORTER), was * LONGER)
    for k in range(count - 1):
        chord = math.hypot(tried[k + 1, X] - tried[k, X], tried[k + 1, Y] - tried[k, Y])
        one = min(max(tried[k, OUT], SHORT * chord), LONG * length[k])
        two = min(max(tried[k + 1, IN], SHORT * chord), LONG * length[k])
        share = min(1.0, BOTH * length[k] / (one + two)) if one + two > 0 else 1.0
        tried[k, OUT], tried[k + 1, IN] = share * one, share * two


@njit(cache=True, nogil=True, error_model="numpy")
def _slid(around, joints, known, place) -> Any:  # type: ignore[no-untyped-def]
    """Gives each joint the point of the outline that it lies nearest to; whether any is another."""
    changed, first = False, joints[0]
    for k in range(1, len(joints) - 1):
        here = joints[k]
        low = max(here - (here - joints[k - 1]) // 3, joints[k - 1] + 2)
        high = min(here + (joints[k + 1] - here) // 3, joints[k + 1] - 2)
        for there in range(low, high + 1):
            if _away(around, there, known[k]) < _away(around, here, known[k]):
                here = there
        # What changes sides lies at that end of its new curve.
        for i in range(joints[k], here):
            place[i - first] = 1.0
        for i in range(here, joints[k]):
            place[i - first] = 0.0
        changed |= here != joints[k]
        joints[k] = here
    return changed


@njit(cache=True, nogil=True, error_model="numpy")
def _away(around, i, known) -> Any:  # type: ignore[no-untyped-def]
    x, y = around[0, i] - known[X], around[1, i] - known[Y]
    return x * x + y * y
