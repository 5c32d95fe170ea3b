"""Outlines of marks as curves: of dots that are no circles, of strokes whose width changes."""

import math
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.marks.pen import DASH_HALF, RING_HALF
from flinz.core.marks.vectors import Dots, Shape, Strokes

# (S, 8) float64 mm: begin, two handles, end; and where those of each ring begin.
Rings = tuple[NDArray[np.float64], NDArray[np.int64]]

# Handles of a quarter of a circle.
QUARTER = 4 / 3 * math.tan(math.pi / 8)
# Points at which the outline of a worn dot is told.
ROUND = 12
# Two and three bulges round a worn dot (see flinz.core.marks.pen); how far they reach at most, and
# the area that they add, as shares of a radius and of a circle.
TWO, THREE = 0.26, 0.16
WORN, WORN_AREA = TWO + THREE, (TWO**2 + THREE**2) / 2
# A stroke whose width differs by less is of one width, mm.
ONE_WIDTH_MM = 0.012
CAP_POINTS = 6


def dot_rings(dots: Dots) -> tuple[Rings, NDArray[np.int64]]:
    """The outlines of dots, and (R,) which dot each belongs to; all run the same way round but
    those of holes.
    """
    if dots.shape == Shape.ROUND:
        outline = _worn(dots) if dots.blob > 0 else _circle(1.0)
    else:
        outline = _plain(dots.shape)
    outline = outline if outline.ndim == 4 else outline[None]
    count, rings, curves = len(dots), outline.shape[1], outline.shape[2]
    local = np.broadcast_to(outline, (count, rings, curves, 8)).reshape(count, -1, 4, 2)
    turn = dots.angle if len(dots.angle) else np.zeros(count, np.float32)
    cosine, sine = np.cos(turn)[:, None, None], np.sin(turn)[:, None, None]
    side = -1.0 if dots.mirrored and dots.shape == Shape.ROUND else 1.0
    along, across = local[..., 0] * side, local[..., 1]
    size = dots.radius.astype(np.float64)[:, None, None]
    x = dots.x[:, None, None] + size * (along * cosine + across * sine)
    y = dots.y[:, None, None] + size * (across * cosine - along * sine)
    placed = np.stack([x, y], -1).reshape(-1, 8)
    first = np.arange(count * rings + 1, dtype=np.int64) * curves
    return (placed, first), np.repeat(np.arange(count), rings)


def _circle(radius: float, way: int = 1) -> NDArray[np.float64]:
    turn = np.arange(4) * math.pi / 2 * way
    begin = np.column_stack([np.cos(turn), np.sin(turn)])
    ahead = np.column_stack([-np.sin(turn), np.cos(turn)]) * QUARTER * way
    end = np.roll(begin, -1, 0)
    back = np.roll(ahead, -1, 0)
    return (radius * np.hstack([begin, begin + ahead, end - back, end]))[None]


def _worn(dots: Dots) -> NDArray[np.float64]:
    """(N, 1, ROUND, 8): circles that bulge, each by its own number (see flinz.core.marks.pen)."""
    turn = np.arange(ROUND) * 2 * math.pi / ROUND
    u, v = np.cos(turn), np.sin(turn)
    p = 2.0 * dots.numbers.astype(np.float64)[:, None] - 1
    q = np.sqrt(1 - p * p)
    two = (u * u - v * v) * p + 2 * u * v * q
    three = u * (u * u - 3 * v * v) * q + v * (3 * u * u - v * v) * p
    away = 1 + dots.blob * (TWO * two + THREE * three)
    return through(np.stack([u * away, v * away], -1))[:, None]


