"""Closed contours as few cubic curves and straight lines, smooth where the outline is."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.trace.contours import Contours
from flinz.core.trace.fitting import as_line, fitted, nearest, winds

# Curves are first fitted a little closer than asked; sharing directions at joints takes the rest.
FREE, SHARED = 0.85, 1.3
# What is this straight is a line: of the closeness, and of its length.
STRAIGHT, STRAIGHT_OF_LENGTH = 0.6, 0.02
# Joints whose sides differ by more are corners that nobody saw: they keep their own directions.
JOINT = math.radians(50)
# Rounds of moving joints to where both sides fit best.
BALANCING = 2


@dataclass(frozen=True, eq=False)
class Curves:
    """Curves of contours, S in all, those of each contour together.

    points: (S, 8) float64 pixels, begin, two handles, end; a line has its handles on itself.
    first: (N + 1,) int64, where those of each contour begin. far: (S,) pixels, how far the contour
    lies from each. span: (S, 2) int64, the points of the contours at which each begins and ends.
    """

    points: NDArray[np.float64]
    first: NDArray[np.int64]
    far: NDArray[np.float64]
    span: NDArray[np.int64]

    @property
    def owner(self) -> NDArray[np.int64]:
        """(S,) the contour of each curve."""
        return np.repeat(np.arange(len(self.first) - 1), np.diff(self.first))


class Fitting:
    """Fits curves to contours, all or some stretches of them again.

    Each contour is parted at its corners, and the stretches between them at as few joints as leave
    all points within closeness: as far as a curve goes from either end, joints between those
    bounds, then to where they serve both sides best. Curves share their direction at joints.
    """

    def __init__(
        self, contours: Contours, is_corner: NDArray[np.bool_], closeness_px: float
    ) -> None:
        self._contours, self._closeness = contours, closeness_px
        self._stretches = _stretches(contours.first, is_corner)
        # Room for a line from each point to the next.
        steps = self._stretches[:, 1]
        self._starts = np.concatenate([[0], np.cumsum(steps + 4)]).astype(np.int64)
        room = int(self._starts[-1])
        self._points, self._far = np.empty((room, 8)), np.zeros(room)
        self._span = np.zeros((room, 2), np.int64)
        self._used = np.zeros(len(steps), np.int64)

    def fit(self, strictness: NDArray[np.float64], again: NDArray[np.int64] | None = None) -> None:
        """Fit all curves, or those of the stretches in which some points lie.

        strictness: (P,) how many times closer than asked a curve must pass a point; where it is
        infinite lines go from point to point.
        """
        which = np.arange(len(self._stretches))
        if again is not None:
            touched = np.zeros(len(strictness) + 1, np.int64)
            touched[again + 1] = 1
            which = which[_holds_any(self._stretches, np.cumsum(touched))]
        # Long ones first, so that no core is left with one at the end.
        order = which[np.argsort(-self._stretches[which, 1], kind="stable")]
        _all(
            self._contours.x,
            self._contours.y,
            strictness**2,
            self._stretches,
            self._closeness,
            self._starts,
            self._points,
            self._far,
            self._span,
            self._used,
            order,
        )

    def curves(self) -> Curves:
        """All curves as they are fitted now."""
        ends = np.concatenate([[0], np.cumsum(self._used)]).astype(np.int64)
        where = np.repeat(self._starts[:-1] - ends[:-1], self._used) + np.arange(ends[-1])
        of_contours = np.searchsorted(self._stretches[:, 2], self._contours.first)
        return Curves(self._points[where], ends[of_contours], self._far[where], self._span[where])


def _holds_any(stretches: NDArray[np.int64], before: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Which stretches hold a point that is counted; before: (P + 1,) how many lie before each."""
    begin, steps, low, high, _ = stretches.T
    end = begin + steps
    wrapped = end >= high
    straight = before[np.where(wrapped, high, end + 1)] - before[begin]
    over = before[np.where(wrapped, end - (high - low) + 1, low)] - before[low]
    return np.asarray(straight + over > 0)


@njit(cache=True, nogil=True, error_model="numpy")
def _stretches(first, is_corner) -> Any:  # type: ignore[no-untyped-def]
    """From corner to corner: the point each begins at, its steps, the points at which its contour
    begins and ends, and whether that is smooth all round; (K, 5), in the order of contours.
    """
    many = 0
    for k in range(len(first) - 1):
        corners = 0
        for place in range(first[k], first[k + 1]):
            corners += is_corner[place]
        many += max(1, corners)
    found = np.empty((many, 5), np.int64)
    at = 0
    for k in range(len(first) - 1):
        low, high = first[k], first[k + 1]
        opening, begin = -1, -1
        for place in range(low, high):
            if not is_corner[place]:
                continue
            if opening < 0:
                opening = place
            else:
                found[at] = begin, place - begin, low, high, 0
                at += 1
            begin = place
        if opening < 0:
            found[at] = low, high - low, low, high, 1
        else:
            found[at] = begin, high - begin + opening - low, low, high, 0
        at += 1
    return found


