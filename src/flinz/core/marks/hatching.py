"""Hatching: pen lines over a sheet whose widths carry tone, on a grid fixed to the paper."""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.keeping import Keep
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Column, Strokes
from flinz.core.planes.filters import Plane, blurred
from flinz.core.scale import Frame
from flinz.errors import DocumentError

MAX_POINTS = 6_000_000
STEPS_PER_SPACING = 3.0
FINEST_STEP_MM = 0.12
GRID_PX_PER_SPACING = 4.0
FINEST_PX_PER_MM = 8.0
# Ink from which on a place is to be black, and how many pitches wide strokes then are.
BLACK, SOLID_WIDTH = 0.985, 1.9
READ_COLUMNS = 4096
# Ink is compared over so many pitches (a standard deviation).
SPOT = 1.2
# Of the ink by which strokes are made broader so much more is laid, since some falls on others.
MEETING = np.float32(1.3)
# The side of the blocks in which lines are laid for a part of a sheet.
BLOCK_MM = 25.0
# A taper shorter than this is none.
SHARP_MM = 1e-3

Laid = tuple[Strokes, tuple[Column, ...], float]


@dataclass(frozen=True, eq=False)
class Ruling:
    """Parallel lines as strokes a millimetre wide.

    step: mm from point to point along them. number: (N,) which line each is, from that through
    the sheet's corner.
    """

    lines: Strokes
    step: float
    number: NDArray[np.int64]


def grid_px_per_mm(spacing_mm: float, draft: bool = False) -> float:
    """The fixed grid on which the tone of lines of a spacing is read; half as fine for a draft.

    In quarter octaves: while a spacing is turned, the tone need not be scaled anew at each step.
    """
    octaves = round(4 * math.log2(GRID_PX_PER_SPACING / spacing_mm)) / 4
    finest = min(FINEST_PX_PER_MM, math.pow(2.0, octaves))
    return finest / 2 if draft else finest


def predicted_points(frame: Frame, spacing_mm: float, layers: int) -> int:
    """About how many points lines over a whole sheet, and a spacing around it, will have."""
    width, height = frame.sheet_mm
    step = max(FINEST_STEP_MM, spacing_mm / STEPS_PER_SPACING)
    around = 2 * (spacing_mm + step)
    return math.ceil((width + around) * (height + around) / (spacing_mm * step)) * layers


def refuse_too_many(frame: Frame, spacing_mm: float, layers: int) -> None:
    """Raise DocumentError if there would be more points than may be drawn."""
    count = predicted_points(frame, spacing_mm, layers)
    if count > MAX_POINTS:
        raise DocumentError(
            f"These lines would have about {count:,} points; the limit is {MAX_POINTS:,}. "
            "Choose a wider spacing, fewer layers, or a smaller sheet."
        )


def ruled(
    frame: Frame,
    angle_deg: float,
    spacing_mm: float,
    step_mm: float | None = None,
    margin_mm: float = 0.0,
) -> Ruling:
    """Parallel lines over a frame of a sheet and a margin, at whole spacings from the sheet's
    corner.

    step_mm: from point to point along them; without it fine enough for the spacing.
    """
    sides = frame.left, frame.top, frame.right, frame.bottom
    left, top, right, bottom = (side / frame.px_per_mm for side in sides)
    cosine, sine = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    step = step_mm or max(FINEST_STEP_MM, spacing_mm / STEPS_PER_SPACING)
    corners = np.array([(left, top), (right, top), (left, bottom), (right, bottom)])
    # y points down, angles counter-clockwise.
    along = corners @ (cosine, -sine)
    across = corners @ (sine, cosine)
    first = math.floor((along.min() - margin_mm) / step) - 1
    last = math.ceil((along.max() + margin_mm) / step) + 2
    t = (np.arange(first, last) * step).astype(np.float32)
    lowest = (across.min() - margin_mm) / spacing_mm
    highest = (across.max() + margin_mm) / spacing_mm
    number = np.arange(math.floor(lowest) - 1, math.ceil(highest) + 2)
    offset = (number * spacing_mm).astype(np.float32)[:, None]
    x = t[None] * np.float32(cosine) + offset * np.float32(sine)
    y = -t[None] * np.float32(sine) + offset * np.float32(cosine)
    # Aslant, half of the lines would run beside the sheet.
    near = on_sheet(x, y, frame, margin_mm + step)
    counts = np.count_nonzero(near, axis=1)
    starts = np.concatenate([[0], np.cumsum(counts[counts > 0])]).astype(np.int64)
    x, y = x[near], y[near]
    return Ruling(Strokes(x, y, np.ones_like(x), starts), step, number[counts > 0])