def _plain(shape: Shape) -> NDArray[np.float64]:
    if shape == Shape.SQUARE:
        half = 0.7071
        return polygon(np.array([[half, half], [-half, half], [-half, -half], [half, -half]]))[None]
    if shape == Shape.DIAMOND:
        return polygon(np.array([[1.0, 0], [0, 1], [-1, 0], [0, -1]]))[None]
    if shape == Shape.RING:
        return np.concatenate([_circle(1.0), _circle(1 - 2 * RING_HALF, -1)])
    if shape == Shape.DASH:
        thick = DASH_HALF
        round_end = _circle(thick)[0]
        right, left = (1 - thick, 0.0) * 4, (thick - 1, 0.0) * 4
        low, high = round_end[3] + right, round_end[0] + right
        turned, over = round_end[1] + left, round_end[2] + left
        top = polygon(np.array([high[6:], turned[:2]]))[0]
        bottom = polygon(np.array([over[6:], low[:2]]))[0]
        return np.stack([low, high, top, turned, over, bottom])[None]
    # A leaf: where two circles of radius 1.25 meet, their middles 0.75 off its line.
    half = math.acos(0.75 / 1.25)
    handle = 4 / 3 * math.tan(half / 4) * 1.25
    rise = 1.25 - 0.75
    begin, middle = np.array([1.0, 0.0]), np.array([0.0, rise])
    out = np.array([-math.cos(half), math.sin(half)]) * handle
    quarter = np.concatenate([begin, begin + out, middle + np.array([handle, 0]), middle])
    mirror = quarter.reshape(4, 2)[::-1] * (-1, 1)
    upper = np.stack([quarter, mirror.ravel()])
    lower = (upper.reshape(2, 4, 2) * (-1, -1)).reshape(2, 8)
    return np.concatenate([upper, lower])[None]


