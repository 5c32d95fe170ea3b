"""The order in which a pen draws many lines, so that it travels little with its tip up."""

import math
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

# Rounds of turning stretches over, and neighbours looked at from each end.
ROUNDS, NEIGHBOURS = 6, 8


def order_of(
    begin: NDArray[np.float64], end: NDArray[np.float64]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """An order (N,) of lines, and which are drawn from their end to their beginning.

    begin, end: (N, 2). From each line to the nearest one left (J. Bentley, 1990), then stretches
    of the order are turned over where that shortens the way (G. Croes, 1958), among neighbours.
    """
    if not len(begin):
        return np.zeros(0, np.int64), np.zeros(0, np.bool_)
    points = np.concatenate([begin, end])
    cells = _in_cells(points)
    order, turned = _nearest_next(begin, end, *cells)
    _shortened(begin, end, order, turned, *cells)
    given = np.arange(len(begin)), np.zeros(len(begin), np.bool_)
    # Of few lines the way that they came in may be the shorter one.
    return min((order, turned), given, key=lambda way: way_of(begin, end, *way))


def way_of(
    begin: NDArray[np.float64],
    end: NDArray[np.float64],
    order: NDArray[np.int64],
    turned: NDArray[np.bool_],
) -> float:
    """How far a pen travels between the lines of an order."""
    first = np.where(turned[:, None], end[order], begin[order])
    last = np.where(turned[:, None], begin[order], end[order])
    steps = first[1:] - last[:-1]
    return float(np.hypot(steps[:, 0], steps[:, 1]).sum())


def _in_cells(
    points: NDArray[np.float64],
) -> tuple[NDArray[np.int64], NDArray[np.int64], float, float, float, int, int]:
    """Points by the squares that they lie in, about two in each."""
    low, high = points.min(0), points.max(0)
    wide, tall = np.maximum(high - low, 1e-6)
    side = max(math.sqrt(wide * tall * 2 / len(points)), max(wide, tall) / 4000)
    columns, rows = int(wide / side) + 1, int(tall / side) + 1
    cell = ((points[:, 1] - low[1]) / side).astype(np.int64) * columns
    cell += ((points[:, 0] - low[0]) / side).astype(np.int64)
    sort = np.argsort(cell, kind="stable")
    first = np.searchsorted(cell[sort], np.arange(columns * rows + 1)).astype(np.int64)
    return sort.astype(np.int64), first, float(low[0]), float(low[1]), side, columns, rows


@njit(cache=True, nogil=True)
def _nearest_next(begin, end, sort, first, left, top, side, columns, rows) -> Any:  # type: ignore[no-untyped-def]
    count = len(begin)
    order, turned = np.empty(count, np.int64), np.zeros(count, np.bool_)
    # What is left in each square stands first in it.
    left_in = first[1:] - first[:-1]
    place = np.empty(2 * count, np.int64)
    for k in range(2 * count):
        place[sort[k]] = k
    done = np.zeros(count, np.bool_)
    x, y = left, top
    for step in range(count):
        best, best_at = np.inf, -1
        column = min(columns - 1, max(0, int((x - left) / side)))
        row = min(rows - 1, max(0, int((y - top) / side)))
        ring = 0
        while ring < columns + rows:
            if best_at >= 0 and best <= ((ring - 1) * side) ** 2:
                break
            for r in range(max(0, row - ring), min(rows, row + ring + 1)):
                hop = 1 if abs(r - row) == ring else max(1, 2 * ring)
                c = column - ring
                while c <= column + ring:
                    if 0 <= c < columns:
                        cell = r * columns + c
                        for at in range(first[cell], first[cell] + left_in[cell]):
                            k = sort[at]
                            px = begin[k, 0] if k < count else end[k - count, 0]
                            py = begin[k, 1] if k < count else end[k - count, 1]
                            far = (px - x) ** 2 + (py - y) ** 2
                            if far < best:
                                best, best_at = far, k
                    c += hop
            ring += 1
        line = best_at % count
        order[step], turned[step] = line, best_at >= count
        done[line] = True
        for each in (line, line + count):
            px = begin[line, 0] if each < count else end[line, 0]
            py = begin[line, 1] if each < count else end[line, 1]
            cell = int((py - top) / side) * columns + int((px - left) / side)
            at, last = place[each], first[cell] + left_in[cell] - 1
            other = sort[last]
            sort[at], sort[last] = other, each
            place[other], place[each] = at, last
            left_in[cell] -= 1
        x = begin[line, 0] if best_at >= count else end[line, 0]
        y = begin[line, 1] if best_at >= count else end[line, 1]
    return order, turned


@njit(cache=True, nogil=True)
def _far(one, other) -> Any:  # type: ignore[no-untyped-def]
    return math.hypot(one[0] - other[0], one[1] - other[1])


@njit(cache=True, nogil=True)
def _shortened(begin, end, order, turned, sort, first, left, top, side, columns, rows) -> None:  # type: ignore[no-untyped-def]
    """Turns stretches over while that shortens the way."""
    count = len(order)
    where = np.empty(count, np.int64)
    for k in range(count):
        where[order[k]] = k
    for _ in range(ROUNDS):
        changed = 0
        for i in range(count - 1):
            line = order[i]
            # From the end of one line to the beginning of the next.
            here = begin[line] if turned[i] else end[line]
            following = order[i + 1]
            there = end[following] if turned[i + 1] else begin[following]
            gone = _far(here, there)
            if gone <= 0:
                continue
            column, row = int((here[0] - left) / side), int((here[1] - top) / side)
            reach = min(2, int(gone / side) + 1)
            best, best_j = -1e-9, -1
            for r in range(max(0, row - reach), min(rows, row + reach + 1)):
                for c in range(max(0, column - reach), min(columns, column + reach + 1)):
                    cell = r * columns + c
                    for at in range(first[cell], first[cell + 1]):
                        other = sort[at] % count
                        j = where[other]
                        # Lines between i and j are drawn backwards, j's end first.
                        if j <= i + 1 or j - i > 50_000:
                            continue
                        last = begin[other] if turned[j] else end[other]
                        change = _far(here, last) - gone
                        if j + 1 < count:
                            beyond = order[j + 1]
                            next_to = end[beyond] if turned[j + 1] else begin[beyond]
                            change += _far(there, next_to) - _far(last, next_to)
                        if change < best:
                            best, best_j = change, j
            if best_j < 0:
                continue
            low, high = i + 1, best_j
            while low <= high:
                one, two = order[low], order[high]
                turn_one, turn_two = turned[low], turned[high]
                order[low], order[high] = two, one
                turned[low], turned[high] = not turn_two, not turn_one
                where[two], where[one] = low, high
                low += 1
                high -= 1
            changed += 1
        if changed == 0:
            break