def bent(ruling: Ruling, angle_deg: float, stray: Plane, grid: Frame) -> tuple[Strokes, Column]:
    """Lines moved across by stray mm, and how much farther apart they then lie (1 as far).

    stray: (H, W) in a frame of the sheet. A line that has moved away from its neighbours must be
    broader for the same tone, and one that runs aslant, which is nearer to them, thinner.
    """
    sine = np.float32(math.sin(math.radians(angle_deg)))
    cosine = np.float32(math.cos(math.radians(angle_deg)))
    lines = ruling.lines
    per_mm = np.float32(grid.px_per_mm)
    down, right = np.gradient(stray)
    parting = np.clip(1 + per_mm * (right * sine + down * cosine), 0.3, 3.0)
    slope = per_mm * (right * cosine - down * sine)
    parting = parting / np.sqrt(1 + slope * slope)
    way = read(stray, grid, lines.x, lines.y)
    apart = read(np.asarray(parting, np.float32), grid, lines.x, lines.y)
    x, y = lines.x + way * sine, lines.y + way * cosine
    return Strokes(x, y, lines.width, lines.first), apart


def read(plane: Plane, grid: Frame, x: Plane, y: Plane) -> Plane:
    """A plane of a frame of a sheet's grid at places on paper (mm), linear between pixels."""
    if x.size == 0:
        return np.zeros(x.shape, np.float32)
    # OpenCV takes no more than 32,767 places in a row.
    rows = -(-x.size // READ_COLUMNS)
    at = np.zeros((2, rows * READ_COLUMNS), np.float32)
    at[0, : x.size], at[1, : x.size] = x.ravel(), y.ravel()
    at_x, at_y = at.reshape(2, rows, READ_COLUMNS) * np.float32(grid.px_per_mm)
    at_x, at_y = at_x - np.float32(0.5 + grid.left), at_y - np.float32(0.5 + grid.top)
    found = cv2.remap(plane, at_x, at_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(found, np.float32).ravel()[: x.size].reshape(x.shape)


def on_sheet(x: Plane, y: Plane, grid: Frame, margin_mm: float) -> NDArray[np.bool_]:
    """Which places lie in the sheet's frame, or within a margin of it."""
    left, top, right, bottom = (
        side / grid.px_per_mm for side in (grid.left, grid.top, grid.right, grid.bottom)
    )
    there = (x > left - margin_mm) & (x < right + margin_mm)
    return np.asarray(there & (y > top - margin_mm) & (y < bottom + margin_mm))


def stretches_in(lines: Strokes, grid: Frame) -> tuple[Strokes, NDArray[np.intp]]:
    """The stretches of lines that lie in a frame of the sheet, and which of their points these
    are.
    """
    kept = np.flatnonzero(on_sheet(lines.x, lines.y, grid, 0.0))
    ends = np.zeros(len(lines.x), np.bool_)
    ends[lines.first[:-1]] = True
    begins = np.flatnonzero((np.diff(kept, prepend=-2) > 1) | ends[kept])
    first = np.append(begins, len(kept)).astype(np.int64)
    return Strokes(lines.x[kept], lines.y[kept], lines.width[kept], first), kept


def laid_in(grid: Frame, keep: Keep, key: Hashable, lay: Callable[[Frame], Laid]) -> Laid:
    """What lay makes for a frame of the sheet, remembered as keep does: lines, columns that tell
    something of each point, and their step in mm.

    Those of a part come from the blocks of the sheet around it, so that a part that grows under a
    hand seldom lays new ones.
    """
    blocks = grid.in_blocks(math.ceil(grid.px(BLOCK_MM)))
    lines, columns, step = keep("laid", (key, blocks), lambda: lay(blocks), alike=True)
    if blocks == grid:
        return lines, columns, step

    def near() -> tuple[Strokes, tuple[Column, ...]]:
        there, kept = stretches_in(lines, grid)
        return there, tuple(column[kept] for column in columns)

    return *keep("near", (key, grid), near, alike=True), step


def broken(
    lines: Strokes,
    there: NDArray[np.bool_],
    step_mm: float,
    taper_mm: float = 0.0,
    overshoot_mm: float = 0.0,
    thinnest_mm: float = 0.0,
    shortest_mm: float = 0.0,
) -> Strokes:
    """Lines broken where they are not wanted.

    there: (P,) where a stroke runs. Strokes go on for overshoot_mm at the thinnest width, and
    thin out over taper_mm towards their ends. Of what is wanted, stretches under shortest_mm are
    left out. step_mm: from one point to the next.
    """
    least = max(1, math.ceil(shortest_mm / step_mm - 1e-9))
    more = round(overshoot_mm / step_mm)
    taper = np.float32(taper_mm / step_mm if taper_mm > SHARP_MM else 0.0)
    kept, width, first = _broken(
        lines.first, there, lines.width, least, more, np.float32(thinnest_mm), taper
    )
    return Strokes(lines.x[kept], lines.y[kept], width, first)


def _summed(strokes: Strokes, grid: Frame, step_mm: float) -> Plane:
    """The ink of strokes in a frame of the sheet, all of a point's in its pixel."""
    column = (strokes.x * np.float32(grid.px_per_mm)).astype(np.int64) - grid.left
    row = (strokes.y * np.float32(grid.px_per_mm)).astype(np.int64) - grid.top
    place = np.clip(row, 0, grid.height - 1) * grid.width + np.clip(column, 0, grid.width - 1)
    area = strokes.width * np.float32(step_mm * grid.px_per_mm**2)
    ink = np.bincount(place, area, grid.height * grid.width)
    return np.asarray(ink.reshape(grid.height, grid.width), np.float32)


@njit(cache=True, nogil=True)
def _broken(begins, there, widths, least, more, thinnest, taper) -> Any:  # type: ignore[no-untyped-def]
    # All lengths in points. Which points are kept, their widths, where each stroke begins.
    kept = np.empty(there.shape[0], np.int64)
    width = np.empty(there.shape[0], np.float32)
    first = np.zeros(there.shape[0] // 2 + 2, np.int64)
    # Where strokes run on past what is wanted they are thinnest.
    own = np.full(there.shape[0], thinnest, np.float32)
    count, strokes = 0, 0
    for line in range(begins.shape[0] - 1):
        begin, end = begins[line], begins[line + 1]
        # The stroke so far; stretches whose overshoots meet are one.
        start, stop, at = -1, -1, begin
        while at <= end:
            run = at
            while run < end and there[run]:
                run += 1
            if run - at >= least or at == end:
                for k in range(at, run):
                    own[k] = widths[k]
                if start >= 0 and (at == end or at - more > stop):
                    # A stroke of one point would be a dot.
                    if stop - start >= 2:
                        for k in range(start, stop):
                            share = np.float32(1.0)
                            if taper > 0:
                                from_end = np.float32(min(k - start, stop - 1 - k))
                                share = np.sqrt(min(from_end / taper + np.float32(0.1), share))
                            kept[count], width[count] = k, own[k] * share
                            count += 1
                        strokes += 1
                        first[strokes] = count
                    start = -1
                if start < 0:
                    start = max(begin, at - more)
                stop = min(end, run + more)
            # The end itself is looked at once: what is begun there ends.
            at = end if at < end <= run else run + 1
    return kept[:count], width[:count], first[: strokes + 1]


def settled(
    strokes: Strokes,
    wish: Plane,
    grid: Frame,
    pitch_mm: float,
    thinnest_mm: float,
    widest_mm: float,
    rounds: int,
) -> Strokes:
    """Strokes whose widths leave the wished ink, whatever way they crowd or part.

    wish: (H, W) ink 0..1 of the whole sheet on its grid. Each round draws them, compares the ink
    over a spot with the wish, and makes them broader or thinner by what is lacking; but for ends
    that are thinner already they stay between thinnest_mm and widest_mm.
    """
    if len(strokes) == 0:
        return strokes
    sigma = grid.px(SPOT * pitch_mm)
    wished = blurred(wish, sigma)
    for _ in range(rounds):
        lacking = wished - blurred(strokes_cover(strokes, grid), sigma)
        strokes = _made_up(strokes, lacking, grid, pitch_mm, thinnest_mm, widest_mm)
    return _closed(strokes, wished, grid, pitch_mm)


def roughly_settled(
    strokes: Strokes,
    wish: Plane,
    grid: Frame,
    pitch_mm: float,
    thinnest_mm: float,
    widest_mm: float,
    step_mm: float,
) -> Strokes:
    """As settled, by one round in which the ink is not drawn but summed up, as if no strokes met.

    step_mm: from one point of a stroke to the next.
    """
    sigma = grid.px(SPOT * pitch_mm)
    wished = blurred(wish, sigma)
    ink = np.minimum(blurred(_summed(strokes, grid, step_mm), sigma), 1)
    lacking = (wished - ink) * MEETING
    strokes = _made_up(strokes, lacking, grid, pitch_mm, thinnest_mm, widest_mm)
    return _closed(strokes, wished, grid, pitch_mm)


def _made_up(
    strokes: Strokes,
    lacking: Plane,
    grid: Frame,
    pitch_mm: float,
    thinnest_mm: float,
    widest_mm: float,
) -> Strokes:
    # A line's share of the paper grows by its width over the pitch.
    more = read(lacking, grid, strokes.x, strokes.y) * np.float32(pitch_mm)
    # Only the ends of strokes are thinner than the pen.
    least = np.minimum(strokes.width, np.float32(thinnest_mm))
    width = np.clip(strokes.width + more, least, np.float32(widest_mm))
    return strokes.with_width(np.asarray(width, np.float32))


def _closed(strokes: Strokes, wished: Plane, grid: Frame, pitch_mm: float) -> Strokes:
    # Where all around shall be black no gap between the ends of strokes may stay open.
    black = read(wished, grid, strokes.x, strokes.y) > BLACK
    width = np.where(black, np.maximum(strokes.width, SOLID_WIDTH * pitch_mm), strokes.width)
    return strokes.with_width(np.asarray(width, np.float32))