@njit(parallel=True, cache=True, nogil=True, error_model="numpy")
def _all(  # type: ignore[no-untyped-def]
    x, y, strict, stretches, closeness, starts, points, far, span, used, order
) -> None:
    # Dealt out like cards, so that each core has long and short ones.
    hands = 64
    for hand in prange(hands):
        for at in range(hand, len(order), hands):
            k = order[at]
            begin, steps, low, high, is_smooth = stretches[k]
            room = slice(starts[k], starts[k + 1])
            here = span[room]
            around = _from(x, y, strict, begin, steps, low, high)
            if is_smooth:
                # Begun where a first curve would end, the last one is as long as the others.
                within = (closeness * FREE) ** 2
                begin = low + _reach(around, 0, steps, 1, max(2, steps // 4), within) % steps
                around = _from(x, y, strict, begin, steps, low, high)
            used[k] = _stretch(around, is_smooth, closeness, points[room], far[room], here)
            for each in range(used[k]):
                for end in range(2):
                    here[each, end] = low + (begin - low + here[each, end]) % (high - low)


@njit(cache=True, nogil=True, error_model="numpy")
def _from(x, y, strict, begin, steps, low, high) -> Any:  # type: ignore[no-untyped-def]
    """A stretch of a contour: x, y, strictness squared of its points, (3, N + 1)."""
    around = np.empty((3, steps + 1))
    for i in range(steps + 1):
        k = low + (begin - low + i) % (high - low)
        around[0, i], around[1, i], around[2, i] = x[k], y[k], strict[k]
    return around


@njit(cache=True, nogil=True, error_model="numpy")
def _fits(around, begin, end, within) -> Any:  # type: ignore[no-untyped-def]
    """The squared distance of a line, or else a free curve; a large number if that winds."""
    if end - begin > 1:
        strictest = 1.0
        for place in range(begin, end + 1):
            strictest = max(strictest, around[2, place])
        within = within / strictest
    straight = _bulge(around[0], around[1], begin, end, within * STRAIGHT**2)
    if straight >= 0:
        return straight
    curve = np.empty(8)
    squared = fitted(around[0], around[1], begin, end, np.zeros(4), within, curve)
    if squared > within or winds(curve):
        return 1e30
    return squared


@njit(cache=True, nogil=True, error_model="numpy")
def _reach(around, at, bound, way, guess, within) -> Any:  # type: ignore[no-untyped-def]
    """The farthest point, towards bound, that one curve from a point comes to."""
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
def _stretch(around, is_smooth, closeness, curves, far, span) -> Any:  # type: ignore[no-untyped-def]
    """The curves of a stretch; how many."""
    within, end = (closeness * FREE) ** 2, around.shape[1] - 1
    joints = np.empty(end + 1, np.int64)
    joints[0], many, guess = 0, 1, end // 2
    while joints[many - 1] < end:
        at = joints[many - 1]
        joints[many] = _reach(around, at, end, 1, guess, within)
        guess = joints[many] - at
        many += 1
    joints = joints[:many]
    if many > 2:
        _spread(around, end, joints[1:], within)
        for _ in range(BALANCING):
            _balance(around, joints[1:], within)
    return _drawn(around, joints, is_smooth, closeness, curves, far, span)


@njit(cache=True, nogil=True, error_model="numpy")
def _spread(around, end, joints, within) -> None:  # type: ignore[no-untyped-def]
    """Moves joints between where they come from the front and from the back, if all fits then."""
    pieces = len(joints)
    back = np.empty(pieces + 1, np.int64)
    back[pieces] = end
    guess, at, k = joints[0], end, pieces
    while at > 0 and k > 0:
        following = _reach(around, at, 0, -1, guess, within)
        guess, at = at - following, following
        k -= 1
        back[k] = at
    if k != 0 or at != 0:
        return
    moved = joints.copy()
    last = 0
    for k in range(pieces - 1):
        low, high = min(back[k + 1], joints[k]), joints[k]
        moved[k] = high - (high - low) * (k + 1) // pieces
        if moved[k] <= last or _fits(around, last, moved[k], within) > within:
            return
        last = moved[k]
    if last >= end or _fits(around, last, end, within) > within:
        return
    joints[:] = moved


@njit(cache=True, nogil=True, error_model="numpy")
def _balance(around, joints, within) -> None:  # type: ignore[no-untyped-def]
    """Moves each joint to where the worse of its two sides is best."""
    for k in range(len(joints) - 1):
        before = 0 if k == 0 else joints[k - 1]
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


@njit(cache=True, nogil=True, error_model="numpy")
def _drawn(  # type: ignore[no-untyped-def]
    around, joints, is_smooth, closeness, curves, far, span
) -> Any:
    """The curves between joints, sharing their directions; how many."""
    pieces = len(joints) - 1
    x, y = around[0], around[1]
    within = (closeness * FREE) ** 2
    free = np.empty((pieces, 8))
    is_line = np.zeros(pieces, np.bool_)
    for k in range(pieces):
        fitted(x, y, joints[k], joints[k + 1], np.zeros(4), within, free[k])
        is_line[k] = _is_straight(x, y, joints[k], joints[k + 1], closeness)
    ways = np.zeros((pieces + 1, 2))
    for k in range(pieces + 1):
        # A stretch ends at corners, or goes all round.
        if is_smooth or 0 < k < pieces:
            ways[k] = _shared(free, is_line, (k - 1) % pieces, k % pieces)
    made = 0
    for k in range(pieces):
        begin, end = joints[k], joints[k + 1]
        if is_line[k]:
            _line(x, y, begin, end, curves[made])
            far[made] = _off(x, y, begin, end, curves[made])
            span[made, 0], span[made, 1] = begin, end
            made += 1
            continue
        strictest = 1.0
        for place in range(begin, end + 1):
            strictest = max(strictest, around[2, place])
        made = _smooth_piece(
            x,
            y,
            begin,
            end,
            ways[k],
            ways[k + 1],
            closeness**2 / strictest,
            curves,
            far,
            span,
            made,
        )
    return made


@njit(cache=True, nogil=True, error_model="numpy")
def _smooth_piece(  # type: ignore[no-untyped-def]
    x, y, begin, end, first, last, squared_closeness, curves, far, span, made
) -> Any:
    """One curve with given directions, or two where one would lie too far off."""
    within = squared_closeness * SHARED**2
    tangents = np.array([first[0], first[1], last[0], last[1]])
    curve = np.empty(8)
    squared = fitted(x, y, begin, end, tangents, within, curve)
    if squared <= within and not winds(curve):
        curves[made] = curve
        far[made] = math.sqrt(squared)
        span[made, 0], span[made, 1] = begin, end
        return made + 1
    if end - begin >= 6:
        middle = (begin + end) // 2
        way = _heading(x, y, middle, max(2, (end - begin) // 8))
        for part in range(2):
            low, high = (begin, middle) if part == 0 else (middle, end)
            tangents[:2] = first if part == 0 else way
            tangents[2:] = way if part == 0 else last
            squared = fitted(x, y, low, high, tangents, within, curves[made + part])
            far[made + part] = math.sqrt(squared)
            span[made + part, 0], span[made + part, 1] = low, high
        if max(far[made], far[made + 1]) ** 2 <= within and not (
            winds(curves[made]) or winds(curves[made + 1])
        ):
            return made + 2
    squared = fitted(x, y, begin, end, np.zeros(4), within, curve)
    if winds(curve) or squared > within:
        # Short and crooked: the line of its points.
        for place in range(begin, end):
            _line(x, y, place, place + 1, curves[made])
            far[made] = 0.0
            span[made, 0], span[made, 1] = place, place + 1
            made += 1
        return made
    curves[made] = curve
    far[made] = math.sqrt(squared)
    span[made, 0], span[made, 1] = begin, end
    return made + 1


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
def _is_straight(x, y, begin, end, closeness) -> Any:  # type: ignore[no-untyped-def]
    along_x, along_y = x[end] - x[begin], y[end] - y[begin]
    length = math.hypot(along_x, along_y)
    if length == 0:
        return False
    allowed = min(STRAIGHT * closeness, STRAIGHT_OF_LENGTH * length)
    return _bulge(x, y, begin, end, allowed**2) >= 0


@njit(cache=True, nogil=True, error_model="numpy")
def _bulge(x, y, begin, end, allowed) -> Any:  # type: ignore[no-untyped-def]
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
def _line(x, y, begin, end, curve) -> None:  # type: ignore[no-untyped-def]
    for axis in range(2):
        of = x if axis == 0 else y
        curve[axis], curve[6 + axis] = of[begin], of[end]
    as_line(curve)


@njit(cache=True, nogil=True, error_model="numpy")
def _off(x, y, begin, end, curve) -> Any:  # type: ignore[no-untyped-def]
    """How far points lie from a line's curve."""
    worst = 0.0
    for place in range(begin + 1, end):
        u = (place - begin) / (end - begin)
        u, _ = nearest(x[place], y[place], u, curve)
        _, squared = nearest(x[place], y[place], u, curve)
        worst = max(worst, squared)
    return math.sqrt(worst)
