"""Draws marks into pixels at any scale, their edges shared out over a pixel."""

import math
from typing import Any

import numpy as np
from numba import njit, prange

from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.planes.filters import Plane, averaged
from flinz.core.scale import Frame

STRIP_PX = 32
# Between points nearer than this a stroke is as good as straight; in a draft, which is shown
# enlarged, it may be three times as far.
SHORTEST_PIECE_PX, DRAFT_PIECE_PX = 0.5, 1.5
# Dots of which half are narrower than this are drawn finer, at most so many times a side.
LEAST_PX, FINEST = 3.0, 6
SHAPES = list(Shape)
# Of a dash: half its width as a share of its radius. Of a ring: half the width of its line.
DASH_HALF, RING_HALF = 0.3, 0.2
# How far a worn pen's blob bulges twice and three times around, as shares of its radius.
TWO, THREE = np.float32(0.26), np.float32(0.16)


def dots_cover(dots: Dots, frame: Frame) -> Plane:
    """Ink of dots in a frame, (H, W) float32 0..1.

    Where dots share a pixel each leaves its share of what the others leave bare, which is right
    for edges that cross and nearly so for edges that face each other.
    """
    x, y = frame.pixels_of(dots.x, dots.y)
    radius = dots.radius * np.float32(frame.px_per_mm)
    order = np.argsort(y, kind="stable")
    # A blob bulges beyond its circle.
    largest = float(radius.max(initial=0)) * (1 + 0.5 * dots.blob) + 1
    tops = np.arange(0, frame.height + STRIP_PX, STRIP_PX)
    # The dots that can touch a strip stand together, since they are sorted by their height.
    first = np.searchsorted(y[order], tops[:-1] - largest)
    last = np.searchsorted(y[order], tops[1:] + largest)
    turns = dots.angle if len(dots.angle) else np.zeros(len(dots), np.float32)
    drawn = _drawn_dots(
        x[order],
        y[order],
        radius[order],
        np.cos(turns[order]),
        np.sin(turns[order]),
        dots.numbers[order],
        np.float32(-1 if dots.mirrored else 1),
        SHAPES.index(dots.shape),
        np.float32(dots.blob),
        first,
        last,
        frame.height,
        frame.width,
    )
    if len(dots.necks):
        joints = _strokes_cover(dots.necks, frame, SHORTEST_PIECE_PX, are_one=True)
        # Within a pixel what joins dots lies partly over them and partly beside them: midway
        # between the darker of both, and what they leave where neither knows of the other.
        apart = drawn + joints - drawn * joints
        drawn = (apart + np.maximum(drawn, joints)) / 2
    return np.asarray(drawn, np.float32)


def small_dots_cover(dots: Dots, frame: Frame) -> Plane:
    """Ink of dots in a frame as dots_cover gives it, but true where dots are smaller than pixels.

    Dots of which half are under LEAST_PX pixels wide are drawn up to FINEST times as fine and
    averaged.
    """
    width_px = 2 * frame.px(float(np.median(dots.radius))) if len(dots) else LEAST_PX
    times = min(FINEST, math.ceil(LEAST_PX / width_px))
    if times == 1:
        return dots_cover(dots, frame)
    return averaged(dots_cover(dots, frame.magnified(times)), frame.width, frame.height)


