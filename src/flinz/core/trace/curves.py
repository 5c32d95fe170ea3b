"""Closed contours as few cubic curves and straight lines, smooth where the outline is."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.planes.threads import mapping
from flinz.core.trace.contours import Contours
from flinz.core.trace.jointing import FREE, jointed, reach
from flinz.core.trace.runs import drawn

# So many lots of stretches are fitted one after another, by as many cores as there are.
HANDS = 64


@dataclass(frozen=True, eq=False)
class Curves:
    """Curves of contours, S in all, those of each contour together.

    points: (S, 8) float64 pixels, begin, two handles, end; a line has its handles on itself.
    first: (N + 1,) int64, where those of each contour begin. far: (S,) pixels, how far the contour
    lies from each. span: (S, 2) int64, the points of the contours near which each begins and ends.
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

    Each contour is parted at its corners, and the stretches between them at few joints: as far as a
    free curve goes from either end, joints between those bounds. Then joints move, with directions
    that both sides share, to where all points lie nearest, and go where they are not needed.
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
        # Long ones first, so that no core is left with one at the end; dealt out like cards, so
        # that each has long and short ones.
        order = which[np.argsort(-self._stretches[which, 1], kind="stable")]
        strict = strictness**2

        def fit(hand: int) -> None:
            _fit(
                self._contours.x,
                self._contours.y,
                strict,
                self._stretches,
                self._closeness,
                self._starts,
                self._points,
                self._far,
                self._span,
                self._used,
                np.ascontiguousarray(order[hand::HANDS]),
            )

        for _ in mapping()(fit, range(min(HANDS, len(order)))):
            pass

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
                _put(found[at], begin, place - begin, low, high, 0)
                at += 1
            begin = place
        if opening < 0:
            _put(found[at], low, high - low, low, high, 1)
        else:
            _put(found[at], begin, high - begin + opening - low, low, high, 0)
        at += 1
    return found


@njit(inline="always")
def _put(row, begin, steps, low, high, is_smooth) -> None:  # type: ignore[no-untyped-def]
    row[0], row[1], row[2], row[3], row[4] = begin, steps, low, high, is_smooth


@njit(cache=True, nogil=True, error_model="numpy")
def _fit(  # type: ignore[no-untyped-def]
    x, y, strict, stretches, closeness, starts, points, far, span, used, which
) -> None:
    for k in which:
        begin, steps, low, high, is_smooth = stretches[k]
        room = slice(starts[k], starts[k + 1])
        here = span[room]
        around = _from(x, y, strict, begin, steps, low, high)
        if is_smooth:
            # Begun where a first curve would end, the last one is as long as the others.
            within = (closeness * FREE) ** 2
            guess = max(2, steps // 4)
            reached = reach(around, np.int64(0), steps, np.int64(1), guess, within)
            begin = low + reached % steps
            around = _from(x, y, strict, begin, steps, low, high)
        joints = jointed(around, closeness)
        used[k] = drawn(around, joints, is_smooth, closeness, points[room], far[room], here)
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
