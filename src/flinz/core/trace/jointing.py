"""Where a stretch of an outline is parted: at as few joints as free curves allow."""

from typing import Any

import numpy as np
from numba import njit

from flinz.core.trace.fitting import HALF_ROUND, STRAIGHT, bulge, fitted, strictest, winds

# Free curves may be a little farther off than asked: once joints move, those that follow each other
# lie nearer.
FREE = 1.05
# Rounds of moving joints to where both sides fit best.
BALANCING = 1


@njit(cache=True, nogil=True, error_model="numpy")
def jointed(around, closeness) -> Any:  # type: ignore[no-untyped-def]
    """The points at which a stretch is parted, its ends among them.

    around: (3, N) x, y and strictness squared of points.
    """
    within, end = (closeness * FREE) ** 2, around.shape[1] - 1
    joints = np.empty(end + 1, np.int64)
    joints[0], many, guess = 0, 1, end // 2
    while joints[many - 1] < end:
        at = joints[many - 1]
        joints[many] = reach(around, at, end, np.int64(1), guess, within)
        guess = joints[many] - at
        many += 1
    joints = joints[:many]
    if many > 2:
        _spread(around, end, joints[1:], within)
        for _ in range(BALANCING):
            _balance(around, joints[1:], within)
    return joints


@njit(cache=True, nogil=True, error_model="numpy")
def reach(around, at, bound, way, guess, within) -> Any:  # type: ignore[no-untyped-def]
    """The farthest point, towards bound, that one curve from a point comes to.

    Numbers are handed over as np.int64: of a literal a kernel of its own would be compiled.
    """
    most = (bound - at) * way
    good, bad = 1, most + 1
    tried = min(max(guess, 2), most)
    while good < most and (bad > most or bad - good > max(1, good // 32)):
        low, high = (at, at + tried) if way > 0 else (at - tried, at)
        if _fits(around, low, high, within) <= within:
            good = tried
            tried = min(most, good * 2) if bad > most else (good + bad) // 2
        else:
            bad = tried
            tried = (good + bad) // 2
        if tried <= good:
            break
    return at + good * way


@njit(cache=True, nogil=True, error_model="numpy")
def _fits(around, begin, end, within) -> Any:  # type: ignore[no-untyped-def]
    """The squared distance of a line, or else a free curve; a large number if that winds."""
    if end - begin > 1:
        within = within / strictest(around, begin, end)
    straight = bulge(around[0], around[1], begin, end, within * STRAIGHT**2)
    if straight >= 0:
        return straight
    curve = np.empty(8)
    squared = fitted(around[0], around[1], begin, end, np.zeros(4), within, curve)
    if squared > within or winds(curve, HALF_ROUND):
        return 1e30
    return squared


@njit(cache=True, nogil=True, error_model="numpy")
def _spread(around, end, joints, within) -> None:  # type: ignore[no-untyped-def]
    """Moves joints between where they come from the front and from the back, if all fits then."""
    pieces = len(joints)
    back = np.empty(pieces + 1, np.int64)
    back[pieces] = end
    guess, at, k = joints[0], end, pieces
    while at > 0 and k > 0:
        following = reach(around, at, np.int64(0), np.int64(-1), guess, within)
        guess, at = at - following, following
        k -= 1
        back[k] = at
    if k != 0 or at != 0:
        return
    moved = joints.copy()
    last = np.int64(0)
    for k in range(pieces - 1):
        low, high = min(back[k + 1], joints[k]), joints[k]
        moved[k] = high - (high - low) * (k + 1) // pieces
        if moved[k] <= last or _fits(around, last, moved[k], within) > within:
            return
        last = moved[k]
    if last >= end or _fits(around, last, end, within) > within:
        return
    for k in range(len(moved)):
        joints[k] = moved[k]


@njit(cache=True, nogil=True, error_model="numpy")
def _balance(around, joints, within) -> None:  # type: ignore[no-untyped-def]
    """Moves each joint to where the worse of its two sides is best."""
    for k in range(len(joints) - 1):
        before = np.int64(0) if k == 0 else joints[k - 1]
        after, here = joints[k + 1], joints[k]
        best = max(_fits(around, before, here, within), _fits(around, here, after, within))
        chosen = here
        for part in (-6, -3, 3, 6):
            span = here - before if part < 0 else after - here
            tried = here + span * part // 18
            if tried in (here, chosen) or tried - before < 2 or after - tried < 2:
                continue
            one = _fits(around, before, tried, within)
            if one >= best:
                continue
            worse = max(one, _fits(around, tried, after, within))
            if worse < best:
                best, chosen = worse, tried
        joints[k] = chosen