@njit(parallel=True, fastmath=True, cache=True)
def _drawn_dots(  # type: ignore[no-untyped-def]
    x, y, radius, cosine, sine, own, side, shape, blob, first, last, height, width
) -> Any:
    half, one = np.float32(0.5), np.float32(1.0)
    out = np.zeros((height, width), np.float32)
    for strip in prange(first.shape[0]):
        top = strip * STRIP_PX
        bottom = min(height, top + STRIP_PX)
        for k in range(first[strip], last[strip]):
            size = radius[k]
            reach = size * (one + half * blob) + half
            # A cone that is cut off where it holds just the ink of the dot, however small.
            rim = size + half
            beyond = max(rim * rim * rim - np.float32(3.0) * size * size, np.float32(0.0))
            most = min(one, rim - np.cbrt(beyond))
            row_from = max(top, int(np.floor(y[k] - reach)))
            row_to = min(bottom, int(np.ceil(y[k] + reach)))
            column_from = max(0, int(np.floor(x[k] - reach)))
            column_to = min(width, int(np.ceil(x[k] + reach)))
            for row in range(row_from, row_to):
                dy = row + half - y[k]
                for column in range(column_from, column_to):
                    dx = column + half - x[k]
                    if shape == 0:
                        inside = size - np.sqrt(dx * dx + dy * dy)
                        if blob > 0:
                            # Outlines turn with their dots, and are seen from either side.
                            along = side * (dx * cosine[k] - dy * sine[k])
                            across = dx * sine[k] + dy * cosine[k]
                            inside += size * blob * _bulge(along, across, own[k])
                    else:
                        # Along the mark's own axis and across it; y points down.
                        along = dx * cosine[k] - dy * sine[k]
                        across = dx * sine[k] + dy * cosine[k]
                        inside = _inside(along, across, size, shape)
                    value = min(inside + half, most)
                    if value > 0:
                        out[row, column] += value * (one - out[row, column])
    return out


@njit(inline="always")
def _bulge(dx, dy, own) -> Any:  # type: ignore[no-untyped-def]
    # Two and three bulges round the dot, turned by its own number: no sine needed, since the
    # powers of the direction are the cosines of its multiples.
    away = np.sqrt(dx * dx + dy * dy) + np.float32(1e-6)
    u, v = dx / away, dy / away
    p = np.float32(2.0) * own - np.float32(1.0)
    q = np.sqrt(np.float32(1.0) - p * p)
    two = (u * u - v * v) * p + np.float32(2.0) * u * v * q
    three = u * (u * u - np.float32(3.0) * v * v) * q + v * (np.float32(3.0) * u * u - v * v) * p
    return TWO * two + THREE * three


@njit(inline="always")
def _inside(along, across, size, shape) -> Any:  # type: ignore[no-untyped-def]
    # How far inside the mark a place is, in pixels; negative outside.
    along, across = abs(along), abs(across)
    if shape == 1:
        thick = size * np.float32(DASH_HALF)
        beyond = max(along - (size - thick), np.float32(0.0))
        return thick - np.sqrt(beyond * beyond + across * across)
    if shape == 2:
        line = size * np.float32(RING_HALF)
        return line - abs(np.sqrt(along * along + across * across) - (size - line))
    if shape == 3:
        return size * np.float32(0.7071) - max(along, across)
    if shape == 4:
        # Where two circles meet: as long as the dot, half as wide.
        bow = size * np.float32(1.25)
        middle = across + size * np.float32(0.75)
        return bow - np.sqrt(along * along + middle * middle)
    return (size - along - across) * np.float32(0.7071)


def strokes_cover(strokes: Strokes, frame: Frame, draft: bool = False) -> Plane:
    """Ink of strokes in a frame, (H, W) float32 0..1.

    Within a stroke the darkest of its pieces counts; strokes that share a pixel leave bare what
    dots would. A draft takes longer pieces.
    """
    return _strokes_cover(strokes, frame, DRAFT_PIECE_PX if draft else SHORTEST_PIECE_PX)


