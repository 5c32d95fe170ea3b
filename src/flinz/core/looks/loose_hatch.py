"""Loose hatch: areas of tone filled by one restless pen line, or by chalk on black."""

import math
from typing import Any, Literal

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.dial import Angle, Dial, Switch
from flinz.core.looks.desk import Desk
from flinz.core.looks.following import follow_dial, followed
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import HatchWindow, hatched_cover
from flinz.core.marks.hatching import (
    Laid,
    bent,
    broken,
    grid_px_per_mm,
    laid_in,
    on_sheet,
    read,
    refuse_too_many,
    ruled,
)
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.planes.filters import Plane, blurred, smoothstep
from flinz.core.planes.grain import paper_grain
from flinz.core.scale import Frame

SWING_SEED, TREMBLE_SEED, PRESSURE_SEED = 71, 81, 91
SWING_MM, TREMBLE_MM, PRESSURE_MM = 11.0, 3.0, 5.0
# Layers cross as steeply as they can: slivers between lines that nearly meet fill up in print.
TURNS_DEG = (0.0, 60.0, 120.0, 30.0, 90.0, 150.0)
# Layers stray by other parts of the same noise.
LAYERS_APART_MM = 37.7
# A turn joins the ends of two lines that lie no farther apart than this many spacings.
JOINED_WITHIN = 2.6
TURN_POINTS = 5
STEADY = 0.22
# How far from the edge of a black strokes begin to close it, in spacings.
WITHIN = 0.4
LIGHTLY, HEAVIER = np.float32(0.7), np.float32(1.1)
# Ink from which on strokes broaden till they meet, and how many spacings wide they then are.
CLOSES_FROM, CLOSES_AT, CLOSED = 0.7, 0.9, 1.1


# What is larger and smaller together where marks follow detail.
SIZED = ("line_gap", "nib")


class LooseHatch(HatchWindow):
    """A hand that fills shadows without lifting the pen."""

    look: Literal["loose-hatch"] = "loose-hatch"
    line_gap: float = Dial(
        1.0,
        ge=0.2,
        le=12.0,
        low=0.5,
        high=5.0,
        step=0.05,
        unit="mm",
        label="Line gap",
        hint="From one sweep of the pen to the next",
    )
    nib: float = Dial(
        0.27,
        ge=0.05,
        le=4.0,
        low=0.1,
        high=1.5,
        step=0.01,
        unit="mm",
        label="Nib",
        hint="Width of the pen",
    )
    layers: float = Dial(
        3,
        ge=1,
        le=6,
        step=1,
        label="Layers",
        hint="How often the dark is gone over",
    )
    angle: float = Angle(28.0, hint="Direction of the first sweeps")
    swing: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Swing",
        hint="How widely the pen swings",
    )
    unevenness: float = Dial(
        0.45,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Unevenness",
        hint="How uneven sweeps and pressure are",
    )
    chalk: bool = Switch(False, label="Chalk", hint="White on black: the lights are drawn")
    detail: float = follow_dial()


def draw(tone: Plane, settings: LooseHatch, frame: Frame, desk: Desk) -> Plane:
    """The pen's line as ink 0..1; in chalk all but the line."""
    line = strokes_cover(desk.laid(marks(settings, desk)), frame, desk.draft)
    return np.asarray(1 - line, np.float32) if settings.chalk else line


def marks(settings: LooseHatch, desk: Desk) -> Strokes:
    """The strokes of a whole sheet, the same whatever part of it is drawn.

    Each layer sweeps to and fro over all that is darker than its own tone; where two sweeps end
    close together the pen turns without being lifted. Raises DocumentError if there would be too
    many points.
    """
    return followed("strokes", settings, desk, _hatched, SIZED, settings.chalk)


def _hatched(settings: LooseHatch, desk: Desk) -> Strokes:
    spacing, count = settings.line_gap, round(settings.layers)
    whole, grid = desk.whole(grid_px_per_mm(spacing, desk.draft))
    refuse_too_many(grid, spacing, count)
    dark = hatched_cover(whole, settings, grid, desk)
    wish = 1 - dark if settings.chalk else dark
    # A hand does not stop at every speck.
    wish = blurred(np.asarray(wish, np.float32), grid.px(STEADY * spacing))
    within = _eroded(wish, grid.px(WITHIN * spacing))
    return joined([_layer(wish, within, settings, grid, desk, layer) for layer in range(count)])


