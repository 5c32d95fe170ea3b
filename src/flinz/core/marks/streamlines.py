"""Evenly spaced streamlines: lines that follow a form and keep their distance."""

import math
from typing import Any

import numpy as np
from numba import njit

from flinz.core.marks.hatching import MAX_POINTS
from flinz.core.marks.vectors import Strokes
from flinz.core.planes.flow import Field
from flinz.errors import DocumentError

STEPS_PER_SPACING = 2.5
# What a draft takes: a third less time, and nearly the same lines.
DRAFT_STEPS_PER_SPACING = 1.5
# A line ends where another lies nearer than this share of the spacing.
NEAREST = 0.62
# A line may start where none lies nearer than this: well under 1, or a bend would decide.
BESIDE = 0.8
# Cosine of the sharpest turn in one step.
SHARPEST = 0.70
# Lines shorter than this many spacings are left out.
SHORTEST = 2.0
# In spacings: from guide to guide as a rule, and half the length that each is sure of.
GUIDE_SPACINGS, GUIDE_HALF = 4.0, 1.0
# A hand does not lift its pen at equal lengths: by this share they differ, either way and end.
UNEVEN = 0.45
# A line that is in the way is followed so many points on.
FOLLOWED = 4
# A line may be this many points long before it can meet itself.
OWN_POINTS = 10
# The owner of what is no line yet, and that of what no guide may pass through. Of plain numbers
# kernels of their own would be compiled.
NO_LINE, NO_GUIDE = np.int64(-1), np.int64(-2)


def streamlines(
    field: Field,
    spacing_mm: float,
    length_mm: float,
    steps_per_spacing: float = STEPS_PER_SPACING,
    angle_deg: float = 0.0,
) -> Strokes:
    """Lines along a field of a whole sheet, about spacing_mm apart; widths are all 1.

    After B. Jobard and W. Lefer (1997), "Creating evenly-spaced streamlines of arbitrary
    density": new lines start beside old ones, and run both ways until they come too near to any,
    or are about length_mm long. Here guides fixed to the paper come first, one somewhere in each
    cell of a net, so that a small change of the field moves lines a little, and not all of them.
    They begin on lines ruled at angle_deg, the field's own where there is no form: there strokes
    run on as an engraver's do, and end anywhere.
    Raises DocumentError if there would be too many points.
    """
    frame = field.frame
    width, height = frame.sheet_mm
    step = spacing_mm / steps_per_spacing
    expected = math.ceil(width * height / spacing_mm / step)
    if expected > MAX_POINTS:
        raise DocumentError(
            f"These lines would have about {expected:,} points; the limit is {MAX_POINTS:,}. "
            "Choose a wider spacing, or a smaller sheet."
        )
    # Room for lines as close as they may come, and for what is tried and given up.
    room = int(1.3 * expected / NEAREST) + 20_000
    x, y, first = _placed(
        field.directions,
        frame.px_per_mm,
        width,
        height,
        spacing_mm,
        length_mm,
        math.radians(angle_deg),
        step,
        room,
    )
    return Strokes(x, y, np.ones(len(x), np.float32), first)


@njit(fastmath=True, cache=True)
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


@njit(fastmath=True, cache=True)
def _in_the_way(x, y, near, own, head, points, cell) -> Any:  # type: ignore[no-untyped-def]
    # A point within near that is not of the guide own; -1 where the place is free.
    xs, ys, following, owner = points
    cx, cy, reach = int(x / cell), int(y / cell), math.ceil(near / cell - 1e-6)
    for j in range(max(0, cy - reach), min(head.shape[0], cy + reach + 1)):
        for i in range(max(0, cx - reach), min(head.shape[1], cx + reach + 1)):
            k = head[j, i]
            while k >= 0:
                away_x, away_y = xs[k] - x, ys[k] - y
                if away_x * away_x + away_y * away_y < near * near and owner[k] != own:
                    return k
                k = following[k]
    return -1


@njit(fastmath=True, cache=True)
def _still_taken(x, y, near, k, points, count) -> Any:  # type: ignore[no-untyped-def]
    # A point laid just before or after k that is within near; -1 where none is.
    xs, ys = points[0], points[1]
    for other in range(max(0, k - FOLLOWED), min(count, k + FOLLOWED + 1)):
        away_x, away_y = xs[other] - x, ys[other] - y
        if away_x * away_x + away_y * away_y < near * near:
            return other
    return -1


