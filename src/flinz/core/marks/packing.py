"""Dots packed so that paper between them prints: kept apart in the light, joined in the dark."""

from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.marks.vectors import Column, Strokes, joined

ROUNDS = 30
# A share of what two dots lack, taken by each at a round: less than half, since a dot answers to
# several neighbours at once.
STEP = np.float32(0.4)
NEIGHBOURS = 12
NEARLY = np.float32(1.001)
# Where along a neck its width is taken, in gaps to each side of its middle.
STATIONS = np.array([-1.3, 0.0, 1.3], np.float32)


def kept_apart(
    places: NDArray[np.float32], room: Column, share: Column, bounds: tuple[float, float]
) -> NDArray[np.float32]:
    """Dots moved until the discs of room about them meet no more, as far as there is space.

    places: (N, 2) float32 x and y within 0..bounds; room: (N,) radii in the same unit. share:
    (N,) 0..1, how far each dot gives way. A border pushes as a dot mirrored in it would.
    """
    if not len(places):
        return places
    size = 2 * room.max()
    width, height = np.asarray(bounds, np.float32)
    # What lies together on paper lies together in memory: that halves the time.
    by_cell = _in_cells(places, size)[1]
    places, room, share = places[by_cell], room[by_cell], share[by_cell]
    for _ in range(ROUNDS):
        places = _pushed(places, room, share, _in_cells(places, size), width, height)
    moved = np.empty_like(places)
    moved[by_cell] = places
    return moved


def spared(
    places: NDArray[np.float32], radius: Column, gap: float, most: Column
) -> NDArray[np.float32]:
    """Radii (N,) made smaller where that opens a gap between neighbours: by at most a share."""
    if not len(places):
        return radius
    grid = _in_cells(places, np.float32(2 * radius.max() + 2 * gap))
    return np.asarray(_spared(places, radius, np.float32(gap), most, grid), np.float32)


def necks(
    places: NDArray[np.float32], radius: Column, gap: float, joins: NDArray[np.bool_] | None = None
) -> Strokes:
    """The ink that closes what is narrower than gap between dots, and no other paper.

    It is what a disc of that width cannot reach: between two dots a neck whose flanks are the
    disc's own outline (morphological closing, after G. Matheron, 1975; here from centre to
    centre, since the discs that touch both flanks lie on that line), never narrower than the
    gap itself; between three, a drop where the disc does not fit. joins: (N,) which dots need
    any; a pair of others is left out.
    """
    if not len(places):
        return joined([])
    grid = _in_cells(places, np.float32(2 * radius.max() + 2 * gap))
    wanted = np.ones(len(places), np.bool_) if joins is None else joins
    near, count = _near(places, radius, wanted, np.float32(gap), grid)
    line, begins = _joined(places, radius, np.float32(gap / 2), near, count)
    x, y, width = np.ascontiguousarray(line.T)
    return Strokes(x, y, width, begins)


@njit(cache=True, nogil=True)
def _in_cells(places, size) -> Any:  # type: ignore[no-untyped-def]
    # The cell of each dot; the dots listed cell by cell; where each cell's begin; how many cells
    # lie in a row. Cells have a rim, so that a dot's eight neighbours always exist.
    columns = int(places[:, 0].max() / size) + 3
    rows = int(places[:, 1].max() / size) + 3
    first = np.zeros(columns * rows + 1, np.int64)
    cells = np.empty(places.shape[0], np.int64)
    for k in range(places.shape[0]):
        cells[k] = (max(int(places[k, 1] / size), 0) + 1) * columns
        cells[k] += max(int(places[k, 0] / size), 0) + 1
        first[cells[k] + 1] += 1
    first = np.cumsum(first)
    free = first.copy()
    order = np.empty(places.shape[0], np.int32)
    for k in range(places.shape[0]):
        order[free[cells[k]]] = k
        free[cells[k]] += 1
    return cells, order, first, columns


@njit(parallel=True, fastmath=True, cache=True)
def _pushed(places, room, share, grid, width, height) -> Any:  # type: ignore[no-untyped-def]
    cells, order, first, columns = grid
    zero = np.float32(0)
    out = places.copy()
    for k in prange(places.shape[0]):
        if share[k] <= 0:
            continue
        x, y, cell = places[k, 0], places[k, 1], cells[k]
        to_x = 2 * STEP * (max(room[k] - x, zero) - max(room[k] - (width - x), zero))
        to_y = 2 * STEP * (max(room[k] - y, zero) - max(room[k] - (height - y), zero))
        for row in (-columns, 0, columns):
            for at in range(first[cell + row - 1], first[cell + row + 2]):
                other = order[at]
                if other == k:
                    continue
                dx, dy = x - places[other, 0], y - places[other, 1]
                both = room[k] + room[other]
                # Most are farther off: they are told without a root.
                square = dx * dx + dy * dy
                if square > both * both * NEARLY:
                    continue
                away = np.sqrt(square)
                lacks = both - away
                if lacks > 0 and away > 0:
                    push = lacks * STEP / away
                    to_x += dx * push
                    to_y += dy * push
        out[k, 0] = min(max(x + share[k] * to_x, zero), width)
        out[k, 1] = min(max(y + share[k] * to_y, zero), height)
    return out