def _bent(settings: LooseHatch, grid: Frame, layer: int) -> Laid:
    """The sweeps of a layer over a frame of the sheet; of each point the number of its line; the
    sweeps' step in mm.
    """
    spacing, angle = settings.line_gap, settings.angle + TURNS_DEG[layer]
    swing = paper_grain(grid, SWING_MM, SWING_SEED, layer * LAYERS_APART_MM) - np.float32(0.5)
    stray = np.float32(3.6 * settings.swing * spacing) * swing
    stray += np.float32(0.9 * settings.unevenness * spacing) * _tremble(grid, layer)
    margin = (1.8 * settings.swing + 0.5 * settings.unevenness) * spacing
    ruling = ruled(grid, angle, spacing, margin_mm=margin)
    lines, _ = bent(ruling, angle, np.asarray(stray, np.float32), grid)
    number = np.repeat(np.arange(len(lines), dtype=np.float32), lines.points)
    return lines, (number,), ruling.step


def _tremble(grid: Frame, layer: int) -> Plane:
    """How the hand trembles in a frame of the sheet."""
    grain = paper_grain(grid, TREMBLE_MM, TREMBLE_SEED, layer * LAYERS_APART_MM)
    return np.asarray(grain - np.float32(0.5), np.float32)


def _layer(
    wish: Plane, within: Plane, settings: LooseHatch, grid: Frame, desk: Desk, layer: int
) -> Strokes:
    spacing = settings.line_gap
    key = (spacing, settings.angle, settings.swing, settings.unevenness, layer)
    lines, (number,), step = laid_in(
        grid, desk.keep_paper, key, lambda frame: _bent(settings, frame, layer)
    )
    tremble = desk.keep_paper("tremble", (grid, layer), lambda: _tremble(grid, layer), alike=True)
    # The hand does not stop at the same tone each time.
    from_tone = (layer + 0.8) / (round(settings.layers) + 1)
    uneven = np.float32(0.14 * settings.unevenness) * tremble
    there = read(np.asarray(wish + uneven, np.float32), grid, lines.x, lines.y) > from_tone
    there &= on_sheet(lines.x, lines.y, grid, 0.0)
    sweeps = broken(lines.with_width(number), there, step)
    # The width stood for the number of the line.
    line_of = sweeps.width[sweeps.first[:-1]].astype(np.int64)
    path = _joined_up(sweeps, line_of, JOINED_WITHIN * spacing)
    apart = layer * LAYERS_APART_MM
    pressure = paper_grain(grid, PRESSURE_MM, PRESSURE_SEED, apart) - np.float32(0.5)
    pressed = 1 + np.float32(0.9 * settings.unevenness) * read(pressure, grid, path.x, path.y)
    # A hand bears down in the dark, and leaves no gaps open in what shall be black.
    ink = read(wish, grid, path.x, path.y)
    pressed *= LIGHTLY + HEAVIER * ink**2
    black = smoothstep(CLOSES_FROM, CLOSES_AT, read(within, grid, path.x, path.y))
    closing = np.float32(CLOSED * spacing) * black
    width = np.maximum(pressed * np.float32(settings.nib), closing)
    return path.with_width(np.asarray(width, np.float32))


def _eroded(wish: Plane, radius_px: float) -> Plane:
    # The least ink wished round about: strokes that close a black do not bulge beyond it.
    side = 2 * max(1, round(radius_px)) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    return np.asarray(cv2.erode(wish, disc), np.float32)


def _joined_up(sweeps: Strokes, line_of: NDArray[np.int64], within_mm: float) -> Strokes:
    """Sweeps on neighbouring lines joined by turns, to and fro, as far as ends lie close."""
    count = len(sweeps)
    if count == 0:
        return sweeps
    xy = np.stack([sweeps.x, sweeps.y], -1)
    left, right = xy[sweeps.first[:-1]], xy[sweeps.first[1:] - 1]
    first_on = np.searchsorted(line_of, np.arange(line_of[-1] + 3))
    order, backwards, goes_on = _order(left, right, line_of, first_on, np.float32(within_mm))
    x, y, first = _strung(sweeps.x, sweeps.y, sweeps.first, order, backwards, goes_on)
    return Strokes(x, y, np.ones(len(x), np.float32), first)