@njit(fastmath=True, cache=True)
def _drawn_out(  # type: ignore[no-untyped-def]
    directions, px_per_mm, start, size, near, step, reach, more, own, head, points, cell, way
) -> Any:
    # One line both ways from its start, so many points each, into way; returns where in way it
    # begins and ends. It runs on where another lies so near ahead that no line would fit between.
    width, height = size
    middle = way.shape[1] // 2
    low, high = middle, middle
    start_x, start_y = start
    way[0, middle], way[1, middle] = start_x, start_y
    for direction in range(2):
        x, y = start_x, start_y
        # The neighbours of a cell take its own heading, or they would cancel out.
        cell_x = min(int(x * px_per_mm), directions.shape[1] - 1)
        cell_y = min(int(y * px_per_mm), directions.shape[0] - 1)
        own_x, own_y = directions[cell_y, cell_x, 0], directions[cell_y, cell_x, 1]
        dx, dy = _heading(directions, px_per_mm, x, y, own_x, own_y)
        if direction == 1:
            dx, dy = -dx, -dy
        asked, is_stopped = reach[direction], False
        for _ in range(asked + more):
            mx, my = _heading(directions, px_per_mm, x + dx * step / 2, y + dy * step / 2, dx, dy)
            if mx * dx + my * dy < SHARPEST:
                break
            x += mx * step
            y += my * step
            # The way of this step's middle finds the middle of the next: the form changes
            # little in half a step, and to read it once a step saves a third.
            dx, dy = mx, my
            if x < 0 or y < 0 or x >= width or y >= height:
                break
            if _in_the_way(x, y, near, own, head, points, cell) >= 0:
                is_stopped = True
                break
            if _winds(way, low, high, x, y, near, direction):
                break
            if direction == 0:
                high += 1
                way[0, high], way[1, high] = x, y
            else:
                low -= 1
                way[0, low], way[1, low] = x, y
        if not is_stopped:
            if direction == 0:
                high = min(high, middle + asked)
            else:
                low = max(low, middle - asked)
    return low, high


@njit(fastmath=True, cache=True)
def _winds(way, low, high, x, y, near, direction) -> Any:  # type: ignore[no-untyped-def]
    # Whether a line comes back to an older part of itself.
    for other in range(low, high + 1, 3):
        gap = high - other if direction == 0 else other - low
        if gap > OWN_POINTS:
            away_x, away_y = way[0, other] - x, way[1, other] - y
            if away_x * away_x + away_y * away_y < near * near:
                return True
    return False


@njit(fastmath=True, cache=True)
def _laid(way, low, high, own, head, points, cell, count) -> Any:  # type: ignore[no-untyped-def]
    # Keeps a line's points; returns how many there are then.
    xs, ys, following, owner = points
    for k in range(low, high + 1):
        x, y = way[0, k], way[1, k]
        cx = min(max(int(x / cell), 0), head.shape[1] - 1)
        cy = min(max(int(y / cell), 0), head.shape[0] - 1)
        xs[count], ys[count], owner[count] = x, y, own
        following[count] = head[cy, cx]
        head[cy, cx] = count
        count += 1
    return count


@njit(fastmath=True, cache=True)
def _chance(number, which) -> Any:  # type: ignore[no-untyped-def]
    # A number 0..1 that goes with a guide.
    value = math.sin(number * 12.9898 + which * 78.233) * 43758.5453
    return value - math.floor(value)


