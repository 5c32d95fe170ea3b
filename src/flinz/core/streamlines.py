"""Evenly spaced streamlines: lines that follow a form and keep their distance."""

import math
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.flow import Field
from flinz.core.hatching import MAX_POINTS
from flinz.core.marks import Strokes
from flinz.errors import DocumentError

STEPS_PER_SPACING = 3.0
# A line ends where another lies nearer than this share of the spacing.
NEAREST = 0.62
# Cosine of the sharpest turn in one step.
SHARPEST = 0.70
# Lines shorter than this many spacings are left out.
SHORTEST = 2.0


def streamlines(field: Field, spacing_mm: float) -> Strokes:
    """Lines along a field of a whole sheet, about spacing_mm apart; widths are all 1.

    After B. Jobard and W. Lefer (1997), "Creating evenly-spaced streamlines of arbitrary
    density": new lines start beside old ones, and run both ways until they come too near to any.
    Raises DocumentError if there would be too many points.
    """
    frame = field.frame
    width, height = frame.full_width / frame.px_per_mm, frame.full_height / frame.px_per_mm
    step = spacing_mm / STEPS_PER_SPACING
    expected = math.ceil(width * height / spacing_mm / step)
    if expected > MAX_POINTS:
        raise DocumentError(
            f"These lines would have about {expected:,} points; the limit is {MAX_POINTS:,}. "
            "Choose a wider spacing, or a smaller sheet."
        )
    # Room for lines as close as they may come, and for what is tried and given up.
    room = int(expected / NEAREST) + 20_000
    x, y, first, count, lines = _placed(
        field.directions, frame.px_per_mm, width, height, spacing_mm, step, room
    )
    x, y = x[:count], y[:count]
    return Strokes(x, y, np.ones(count, np.float32), first[: lines + 1].astype(np.int64))


def cut_to_length(strokes: Strokes, length_mm: float, step_mm: float, seed: int) -> Strokes:
    """Strokes cut into shorter ones of about a length, each with its own."""
    runs = np.diff(strokes.first)
    rng = np.random.default_rng(seed)
    cuts: list[NDArray[np.int64]] = []
    for start, run in zip(strokes.first[:-1], runs, strict=True):
        pieces = max(1, round(run * step_mm / length_mm))
        inner = np.sort(rng.uniform(0.25, 0.75, pieces - 1) + np.arange(1, pieces) - 0.5)
        places = np.unique(np.rint(inner / pieces * run).astype(np.int64))
        cuts.append(start + np.concatenate([[0], places[(places > 1) & (places < run - 1)]]))
    first = np.concatenate([*cuts, strokes.first[-1:]]).astype(np.int64)
    return Strokes(strokes.x, strokes.y, strokes.width, first)


@njit(cache=True)
def _heading(directions, px_per_mm, x, y, dx, dy) -> Any:  # type: ignore[no-untyped-def]
    # The direction at a place, linear between cells, turned to go on as before.
    height, width = directions.shape[:2]
    at_x = min(max(x * px_per_mm - 0.5, 0.0), width - 1.001)
    at_y = min(max(y * px_per_mm - 0.5, 0.0), height - 1.001)
    ix, iy = int(at_x), int(at_y)
    sum_x, sum_y = 0.0, 0.0
    for j in range(2):
        for i in range(2):
            u = directions[iy + j, ix + i, 0]
            v = directions[iy + j, ix + i, 1]
            share = abs(1 - i - (at_x - ix)) * abs(1 - j - (at_y - iy))
            if u * dx + v * dy < 0:
                share = -share
            sum_x += share * u
            sum_y += share * v
    size = math.sqrt(sum_x * sum_x + sum_y * sum_y) + 1e-12
    return sum_x / size, sum_y / size


@njit(cache=True)
def _is_free(x, y, near, head, following, xs, ys, cell) -> Any:  # type: ignore[no-untyped-def]
    # Whether no point of a line already laid is within near.
    cx, cy = int(x / cell), int(y / cell)
    for j in range(max(0, cy - 1), min(head.shape[0], cy + 2)):
        for i in range(max(0, cx - 1), min(head.shape[1], cx + 2)):
            k = head[j, i]
            while k >= 0:
                away_x, away_y = xs[k] - x, ys[k] - y
                if away_x * away_x + away_y * away_y < near * near:
                    return False
                k = following[k]
    return True