@njit(parallel=True, fastmath=True, cache=True)
def _spared(places, radius, gap, most, grid) -> Any:  # type: ignore[no-untyped-def]
    cells, order, first, columns = grid
    out = radius.copy()
    for k in prange(places.shape[0]):
        if most[k] <= 0:
            continue
        x, y, cell = places[k, 0], places[k, 1], cells[k]
        for row in (-columns, 0, columns):
            for at in range(first[cell + row - 1], first[cell + row + 2]):
                other = order[at]
                dx, dy = x - places[other, 0], y - places[other, 1]
                lacks = radius[k] + radius[other] + gap - np.sqrt(dx * dx + dy * dy)
                # Each of the two gives up half of it, or neither does.
                give = min(most[k] * radius[k], most[other] * radius[other])
                if other != k and lacks <= 2 * give:
                    out[k] = min(out[k], radius[k] - lacks / 2)
    return out


@njit(parallel=True, fastmath=True, cache=True)
def _near(places, radius, joins, gap, grid) -> Any:  # type: ignore[no-untyped-def]
    cells, order, first, columns = grid
    # For each dot the later ones that less than a gap parts from it.
    near = np.empty((places.shape[0], NEIGHBOURS), np.int32)
    count = np.zeros(places.shape[0], np.int32)
    for k in prange(places.shape[0]):
        x, y, cell = places[k, 0], places[k, 1], cells[k]
        for row in (-columns, 0, columns):
            for at in range(first[cell + row - 1], first[cell + row + 2]):
                other = order[at]
                if other <= k or count[k] == NEIGHBOURS or not (joins[k] or joins[other]):
                    continue
                dx, dy = x - places[other, 0], y - places[other, 1]
                reach = radius[k] + radius[other] + gap
                within = abs(radius[k] - radius[other])
                away = dx * dx + dy * dy
                if within * within < away < reach * reach:
                    near[k, count[k]] = other
                    count[k] += 1
    return near, count


@njit(fastmath=True, cache=True, nogil=True)
def _joined(places, radius, disc, near, count) -> Any:  # type: ignore[no-untyped-def]
    pairs = int(count.sum())
    most = 3 * pairs + 2 * 4 * places.shape[0]
    line = np.empty((most, 3), np.float32)
    first = np.empty(pairs + 4 * places.shape[0] + 1, np.int64)
    points, strokes = 0, 0
    for k in range(places.shape[0]):
        for at in range(count[k]):
            other = near[k, at]
            first[strokes] = points
            strokes += 1
            points = _neck(places, radius, disc, k, other, line, points)
    for k in range(places.shape[0]):
        for at in range(count[k]):
            other = near[k, at]
            for after in range(count[k]):
                third = near[k, after]
                if third <= other or not _beside(near, count, other, third):
                    continue
                x, y, room = _between(places, radius, k, other, third)
                if 0 < room < disc and points + 2 <= most and strokes + 1 < first.shape[0]:
                    first[strokes] = points
                    strokes += 1
                    for _ in range(2):
                        line[points, 0], line[points, 1] = x, y
                        line[points, 2] = 2 * room + disc * np.float32(0.4)
                        points += 1
    first[strokes] = points
    return line[:points], first[: strokes + 1]


@njit(inline="always")
def _beside(near, count, one, other) -> Any:  # type: ignore[no-untyped-def]
    at = 0
    while at < count[one] and near[one, at] != other:
        at += 1
    return at < count[one]


@njit(inline="always")
def _neck(places, radius, disc, k, other, line, points) -> Any:  # type: ignore[no-untyped-def]
    dx, dy = places[other, 0] - places[k, 0], places[other, 1] - places[k, 1]
    away = np.sqrt(dx * dx + dy * dy)
    one, two = radius[k] + disc, radius[other] + disc
    # Where the disc that touches both dots stands: so far along the line and so far beside it.
    middle = (away * away + one * one - two * two) / (2 * away)
    beside = max(one * one - middle * middle, np.float32(0))
    for station in range(STATIONS.shape[0]):
        at = min(max(middle + STATIONS[station] * 2 * disc, np.float32(0)), away)
        half = np.sqrt(beside + (at - middle) * (at - middle)) - disc
        line[points, 0] = places[k, 0] + dx * at / away
        line[points, 1] = places[k, 1] + dy * at / away
        line[points, 2] = 2 * max(half, disc)
        points += 1
    return points


@njit(inline="always")
def _between(places, radius, a, b, c) -> Any:  # type: ignore[no-untyped-def]
    # The disc that touches three dots (Apollonius), by Newton's method; no room where it fails.
    x = (places[a, 0] + places[b, 0] + places[c, 0]) / 3
    y = (places[a, 1] + places[b, 1] + places[c, 1]) / 3
    room = np.float32(0)
    for _ in range(5):
        ax, ay = x - places[a, 0], y - places[a, 1]
        bx, by = x - places[b, 0], y - places[b, 1]
        cx, cy = x - places[c, 0], y - places[c, 1]
        la = np.sqrt(ax * ax + ay * ay) + np.float32(1e-6)
        lb = np.sqrt(bx * bx + by * by) + np.float32(1e-6)
        lc = np.sqrt(cx * cx + cy * cy) + np.float32(1e-6)
        room = la - radius[a]
        p, q, e = ax / la - bx / lb, ay / la - by / lb, (la - radius[a]) - (lb - radius[b])
        r, s, f = ax / la - cx / lc, ay / la - cy / lc, (la - radius[a]) - (lc - radius[c])
        whole = p * s - q * r
        if abs(whole) < np.float32(1e-6):
            return x, y, np.float32(-1)
        step_x, step_y = (e * s - q * f) / whole, (p * f - e * r) / whole
        x -= step_x
        y -= step_y
        room -= ax / la * step_x + ay / la * step_y
    return x, y, room