@njit(fastmath=True, cache=True)
def _guide_start(guide, across, pitch, angle, spacing) -> Any:  # type: ignore[no-untyped-def]
    # Somewhere in its cell, on the nearest of the lines that are ruled at the angle.
    x = (guide % across + _chance(guide, 0)) * pitch
    y = (guide // across + _chance(guide, 1)) * pitch
    away_x, away_y = math.sin(angle), math.cos(angle)
    off = (x * away_x + y * away_y) / spacing
    back = (np.rint(off) - off) * spacing
    return x + back * away_x, y + back * away_y


@njit(fastmath=True, cache=True)
def _reach(guide, most) -> Any:  # type: ignore[no-untyped-def]
    # How many points a guide may go on, each way.
    there = most * (1.0 + UNEVEN * (2.0 * _chance(guide, 2) - 1.0))
    back = most * (1.0 + UNEVEN * (2.0 * _chance(guide, 3) - 1.0))
    return max(1, int(there)), max(1, int(back))


@njit(fastmath=True, cache=True)
def _beside(points, first, line, k, side, spacing) -> Any:  # type: ignore[no-untyped-def]
    # The place a spacing away from a point of a line.
    xs, ys = points[0], points[1]
    after, before = min(k + 1, first[line + 1] - 1), max(k - 1, first[line])
    tx, ty = xs[after] - xs[before], ys[after] - ys[before]
    way = (1.0 - 2.0 * side) * spacing / (math.sqrt(tx * tx + ty * ty) + 1e-12)
    return xs[k] - way * ty, ys[k] + way * tx


@njit(fastmath=True, cache=True, nogil=True)
def _placed(  # type: ignore[no-untyped-def]
    directions, px_per_mm, width, height, spacing, length, angle, step, room
) -> Any:
    points = (
        np.empty(room, np.float32),
        np.empty(room, np.float32),
        np.empty(room, np.int32),
        np.empty(room, np.int32),
    )
    first = np.zeros(room // 2 + 2, np.int64)
    # Cells as wide as lines may come near: most questions then look at nine of them.
    cell = NEAREST * spacing
    head = np.full((int(height / cell) + 1, int(width / cell) + 1), -1, np.int32)
    most = max(2, int(length / 2 / step))
    stub = min(most, int(GUIDE_HALF * spacing / step))
    more = int(SHORTEST * spacing / step) + 1
    way = np.empty((2, 2 * (int((1.0 + UNEVEN) * most) + more) + 5), np.float32)
    size, near, beside = (width, height), NEAREST * spacing, BESIDE * spacing
    # First a stub of every guide, so short that few touch: all other lines then hang on the paper,
    # and not on what lies at the other end of the sheet.
    pitch = GUIDE_SPACINGS * spacing
    across, down = int(width / pitch) + 2, int(height / pitch) + 2
    # As NO_LINE, no plain number.
    nothing = np.int64(0)
    guides, count = across * down, nothing
    for which in range(guides):
        x, y = _guide_start(which, across, pitch, angle, spacing)
        if 0 <= x < width and 0 <= y < height and count + 2 * stub < room:
            low, high = _drawn_out(
                directions,
                px_per_mm,
                (x, y),
                size,
                near,
                step,
                (stub, stub),
                nothing,
                NO_LINE,
                head,
                points,
                cell,
                way,
            )
            count = _laid(way, low, high, which, head, points, cell, count)
    stubs = count
    first[0] = count
    # Then the guides at their full length, lines beside lines, and a finer net for what is left.
    net_x, net_y = int(width / (2 * spacing)) + 1, int(height / (2 * spacing)) + 1
    lines = guide = served = at = side = net = nothing
    # What stands beside one point of a line, as a rule, is another line that runs along it: its
    # next points are asked first, on either side.
    last_taken = np.full(2, -1, np.int64)
    while True:
        own, reach = NO_LINE, (most, most)
        if guide < guides:
            x, y = _guide_start(guide, across, pitch, angle, spacing)
            own = guide
            reach = _reach(guide, most)
            guide += 1
        elif served < lines:
            at = max(at, first[served])
            if at >= first[served + 1]:
                served += 1
                continue
            x, y = _beside(points, first, served, at, side, spacing)
            side += 1
            if side == 2:
                side = nothing
                at += 2
        elif net < net_x * net_y:
            x, y = (net % net_x + 0.5) * 2 * spacing, (net // net_x + 0.5) * 2 * spacing
            net += 1
        else:
            break
        if x < 0 or y < 0 or x >= width or y >= height:
            continue
        taken = -1
        if own < 0 and last_taken[side] >= 0:
            taken = _still_taken(x, y, beside, last_taken[side], points, count)
        if taken < 0:
            taken = _in_the_way(x, y, beside, own, head, points, cell)
        last_taken[side] = taken
        if taken >= 0:
            continue
        low, high = _drawn_out(
            directions,
            px_per_mm,
            (x, y),
            size,
            near,
            step,
            reach,
            more,
            own,
            head,
            points,
            cell,
            way,
        )
        longest = high - low + 1
        if longest * step < SHORTEST * spacing or count + longest > room:
            continue
        if lines + 2 >= first.shape[0]:
            break
        count = _laid(way, low, high, NO_GUIDE, head, points, cell, count)
        lines += 1
        first[lines] = count
    return points[0][stubs:count], points[1][stubs:count], first[: lines + 1] - stubs
