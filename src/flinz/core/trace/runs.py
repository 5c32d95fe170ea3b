"""The curves between the joints of a stretch: lines, and runs of curves that settle together."""

import math
from typing import Any

import numpy as np
from numba import njit

from flinz.core.trace.fitting import HALF_ROUND, STRAIGHT, bulge, fitted, line_of, strictest, winds
from flinz.core.trace.settling import IN, KNOWN, OUT, WAY, X, Y, curve_of, off, settled

# How far off a curve may be, in closenesses.
OFF = 1.2
# A line bulges by less of its length, too. Shorter ones, in closenesses, are parts of a bow, unless
# they lead from corner to corner.
STRAIGHT_OF_LENGTH, LONG_LINE = 0.02, 30.0
# Joints whose sides differ by more are corners that nobody saw: they keep their own directions.
JOINT = math.radians(50)
# Curves that settle at once, and rounds of it.
WINDOW, ROUNDS = 6, 6
# How often curves are parted that stay too far off; those of fewer steps are not.
PARTINGS, PARTED = 4, 6
# Curves turn by no more than this, radians: they might meet themselves.
MOST_TURN = 4.2
# Halves of halves of a piece.
DEEPEST = 64


@njit(cache=True, nogil=True, error_model="numpy")
def drawn(around, joints, is_smooth, closeness, curves, far, span) -> Any:  # type: ignore[no-untyped-def]
    """Writes the curves of a stretch, how far off each is, and the points it leads from and to; how
    many. Where it is no corner, curves share their directions at joints.

    around: (3, N) x, y and strictness squared of points. joints: where it is parted.
    """
    pieces = len(joints) - 1
    x, y = around[0], around[1]
    free, is_line = np.empty((pieces, 8)), np.zeros(pieces, np.bool_)
    for k in range(pieces):
        fitted(x, y, joints[k], joints[k + 1], np.zeros(4), closeness**2, free[k])
        is_whole = pieces == 1 and not is_smooth
        is_line[k] = _is_straight(x, y, joints[k], joints[k + 1], closeness, is_whole)
    ways = np.zeros((pieces + 1, 2))
    for k in range(pieces + 1):
        # A stretch ends at corners, or goes all round.
        if is_smooth or 0 < k < pieces:
            ways[k] = _shared(free, is_line, (k - 1) % pieces, k % pieces)
    is_held = np.zeros(pieces + 1, np.bool_)
    made, k = 0, 0
    while k < pieces:
        begin, end, last = joints[k], joints[k + 1], k + 1
        if is_line[k]:
            line_of(x, y, begin, end, curves[made])
            _, far[made] = off(around, begin, end, curves[made])
            span[made, 0], span[made, 1] = begin, end
            made, k = made + 1, k + 1
            continue
        while last < pieces and not is_line[last] and not is_held[last] and ways[last].any():
            last += 1
        run, left = slice(k, last + 1), slice(made, None)
        many = _run(
            around,
            joints[run],
            ways[run],
            is_held[run],
            closeness,
            curves[left],
            far[left],
            span[left],
        )
        if many == 0 and last == k + 1:
            many = _halved(
                around, begin, end, ways[run], closeness, curves[left], far[left], span[left]
            )
        if many > 0:
            made, k = made + many, last
    return made