@njit(cache=True, nogil=True)
def _order(left, right, line_of, first_on, within) -> Any:  # type: ignore[no-untyped-def]
    # The sweeps in the order of the pen; which run backwards; which turn into the next.
    count = line_of.shape[0]
    used = np.zeros(count, np.bool_)
    order = np.empty(count, np.int64)
    backwards = np.zeros(count, np.bool_)
    goes_on = np.zeros(count, np.bool_)
    at = 0
    for start in range(count):
        if used[start]:
            continue
        sweep, back = start, False
        while True:
            used[sweep] = True
            order[at], backwards[at] = sweep, back
            # The pen turns at the side where it has come to, and goes back on the next line.
            side = left if back else right
            best, nearest = -1, within
            line = line_of[sweep] + 1
            for other in range(first_on[line], first_on[line + 1]):
                away = math.hypot(side[other, 0] - side[sweep, 0], side[other, 1] - side[sweep, 1])
                if not used[other] and away < nearest:
                    best, nearest = other, away
            at += 1
            if best < 0:
                break
            goes_on[at - 1] = True
            sweep, back = best, not back
    return order, backwards, goes_on


@njit(cache=True, nogil=True)
def _strung(x, y, begins, order, backwards, goes_on) -> Any:  # type: ignore[no-untyped-def]
    # Sweeps in the pen's order, with a turn after each that goes on; where each stroke begins.
    size = x.shape[0] + TURN_POINTS * int(goes_on.sum())
    out_x, out_y = np.empty(size, np.float32), np.empty(size, np.float32)
    first = np.zeros(order.shape[0] + 1, np.int64)
    count, strokes = 0, 0
    for at in range(order.shape[0]):
        begin, end = begins[order[at]], begins[order[at] + 1]
        for k in range(begin, end):
            point = begin + end - 1 - k if backwards[at] else k
            out_x[count], out_y[count] = x[point], y[point]
            count += 1
        if goes_on[at]:
            following = order[at + 1]
            to = begins[following + 1] - 1 if backwards[at + 1] else begins[following]
            _turn(out_x, out_y, count, x[to], y[to])
            count += TURN_POINTS
        else:
            strokes += 1
            first[strokes] = count
    return out_x, out_y, first[: strokes + 1]


@njit(cache=True)
def _turn(out_x, out_y, count, to_x, to_y) -> None:  # type: ignore[no-untyped-def]
    # A cubic curve that leaves and arrives along the sweep, as a hand swings round.
    x, y = out_x[count - 1], out_y[count - 1]
    back = max(count - 2, 0)
    way_x, way_y = x - out_x[back], y - out_y[back]
    swing = np.float32(0.7) * np.hypot(to_x - x, to_y - y) / (np.hypot(way_x, way_y) + 1e-9)
    way_x, way_y = way_x * swing, way_y * swing
    for k in range(TURN_POINTS):
        t = np.float32(k + 1) / np.float32(TURN_POINTS + 1)
        rest = 1 - t
        early, late, last = 3 * t * rest * rest, 3 * t * t * rest, t * t * t
        out_x[count + k] = rest**3 * x + early * (x + way_x) + late * (to_x + way_x) + last * to_x
        out_y[count + k] = rest**3 * y + early * (y + way_y) + late * (to_y + way_y) + last * to_y


LOOK = Look(
    settings=LooseHatch,
    label="Loose hatch",
    purpose="Shadows filled with one restless pen line, or lights with chalk",
    draw=draw,
    # Strokes stand where the whole sheet puts them.
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    sized_by="line_gap",
    draws_marks=True,
    is_marks_alone=lambda settings: not settings.chalk,
    suits=Suits(parted=(0.7, 0.6), fine=(0.4, 0.5), led=(0.3, 0.3), spread=(0.8, 0.5)),
    gaussians=100,
    pitch=lambda settings: settings.line_gap,
    tone_error=None,
    thinnest=lambda settings: settings.nib,
)
