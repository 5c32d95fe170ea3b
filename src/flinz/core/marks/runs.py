"""Stretches of lines: laid onto edges, kept where they are clear, as smooth as a hand's."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange

from flinz.core.marks.vectors import Column, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

# A line goes on through what is this share as clear as it must be to begin.
GOES_ON = 0.4
# Of the length, or of the way round, that must be clear enough to begin.
CLEARLY = 0.5
# Gaussian windows end here, in sigmas.
WINDOW = 2.5


def clear_runs(
    lines: Strokes, clear: Column, least: float, gap_mm: float, length_mm: float, area_mm2: float
) -> Strokes:
    """The stretches of lines that are clear enough.

    clear: (P,) how clear each point is. A line begins where that is over least and goes on while it
    is over GOES_ON of it (hysteresis, as J. Canny, 1986, has it), and across gaps of gap_mm. Where
    it comes to go all round it must enclose area_mm2, else be length_mm long; CLEARLY of that must
    be over least. A line that ends where it begins is taken to go all round.
    """
    bounds = np.array([least, gap_mm, length_mm, area_mm2], np.float32)
    kept, first = _clear_runs(lines.x, lines.y, clear, lines.first, bounds)
    return Strokes(lines.x[kept], lines.y[kept], lines.width[kept], first)


@njit(cache=True, nogil=True)
def _clear_runs(x, y, clear, begins, bounds) -> Any:  # type: ignore[no-untyped-def]
    kept = np.empty(x.shape[0], np.int64)
    first = np.zeros(x.shape[0] + 1, np.int64)
    count, runs = 0, 0
    least, gap, length, area = bounds
    low = np.float32(GOES_ON) * least
    for line in range(begins.shape[0] - 1):
        begin, points = begins[line], begins[line + 1] - begins[line]
        start, longest = 0, np.float32(np.inf)
        if points > 3 and x[begin] == x[begin + points - 1] and y[begin] == y[begin + points - 1]:
            start, longest = _longest_gap(x, y, clear, low, begin, points - 1)
        if longest <= gap:
            around, enclosed, sure = _measured(x, y, clear, least, begin, points)
            if enclosed >= area and sure >= np.float32(CLEARLY) * around:
                for k in range(points):
                    kept[count + k] = begin + k
                count += points
                runs += 1
                first[runs] = count
            continue
        # A line that goes all round is begun behind its longest gap.
        cycle = points - 1 if start > 0 else points
        k = 0
        while k < cycle:
            if clear[begin + (start + k) % cycle] <= low:
                k += 1
                continue
            at, ends, along, bare, sure = count, count, np.float32(0), np.float32(0), np.float32(0)
            while k < cycle:
                point = begin + (start + k) % cycle
                step = np.float32(0)
                if at > count:
                    step = np.float32(
                        np.hypot(x[point] - x[kept[at - 1]], y[point] - y[kept[at - 1]])
                    )
                bare += step
                # A gap is as long as it is from one clear point to the next.
                if bare > gap and (at > ends or clear[point] <= low):
                    break
                kept[at] = point
                at += 1
                k += 1
                if clear[point] > low:
                    along += bare
                    bare = np.float32(0)
                    ends = at
                    sure += step if clear[point] > least else np.float32(0)
            if along >= length and sure >= np.float32(CLEARLY) * length:
                count = ends
                runs += 1
                first[runs] = count
    return kept[:count].copy(), first[: runs + 1].copy()


@njit(cache=True, nogil=True)
def _longest_gap(x, y, clear, low, begin, cycle) -> Any:  # type: ignore[no-untyped-def]
    # The longest stretch of a closed line that is not clear, and the point behind it.
    start = -1
    for k in range(cycle):
        if clear[begin + k] > low:
            start = k
            break
    if start < 0:
        return 0, np.float32(np.inf)
    longest, behind, bare = np.float32(0), start, np.float32(0)
    for k in range(1, cycle + 1):
        point, before = begin + (start + k) % cycle, begin + (start + k - 1) % cycle
        bare += np.float32(np.hypot(x[point] - x[before], y[point] - y[before]))
        if clear[point] > low:
            if clear[before] <= low and bare > longest:
                longest, behind = bare, (start + k) % cycle
            bare = np.float32(0)
    return behind, longest


@njit(cache=True, nogil=True)
def _measured(x, y, clear, least, begin, points) -> Any:  # type: ignore[no-untyped-def]
    # Of a closed line: how long it is, the area in it, and how much of it is clear.
    around, twice, sure = np.float32(0), np.float32(0), np.float32(0)
    for k in range(begin + 1, begin + points):
        step = np.float32(np.hypot(x[k] - x[k - 1], y[k] - y[k - 1]))
        around += step
        sure += step if clear[k] > least else np.float32(0)
        to_x, to_y = x[k] - x[begin], y[k] - y[begin]
        twice += (x[k - 1] - x[begin]) * to_y - to_x * (y[k - 1] - y[begin])
    return around, abs(twice) / np.float32(2), sure


def onto_edges(lines: Strokes, tone: Plane, grid: Frame, reach_mm: float) -> tuple[Strokes, Column]:
    """Lines with each point moved across its line to where tone (H, W) on the grid of a whole sheet
    is steepest, no farther than reach_mm, and (P,) how steep it is there, a mm, towards the same
    side as where the point was.

    The nearer of two edges counts more.
    """
    x, y = (each * np.float32(grid.px_per_mm) - np.float32(0.5) for each in (lines.x, lines.y))
    across = cv2.Scharr(tone, cv2.CV_32F, 1, 0, scale=grid.px_per_mm / 32)
    down = cv2.Scharr(tone, cv2.CV_32F, 0, 1, scale=grid.px_per_mm / 32)
    steep = _onto_edges(x, y, across, down, math.ceil(grid.px(reach_mm)))
    x, y = ((each + np.float32(0.5)) / np.float32(grid.px_per_mm) for each in (x, y))
    return Strokes(x, y, lines.width, lines.first), steep


@njit(parallel=True, cache=True)
def _onto_edges(x, y, across, down, reach) -> Any:  # type: ignore[no-untyped-def]
    # x and y, in pixels, are moved.
    steep = np.empty_like(x)
    for k in prange(x.shape[0]):
        way_x, way_y = _at(across, x[k], y[k]), _at(down, x[k], y[k])
        length = np.sqrt(way_x * way_x + way_y * way_y) + np.float32(1e-12)
        way_x, way_y = way_x / length, way_y / length
        # The last two values, for the top of a parabola through three.
        before, last = np.float32(0), np.float32(0)
        most, found, best, rose = np.float32(-1), np.float32(0), np.float32(0), False
        for t in range(-reach, reach + 1):
            to_x, to_y = x[k] + t * way_x, y[k] + t * way_y
            here = _at(across, to_x, to_y) * way_x + _at(down, to_x, to_y) * way_y
            share = np.float32(t) / np.float32(reach + 1)
            value = here * (1 - share * share)
            if rose:
                bend = before + value - 2 * last
                if bend < 0:
                    best += np.float32(0.5) * (before - value) / bend
            rose = value > most
            if rose:
                most, found, best = value, here, np.float32(t)
            before, last = last, value
        steep[k] = found
        x[k] += best * way_x
        y[k] += best * way_y
    return steep


@njit(inline="always")
def _at(plane, x, y) -> Any:  # type: ignore[no-untyped-def]
    # Linear between pixels; at the rim the outermost goes on.
    height, width = plane.shape
    x = min(max(x, np.float32(0)), np.float32(width - 1))
    y = min(max(y, np.float32(0)), np.float32(height - 1))
    column, row = min(int(x), max(width - 2, 0)), min(int(y), max(height - 2, 0))
    right, low = min(column + 1, width - 1), min(row + 1, height - 1)
    dx, dy = x - np.float32(column), y - np.float32(row)
    top = plane[row, column] + dx * (plane[row, right] - plane[row, column])
    bottom = plane[low, column] + dx * (plane[low, right] - plane[low, column])
    return top + dy * (bottom - top)


def along_lines(lines: Strokes, values: Column, sigma: float) -> Column:
    """Gaussian means of values (P,) along lines, sigma in points; (P,) float32.

    Lines that end where they begin go on round; others go on beyond their ends as if turned about
    them by half, so that straight lines stay as they are and ends stay in their place.
    """
    reach = max(1, math.ceil(WINDOW * sigma))
    weights = np.exp(-0.5 * (np.arange(reach + 1) / max(sigma, 1e-6)) ** 2)
    weights /= weights[0] + 2 * weights[1:].sum()
    return np.asarray(
        _along_lines(lines.x, lines.y, values, lines.first, weights.astype(np.float32)),
        np.float32,
    )


@njit(cache=True, nogil=True)
def _along_lines(x, y, values, begins, weights) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(values)
    reach = weights.shape[0] - 1
    for line in range(begins.shape[0] - 1):
        begin, end = begins[line], begins[line + 1]
        last = end - 1
        closed = end - begin > 3 and x[begin] == x[last] and y[begin] == y[last]
        cycle = last - begin
        for at in range(begin, end):
            mean = weights[0] * values[at]
            for k in range(1, reach + 1):
                before, after = at - k, at + k
                if closed:
                    before = begin + (at - begin - k) % cycle
                    after = begin + (at - begin + k) % cycle
                    mean += weights[k] * (values[before] + values[after])
                    continue
                # Beyond both ends of a short line its ends go on.
                early = values[max(before, begin)]
                if before < begin:
                    early = 2 * values[begin] - values[min(2 * begin - before, last)]
                late = values[min(after, last)]
                if after > last:
                    late = 2 * values[last] - values[max(2 * last - after, begin)]
                mean += weights[k] * (early + late)
            out[at] = mean
    return out


def thinned(lines: Strokes, every: int) -> Strokes:
    """Lines of every so many of their points, first and last among them."""
    kept, first = _thinned(lines.first, every)
    return Strokes(lines.x[kept], lines.y[kept], lines.width[kept], first)


@njit(cache=True, nogil=True)
def _thinned(begins, every) -> Any:  # type: ignore[no-untyped-def]
    kept = np.empty(begins[-1] + begins.shape[0], np.int64)
    first = np.zeros_like(begins)
    count = 0
    for line in range(begins.shape[0] - 1):
        for at in range(begins[line], begins[line + 1] - 1, every):
            kept[count] = at
            count += 1
        kept[count] = begins[line + 1] - 1
        count += 1
        first[line + 1] = count
    return kept[:count].copy(), first
