"""Where outlines cross themselves or each other."""

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray


def crossing(
    begin: NDArray[np.float64], end: NDArray[np.float64], cell: float
) -> NDArray[np.bool_]:
    """Which of many straight pieces cross or touch another, but for those that share an end.

    begin, end: (N, 2) float64, none below 0. cell: side of the squares in which they are compared.
    Returns (N,).
    """
    found = np.zeros(len(begin), np.bool_)
    if not len(begin):
        return found
    low = np.floor(np.minimum(begin, end) / cell).astype(np.int64)
    high = np.floor(np.maximum(begin, end) / cell).astype(np.int64)
    # A piece stands in every square that its upright rectangle meets.
    low -= low.min(0)
    high -= np.floor(np.minimum(begin, end) / cell).astype(np.int64).min(0)
    columns, rows = (high.max(0) + 1).tolist()
    if columns * rows > 60_000_000:
        return crossing(begin, end, cell * 2)
    _crossing(begin, end, low, high, columns, rows, found)
    return found


@njit(cache=True, nogil=True)
def _crossing(begin, end, low, high, columns, rows, found) -> None:  # type: ignore[no-untyped-def]
    starts = np.zeros(columns * rows + 1, np.int64)
    for k in range(len(begin)):
        for row in range(low[k, 1], high[k, 1] + 1):
            for column in range(low[k, 0], high[k, 0] + 1):
                starts[row * columns + column + 1] += 1
    for cell in range(columns * rows):
        starts[cell + 1] += starts[cell]
    filled = starts[:-1].copy()
    within = np.empty(starts[-1], np.int64)
    for k in range(len(begin)):
        for row in range(low[k, 1], high[k, 1] + 1):
            for column in range(low[k, 0], high[k, 0] + 1):
                cell = row * columns + column
                for at in range(starts[cell], filled[cell]):
                    other = within[at]
                    if (not found[k] or not found[other]) and _cross(begin, end, k, other):
                        found[k] = found[other] = True
                within[filled[cell]] = k
                filled[cell] += 1


@njit(cache=True, nogil=True)
def _side(a, b, p) -> Any:  # type: ignore[no-untyped-def]
    return (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])


@njit(cache=True, nogil=True)
def _same(a, b) -> Any:  # type: ignore[no-untyped-def]
    return a[0] == b[0] and a[1] == b[1]


@njit(cache=True, nogil=True)
def _cross(begin, end, one, other) -> Any:  # type: ignore[no-untyped-def]
    a, b, c, d = begin[one], end[one], begin[other], end[other]
    if _same(b, c) or _same(d, a) or _same(a, c) or _same(b, d):
        return False
    first, second = _side(a, b, c), _side(a, b, d)
    if (first > 0 and second > 0) or (first < 0 and second < 0):
        return False
    third, fourth = _side(c, d, a), _side(c, d, b)
    if (third > 0 and fourth > 0) or (third < 0 and fourth < 0):
        return False
    if first == second == third == fourth == 0:
        # On one line: whether they overlap.
        axis = 0 if abs(b[0] - a[0]) + abs(d[0] - c[0]) > abs(b[1] - a[1]) + abs(d[1] - c[1]) else 1
        return max(min(a[axis], b[axis]), min(c[axis], d[axis])) <= min(
            max(a[axis], b[axis]), max(c[axis], d[axis])
        )
    return True