@njit(cache=True)
def _placed(  # type: ignore[no-untyped-def]
    directions, px_per_mm, width, height, spacing, step, room
) -> Any:
    xs, ys = np.empty(room, np.float32), np.empty(room, np.float32)
    following = np.empty(room, np.int32)
    first = np.zeros(room // 2 + 2, np.int64)
    cells_x, cells_y = int(width / spacing) + 1, int(height / spacing) + 1
    head = np.full((cells_y, cells_x), -1, np.int32)
    most = int(2 * (width + height) / step)
    way_x, way_y = np.empty(2 * most + 2, np.float32), np.empty(2 * most + 2, np.float32)
    count, lines, served = 0, 0, 0
    near, wanted = NEAREST * spacing, 0.99 * spacing
    # A coarse net of further starts finds the places that no line has come beside.
    net_x, net_y = int(width / (2 * spacing)) + 1, int(height / (2 * spacing)) + 1
    net = 0
    served_point, side = 0, 0
    while True:
        # The next place to start from: beside the oldest line not yet gone along, else the net.
        start_x, start_y = -1.0, -1.0
        if served < lines:
            if served_point < first[served]:
                served_point = first[served]
            if served_point >= first[served + 1]:
                served += 1
                continue
            k = served_point
            after = min(k + 1, first[served + 1] - 1)
            before = max(k - 1, first[served])
            tx, ty = xs[after] - xs[before], ys[after] - ys[before]
            size = math.sqrt(tx * tx + ty * ty) + 1e-12
            sign = 1.0 if side == 0 else -1.0
            start_x = xs[k] - sign * spacing * ty / size
            start_y = ys[k] + sign * spacing * tx / size
            side += 1
            if side == 2:
                side = 0
                served_point += 2
        elif net < net_x * net_y:
            start_x = (net % net_x + 0.5) * 2 * spacing
            start_y = (net // net_x + 0.5) * 2 * spacing
            net += 1
        else:
            break
        if start_x < 0 or start_y < 0 or start_x >= width or start_y >= height:
            continue
        if not _is_free(start_x, start_y, wanted, head, following, xs, ys, spacing):
            continue
        # Both ways from the start; the second way is laid before the first.
        low, high = most, most
        way_x[most], way_y[most] = start_x, start_y
        for direction in range(2):
            x, y = start_x, start_y
            dx, dy = _heading(directions, px_per_mm, x, y, 1.0, 0.0)
            if direction == 1:
                dx, dy = -dx, -dy
            for _ in range(most - 1):
                mx, my = _heading(
                    directions, px_per_mm, x + dx * step / 2, y + dy * step / 2, dx, dy
                )
                if mx * dx + my * dy < SHARPEST:
                    break
                x += mx * step
                y += my * step
                dx, dy = _heading(directions, px_per_mm, x, y, mx, my)
                if x < 0 or y < 0 or x >= width or y >= height:
                    break
                if not _is_free(x, y, near, head, following, xs, ys, spacing):
                    break
                # A line that closes on itself, or winds, would run for ever.
                winds = False
                if high - low > 8:
                    for other in range(low, high + 1, 3):
                        gap = high - other if direction == 0 else other - low
                        if gap > 10:
                            away_x, away_y = way_x[other] - x, way_y[other] - y
                            if away_x * away_x + away_y * away_y < near * near:
                                winds = True
                                break
                if winds:
                    break
                if direction == 0:
                    high += 1
                    way_x[high], way_y[high] = x, y
                else:
                    low -= 1
                    way_x[low], way_y[low] = x, y
        points = high - low + 1
        if points * step < SHORTEST * spacing or count + points > room:
            continue
        if lines + 2 >= first.shape[0]:
            break
        for k in range(low, high + 1):
            x, y = way_x[k], way_y[k]
            cx = min(max(int(x / spacing), 0), cells_x - 1)
            cy = min(max(int(y / spacing), 0), cells_y - 1)
            xs[count], ys[count] = x, y
            following[count] = head[cy, cx]
            head[cy, cx] = count
            count += 1
        lines += 1
        first[lines] = count
    return xs, ys, first, count, lines