def polygon(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """Straight curves from corner to corner and back; (N, 2) to (N, 8)."""
    end = np.roll(corners, -1, -2)
    third = (end - corners) / 3
    return np.concatenate([corners, corners + third, end - third, end], -1)


def polygons(corners: NDArray[np.float64], first: NDArray[np.int64]) -> NDArray[np.float64]:
    """Straight curves (P, 8) from corner to corner of many polygons; first: (N + 1,)."""
    following = np.arange(1, len(corners) + 1)
    following[first[1:] - 1] = first[:-1]
    end = corners[following]
    third = (end - corners) / 3
    return np.hstack([corners, corners + third, end - third, end])


def through(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """A smooth closed line through points; (..., N, 2) to (..., N, 8). E. Catmull and R. Rom
    (1974).
    """
    end = np.roll(points, -1, -2)
    way = (end - np.roll(points, 1, -2)) / 6
    return np.concatenate([points, points + way, end - np.roll(way, -1, -2), end], -1)


def plainer(strokes: Strokes, within_mm: float) -> Strokes:
    """The same strokes by fewer points, nowhere farther off than within_mm, widths too."""
    kept = _plainer(strokes.x, strokes.y, strokes.width, strokes.first, np.float32(within_mm**2))
    first = np.concatenate([[0], np.cumsum(kept)])[strokes.first].astype(np.int64)
    return Strokes(strokes.x[kept], strokes.y[kept], strokes.width[kept], first)


@njit(cache=True, nogil=True)
def _plainer(x, y, width, first, within) -> Any:  # type: ignore[no-untyped-def]
    kept = np.zeros(len(x), np.bool_)
    for stroke in range(len(first) - 1):
        begin, last = first[stroke], first[stroke + 1] - 1
        if last < begin:
            continue
        kept[begin] = kept[last] = True
        at = begin
        while at < last:
            # As far as all that is passed over lies near the straight way.
            end = at + 1
            while end < last and _is_near(x, y, width, at, end + 1, within):
                end += 1
            kept[end] = True
            at = end
    return kept


@njit(cache=True, nogil=True)
def _is_near(x, y, width, begin, end, within) -> Any:  # type: ignore[no-untyped-def]
    dx, dy, dw = x[end] - x[begin], y[end] - y[begin], width[end] - width[begin]
    length = dx * dx + dy * dy
    for k in range(begin + 1, end):
        px, py = x[k] - x[begin], y[k] - y[begin]
        along = min(1.0, max(0.0, (px * dx + py * dy) / length)) if length > 0 else 0.0
        ex, ey = px - along * dx, py - along * dy
        wide = (width[k] - width[begin] - along * dw) / 2
        if ex * ex + ey * ey > within or wide * wide > within:
            return False
    return True


def of_one_width(strokes: Strokes) -> NDArray[np.bool_]:
    """(N,) which strokes have one width all along."""
    if not len(strokes):
        return np.zeros(0, np.bool_)
    most = np.maximum.reduceat(strokes.width, strokes.first[:-1])
    least = np.minimum.reduceat(strokes.width, strokes.first[:-1])
    return np.asarray(most - least <= ONE_WIDTH_MM)


def stroke_rings(
    strokes: Strokes, round_ends: bool = True
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The outlines of strokes as polygons, with round ends or plain ones: corners (P, 2) float64,
    and where those of each begin, (N + 1,) int64.

    What a pen of changing width leaves: the hull of its discs from point to point. Filled by the
    nonzero rule an outline may lie over itself.
    """
    ends = CAP_POINTS if round_ends else 0
    room = 8 * len(strokes.x) + 2 * ends * len(strokes)
    corners = np.empty((room, 2))
    first = _outlined(
        strokes.x.astype(np.float64),
        strokes.y.astype(np.float64),
        strokes.width.astype(np.float64) / 2,
        strokes.first,
        ends,
        corners,
    )
    return corners[: first[-1]], first


@njit(cache=True, nogil=True)
def _outlined(x, y, half, first, ends, corners) -> Any:  # type: ignore[no-untyped-def]
    bounds = np.zeros(len(first), np.int64)
    # Of a literal kernels of their own would be compiled.
    at = np.int64(0)
    for stroke in range(len(first) - 1):
        begin, last = first[stroke], first[stroke + 1] - 1
        # There on one side, back on the other.
        for way in (1, -1):
            here = begin if way > 0 else last
            goal = last if way > 0 else begin
            before_x, before_y, has_before = 0.0, 0.0, False
            while here != goal:
                there = here + way
                while there != goal and x[there] == x[here] and y[there] == y[here]:
                    there += way
                dx, dy = x[there] - x[here], y[there] - y[here]
                length = math.hypot(dx, dy)
                if length == 0:
                    break
                dx, dy = dx / length, dy / length
                lean = min(1.0, max(-1.0, (half[here] - half[there]) / length))
                over = math.sqrt(1 - lean * lean)
                # Where a line touches both discs, seen from their middles.
                tx, ty = -dy * over + dx * lean, dx * over + dy * lean
                if has_before:
                    at = _turned(
                        x[here], y[here], half[here], before_x, before_y, tx, ty, corners, at
                    )
                elif ends > 0 and here == (begin if way > 0 else last):
                    at = _capped(x[here], y[here], half[here], -dx, -dy, tx, ty, ends, corners, at)
                corners[at, 0], corners[at, 1] = (
                    x[here] + half[here] * tx,
                    y[here] + half[here] * ty,
                )
                at += 1
                corners[at, 0] = x[there] + half[there] * tx
                corners[at, 1] = y[there] + half[there] * ty
                at += 1
                before_x, before_y, has_before = tx, ty, True
                here = there
            if not has_before and way > 0:
                # All in one place: a dot.
                wide = half[begin : last + 1].max()
                for k in range(8):
                    turn = k * math.pi / 4
                    corners[at, 0] = x[begin] + wide * math.cos(turn)
                    corners[at, 1] = y[begin] + wide * math.sin(turn)
                    at += 1
                break
        bounds[stroke + 1] = at
    return bounds


@njit(cache=True, nogil=True)
def _turned(px, py, radius, from_x, from_y, to_x, to_y, corners, at) -> Any:  # type: ignore[no-untyped-def]
    """From one touching line to the next at a point: round its disc, or by its middle."""
    if from_x * to_y - from_y * to_x < 0:
        mid_x, mid_y = from_x + to_x, from_y + to_y
        length = math.hypot(mid_x, mid_y)
        if length > 0.05 and length < 1.98:
            corners[at, 0] = px + radius * mid_x / length
            corners[at, 1] = py + radius * mid_y / length
            at += 1
    else:
        corners[at, 0], corners[at, 1] = px, py
        at += 1
    return at


@njit(cache=True, nogil=True)
def _capped(px, py, radius, back_x, back_y, to_x, to_y, ends, corners, at) -> Any:  # type: ignore[no-untyped-def]
    """Half round an end, from behind it to its first touching line on either side."""
    reach = math.acos(min(1.0, max(-1.0, back_x * to_x + back_y * to_y)))
    for k in range(ends):
        turn = reach * (2.0 * (k + 0.5) / ends - 1.0)
        cosine, sine = math.cos(turn), math.sin(turn)
        # Turned the way that leads from the far side to this one.
        corners[at, 0] = px + radius * (back_x * cosine + back_y * sine)
        corners[at, 1] = py + radius * (back_y * cosine - back_x * sine)
        at += 1
    return at
