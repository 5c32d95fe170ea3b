"""Level lines of a plane, as polylines that run between its pixels."""

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

# Sides of a cell of four pixels, clockwise from the top; each one's opposite is two further on.
# Of plain numbers kernels of their own would be compiled.
TOP, RIGHT, BOTTOM, LEFT = np.arange(4)


def level_lines(plane: Plane, level: float) -> tuple[Plane, Plane, NDArray[np.int64]]:
    """The lines along which a plane passes a level: x, y (P,) float32 in pixels, and where each
    line begins, (N + 1,) int64.

    plane: (H, W) float32; the middle of its first pixel is at 0.5, 0.5. Lines that go all round
    end at the point where they begin; others end at the rim. Marching squares (after W. Lorensen
    and H. Cline, 1987), places linear between pixels; where a cell could be parted in two ways its
    middle decides.
    """
    if min(plane.shape) < 2:
        return np.zeros(0, np.float32), np.zeros(0, np.float32), np.zeros(1, np.int64)
    x, y, first, _ = _followed(plane, np.float32(level), False)
    return x, y, first


def joined_lines(
    plane: Plane, level: float
) -> tuple[Plane, Plane, NDArray[np.int64], NDArray[np.int64]]:
    """Level lines, where what is above the level is joined in doubt, and (N, 2) int64 the row and
    column of the pixel on whose right side each begins, if it goes all round.
    """
    x, y, first, starts = _followed(plane, np.float32(level), True)
    return x, y, first, starts


@njit(cache=True, nogil=True)
def _followed(plane, level, joins) -> Any:  # type: ignore[no-untyped-def]
    height, width = plane.shape
    # Where a line crosses from a pixel to the one on its right, and to the one below.
    across = np.zeros((height, width), np.bool_)
    down = np.zeros((height, width), np.bool_)
    count = 0
    for row in range(height):
        for column in range(width):
            above = plane[row, column] >= level
            if column + 1 < width and (plane[row, column + 1] >= level) != above:
                across[row, column] = True
                count += 1
            if row + 1 < height and (plane[row + 1, column] >= level) != above:
                down[row, column] = True
                count += 1
    # A closed line has its first point twice, and at least four.
    x = np.empty(count + count // 4 + 1, np.float32)
    y = np.empty_like(x)
    first = np.zeros(count // 2 + 2, np.int64)
    starts = np.zeros((count // 2 + 2, 2), np.int64)
    lines, points = 0, np.int64(0)
    # From the rim first: what is left after that goes all round.
    for column in range(width - 1):
        for row, side in ((0, TOP), (height - 1, BOTTOM)):
            if across[row, column]:
                cell = min(row, height - 2)
                points = _line(plane, level, joins, across, down, cell, column, side, x, y, points)
                lines += 1
                first[lines] = points
    for row in range(height - 1):
        for column, side in ((0, LEFT), (width - 1, RIGHT)):
            if down[row, column]:
                cell = min(column, width - 2)
                points = _line(plane, level, joins, across, down, row, cell, side, x, y, points)
                lines += 1
                first[lines] = points
    for row in range(height - 1):
        for column in range(width - 1):
            if across[row, column]:
                points = _line(plane, level, joins, across, down, row, column, TOP, x, y, points)
                starts[lines] = row, column
                lines += 1
                first[lines] = points
    return x[:points].copy(), y[:points].copy(), first[: lines + 1].copy(), starts[:lines].copy()


@njit(cache=True)
def _line(plane, level, joins, across, down, row, column, side, x, y, points) -> Any:  # type: ignore[no-untyped-def]
    # Into a cell by one of its sides and on from cell to cell, taking each crossing once.
    height, width = plane.shape
    begin = points
    x[points], y[points] = _crossing(plane, level, row, column, side)
    points += 1
    started = row, column, side
    while True:
        side = _way_out(plane, level, joins, row, column, side)
        x[points], y[points] = _crossing(plane, level, row, column, side)
        points += 1
        _take(across, down, row, column, side)
        # The next cell is entered by the side opposite.
        row += (side == BOTTOM) - (side == TOP)
        column += (side == RIGHT) - (side == LEFT)
        side = (side + 2) % 4
        if (row, column, side) == started:
            x[points - 1], y[points - 1] = x[begin], y[begin]
            return points
        if row < 0 or column < 0 or row > height - 2 or column > width - 2:
            break
    row, column, side = started
    _take(across, down, row, column, side)
    return points


@njit(inline="always")
def _take(across, down, row, column, side) -> None:  # type: ignore[no-untyped-def]
    # No other line crosses there.
    if side in (TOP, BOTTOM):
        across[row + (side == BOTTOM), column] = False
    else:
        down[row, column + (side == RIGHT)] = False


@njit(cache=True)
def _way_out(plane, level, joins, row, column, side) -> Any:  # type: ignore[no-untyped-def]
    top_left, top_right = plane[row, column] >= level, plane[row, column + 1] >= level
    low_left, low_right = plane[row + 1, column] >= level, plane[row + 1, column + 1] >= level
    if top_left == low_right and top_right == low_left and top_left != top_right:
        middle = (
            plane[row, column]
            + plane[row, column + 1]
            + plane[row + 1, column]
            + plane[row + 1, column + 1]
        )
        # Either the corners at top right and low left are cut off, or the two others.
        if (joins or middle >= np.float32(4.0) * level) == top_left:
            return side + 1 if side % 2 == 0 else side - 1
        return 3 - side
    if side != TOP and top_left != top_right:
        return TOP
    if side != RIGHT and top_right != low_right:
        return RIGHT
    if side != BOTTOM and low_left != low_right:
        return BOTTOM
    return LEFT


@njit(inline="always")
def _crossing(plane, level, row, column, side) -> Any:  # type: ignore[no-untyped-def]
    half = np.float32(0.5)
    if side in (TOP, BOTTOM):
        at = row + 1 if side == BOTTOM else row
        here, there = plane[at, column], plane[at, column + 1]
        return column + half + (level - here) / (there - here), at + half
    at = column + 1 if side == RIGHT else column
    here, there = plane[row, at], plane[row + 1, at]
    return at + half, row + half + (level - here) / (there - here)