def _strokes_cover(
    strokes: Strokes, frame: Frame, shortest: float, *, are_one: bool = False
) -> Plane:
    x, y = frame.pixels_of(strokes.x, strokes.y)
    half = strokes.width * np.float32(frame.px_per_mm / 2)
    strips = max(1, -(-frame.height // STRIP_PX))
    least = np.float32(shortest)
    pieces, first = _in_strips(x, y, half, strokes.first, strips, frame.width, least)
    if are_one:
        pieces[:, 2] = 0
    drawn = _drawn_strokes(x, y, half, pieces, first, frame.height, frame.width)
    return np.asarray(drawn, np.float32)


@njit(cache=True, nogil=True)
def _in_strips(x, y, half, begins, strips, width, shortest) -> Any:  # type: ignore[no-untyped-def]
    # From point to point of a stroke is a piece: both points and the number of the stroke, under
    # every strip it touches. Points too near to tell apart are passed over, and pieces beside the
    # frame fall away.
    counts = np.zeros(strips + 1, np.int64)
    pieces = np.empty((0, 3), np.int32)
    least = shortest * shortest
    per_strip = np.float32(1 / STRIP_PX)
    for filling in range(2):
        for stroke in range(begins.shape[0] - 1):
            last = begins[stroke + 1] - 1
            k = begins[stroke]
            for to in range(k + 1, last + 1):
                dx, dy = x[to] - x[k], y[to] - y[k]
                if dx * dx + dy * dy < least and to < last:
                    continue
                start, k = k, to
                reach = max(half[start], half[to]) + 1
                if max(x[start], x[to]) + reach <= 0 or min(x[start], x[to]) - reach >= width:
                    continue
                top = max(int((min(y[start], y[to]) - reach) * per_strip), 0)
                low = min(int((max(y[start], y[to]) + reach) * per_strip), strips - 1)
                for strip in range(top, low + 1):
                    if filling:
                        piece = pieces[counts[strip]]
                        piece[0], piece[1], piece[2] = start, to, stroke
                    counts[strip + (1 - filling)] += 1
        if not filling:
            # From how many each strip has to where it begins; filling moves that to its end.
            counts = np.cumsum(counts)
            pieces = np.empty((counts[strips], 3), np.int32)
    first = np.zeros(strips + 1, np.int64)
    for strip in range(strips):
        first[strip + 1] = counts[strip]
    return pieces, first


@njit(parallel=True, fastmath=True, cache=True)
def _drawn_strokes(  # type: ignore[no-untyped-def]
    x, y, half, pieces, first, height, width
) -> Any:
    zero, one, middle = np.float32(0.0), np.float32(1.0), np.float32(0.5)
    out = np.zeros((height, width), np.float32)
    for strip in prange(first.shape[0] - 1):
        top = strip * STRIP_PX
        bottom = min(height, top + STRIP_PX)
        # What the stroke being drawn has inked so far, and which stroke that was.
        own = np.zeros((STRIP_PX, width), np.float32)
        whose = np.full((STRIP_PX, width), -1, np.int32)
        for at in range(first[strip], first[strip + 1]):
            k, to, stroke = pieces[at]
            x0, y0, r0 = x[k], y[k], half[k]
            dx, dy, dr = x[to] - x0, y[to] - y0, half[to] - r0
            if r0 <= 0 and r0 + dr <= 0:
                continue
            per_length = one / max(dx * dx + dy * dy, np.float32(1e-9))
            reach = max(r0, r0 + dr) + middle
            row_from = max(top, int(np.floor(min(y0, y0 + dy) - reach)))
            row_to = min(bottom, int(np.ceil(max(y0, y0 + dy) + reach)))
            column_from = max(0, int(np.floor(min(x0, x0 + dx) - reach)))
            column_to = min(width, int(np.ceil(max(x0, x0 + dx) + reach)))
            for row in range(row_from, row_to):
                py = row + middle - y0
                for column in range(column_from, column_to):
                    px = column + middle - x0
                    t = min(max((px * dx + py * dy) * per_length, zero), one)
                    ex, ey = px - t * dx, py - t * dy
                    r = r0 + t * dr
                    away, rim = ex * ex + ey * ey, r + middle
                    # Most are too far off, which needs no root to tell.
                    if away >= rim * rim:
                        continue
                    # A line under a pixel wide keeps its ink: its height is its width.
                    value = min(rim - np.sqrt(away), min(r + r, one))
                    if value <= 0:
                        continue
                    if whose[row - top, column] != stroke:
                        out[row, column] += own[row - top, column] * (one - out[row, column])
                        own[row - top, column] = value
                        whose[row - top, column] = stroke
                    elif value > own[row - top, column]:
                        own[row - top, column] = value
        for row in range(top, bottom):
            for column in range(width):
                out[row, column] += own[row - top, column] * (one - out[row, column])
    return out