@njit(cache=True, nogil=True, error_model="numpy")
def _run(around, joints, ways, is_held, closeness, curves, far, span) -> Any:  # type: ignore[no-untyped-def]
    """The curves of a run without lines or corners in it; how many. None where some stay too far
    off: then their joints are held, so that the others do without them.
    """
    within = (closeness * OFF) ** 2
    holds_first, holds_last = ways[0].any(), ways[-1].any()
    own, known, curve = joints.copy(), _begun(around, joints, ways, within), np.empty(8)
    for turn in range(PARTINGS):
        last = len(own) - 1
        for low in range(0, max(1, last - WINDOW // 2), WINDOW // 2):
            high = min(low + WINDOW, last)
            part = slice(low, high + 1)
            first, end = low > 0 or holds_first, high < last or holds_last
            settled(around, own[part], known[part], first, end, np.int64(ROUNDS))
        is_off = np.zeros(last, np.bool_)
        is_hopeless = False
        for k in range(last):
            is_off[k], far[k] = _judged(around, own, known, k, within, curve)
            if is_off[k] and (turn == PARTINGS - 1 or own[k + 1] - own[k] < PARTED):
                is_hopeless = True
                middle = (own[k] + own[k + 1]) // 2
                piece = min(np.searchsorted(joints, middle, "right"), len(joints) - 1)
                is_held[piece - 1] = is_held[piece] = True
        if not is_off.any():
            last = _merged(around, own, known, within, holds_first, holds_last, far)
            for k in range(last):
                curve_of(known, k, curves[k])
                span[k, 0], span[k, 1] = own[k], own[k + 1]
            return last
        if is_hopeless:
            return 0
        own, known = _parted(own, known, is_off)
    return 0


@njit(cache=True, nogil=True, error_model="numpy")
def _begun(around, joints, ways, within) -> Any:  # type: ignore[no-untyped-def]
    """What is known of joints before they settle: each curve as its two directions let it be."""
    pieces = len(joints) - 1
    known, tangents, curve = np.empty((pieces + 1, KNOWN)), np.empty(4), np.empty(8)
    for k in range(pieces):
        tangents[:2], tangents[2:] = ways[k], ways[k + 1]
        fitted(around[0], around[1], joints[k], joints[k + 1], tangents, within, curve)
        known[k, X], known[k, Y] = curve[0], curve[1]
        known[k + 1, X], known[k + 1, Y] = curve[6], curve[7]
        out_x, out_y = curve[2] - curve[0], curve[3] - curve[1]
        in_x, in_y = curve[6] - curve[4], curve[7] - curve[5]
        known[k, OUT], known[k + 1, IN] = math.hypot(out_x, out_y), math.hypot(in_x, in_y)
        if k == 0:
            known[k, WAY], known[k, IN] = math.atan2(out_y, out_x), known[k, OUT]
        known[k + 1, WAY], known[k + 1, OUT] = math.atan2(in_y, in_x), known[k + 1, IN]
    return known


@njit(cache=True, nogil=True, error_model="numpy")
def _merged(around, joints, known, within, holds_first, holds_last, far) -> Any:  # type: ignore[no-untyped-def]
    """Takes joints away where a curve less lies near enough, once those beside it have settled
    again; how many curves are left.
    """
    last = len(joints) - 1
    some, told = np.empty(4, np.int64), np.empty((4, KNOWN))
    tangents, curve, own_far = np.empty(4), np.empty(8), np.empty(3)
    k = 1
    while k < last:
        low, high = max(0, k - 2), min(last, k + 2)
        many = 0
        for i in range(low, high + 1):
            if i != k:
                some[many], told[many] = joints[i], known[i]
                many += 1
        one = k - 1 - low
        two = one + 1
        tangents[0], tangents[1] = math.cos(told[one, WAY]), math.sin(told[one, WAY])
        tangents[2], tangents[3] = math.cos(told[two, WAY]), math.sin(told[two, WAY])
        fitted(around[0], around[1], some[one], some[two], tangents, within, curve)
        told[one, OUT] = math.hypot(curve[2] - curve[0], curve[3] - curve[1])
        told[two, IN] = math.hypot(curve[6] - curve[4], curve[7] - curve[5])
        first, end = low > 0 or holds_first, high < last or holds_last
        settled(around, some[:many], told[:many], first, end, np.int64(ROUNDS))
        fits = True
        for i in range(many - 1):
            is_off, own_far[i] = _judged(around, some, told, i, within, curve)
            fits = fits and not is_off
        if not fits:
            k += 1
            continue
        for i in range(k + 1, last + 1):
            joints[i - 1], known[i - 1] = joints[i], known[i]
        for i in range(k + 1, last):
            far[i - 1] = far[i]
        for i in range(many):
            joints[low + i], known[low + i] = some[i], told[i]
        for i in range(many - 1):
            far[low + i] = own_far[i]
        last -= 1
    return last


@njit(cache=True, nogil=True, error_model="numpy")
def _judged(around, joints, known, k, within, curve) -> Any:  # type: ignore[no-untyped-def]
    """Whether a curve strays or winds too far, and how far off it is. curve: (8,) room."""
    curve_of(known, k, curve)
    worst, far = off(around, joints[k], joints[k + 1], curve)
    return worst > within or winds(curve, MOST_TURN), far


@njit(cache=True, nogil=True, error_model="numpy")
def _parted(joints, known, is_off) -> Any:  # type: ignore[no-untyped-def]
    """Joints with one more in the middle of each curve that is too far off."""
    many = len(joints) + is_off.sum()
    out, told = np.empty(many, np.int64), np.empty((many, KNOWN))
    curve, at = np.empty(8), 0
    for k in range(len(joints)):
        out[at], told[at] = joints[k], known[k]
        if k > 0 and is_off[k - 1]:
            told[at, IN] *= 0.5
        if k < len(is_off) and is_off[k]:
            curve_of(known, k, curve)
            told[at, OUT] *= 0.5
            at += 1
            out[at] = (joints[k] + joints[k + 1]) // 2
            for axis in range(2):
                inner = curve[2 + axis] + curve[4 + axis]
                told[at, axis] = (curve[axis] + 3 * inner + curve[6 + axis]) / 8
            way_x = curve[6] + curve[4] - curve[2] - curve[0]
            way_y = curve[7] + curve[5] - curve[3] - curve[1]
            told[at, WAY] = math.atan2(way_y, way_x)
            told[at, IN] = told[at, OUT] = math.hypot(way_x, way_y) / 8
        at += 1
    return out, told


@njit(cache=True, nogil=True, error_model="numpy")
def _halved(around, begin, end, ways, closeness, curves, far, span) -> Any:  # type: ignore[no-untyped-def]
    """Curves with given directions at both ends, parted in their middles until they fit; how many.

    What is short and crooked becomes the line of its points.
    """
    x, y = around[0], around[1]
    ends, at_ends, tangents = np.empty(DEEPEST, np.int64), np.empty((DEEPEST, 2)), np.empty(4)
    ends[0], at_ends[0], tangents[:2] = end, ways[1], ways[0]
    waiting, made = 1, 0
    while waiting > 0:
        end = ends[waiting - 1]
        within = (closeness * OFF) ** 2 / strictest(around, begin, end)
        tangents[2:] = at_ends[waiting - 1]
        squared = fitted(x, y, begin, end, tangents, within, curves[made])
        is_off = squared > within or winds(curves[made], HALF_ROUND)
        if is_off and end - begin >= PARTED and waiting < DEEPEST:
            middle = (begin + end) // 2
            ends[waiting] = middle
            at_ends[waiting] = _heading(x, y, middle, max(2, (end - begin) // 8))
            waiting += 1
            continue
        if is_off:
            squared = fitted(x, y, begin, end, np.zeros(4), within, curves[made])
            is_off = squared > within or winds(curves[made], HALF_ROUND)
        steps = end - begin if is_off else 1
        for step in range(steps):
            if is_off:
                line_of(x, y, begin + step, begin + step + 1, curves[made])
            far[made] = 0.0 if is_off else math.sqrt(squared)
            span[made, 0] = begin + step
            span[made, 1] = begin + step + 1 if is_off else end
            made += 1
        waiting -= 1
        begin, tangents[:2] = end, at_ends[waiting]
    return made


@njit(cache=True, nogil=True, error_model="numpy")
def _heading(x, y, at, span) -> Any:  # type: ignore[no-untyped-def]
    way = np.array([x[at + span] - x[at - span], y[at + span] - y[at - span]])
    length = math.hypot(way[0], way[1])
    return way / length if length > 0 else np.zeros(2)


@njit(cache=True, nogil=True, error_model="numpy")
def _shared(free, is_line, before, after) -> Any:  # type: ignore[no-untyped-def]
    """The direction of a joint: that of a line beside it, or between those of its curves."""
    in_x, in_y = free[before, 6] - free[before, 4], free[before, 7] - free[before, 5]
    out_x, out_y = free[after, 2] - free[after, 0], free[after, 3] - free[after, 1]
    nothing = np.zeros(2)
    if is_line[before]:
        in_x, in_y = free[before, 6] - free[before, 0], free[before, 7] - free[before, 1]
    if is_line[after]:
        out_x, out_y = free[after, 6] - free[after, 0], free[after, 7] - free[after, 1]
    one, other = math.hypot(in_x, in_y), math.hypot(out_x, out_y)
    if one == 0 or other == 0:
        return nothing
    in_x, in_y, out_x, out_y = in_x / one, in_y / one, out_x / other, out_y / other
    if abs(math.atan2(in_x * out_y - in_y * out_x, in_x * out_x + in_y * out_y)) > JOINT:
        return nothing
    if is_line[before] and is_line[after]:
        return nothing
    if is_line[before]:
        return np.array([in_x, in_y])
    if is_line[after]:
        return np.array([out_x, out_y])
    sum_x, sum_y = in_x + out_x, in_y + out_y
    length = math.hypot(sum_x, sum_y)
    return np.array([sum_x / length, sum_y / length])


@njit(cache=True, nogil=True, error_model="numpy")
def _is_straight(x, y, begin, end, closeness, is_whole) -> Any:  # type: ignore[no-untyped-def]
    along_x, along_y = x[end] - x[begin], y[end] - y[begin]
    length = math.hypot(along_x, along_y)
    if length == 0 or (end - begin > 1 and not is_whole and length < LONG_LINE * closeness):
        return False
    allowed = min(STRAIGHT * closeness, STRAIGHT_OF_LENGTH * length)
    return bulge(x, y, begin, end, allowed**2) >= 0
