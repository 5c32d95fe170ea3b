"""Loose hatch: areas of tone filled by one restless pen line, or by chalk on black."""

import math
from typing import Any, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.dial import Angle, Dial, Switch
from flinz.core.filters import Plane, blurred
from flinz.core.grain import paper_grain
from flinz.core.hatching import (
    bent,
    broken,
    grid_px_per_mm,
    on_sheet,
    predicted_points,
    read,
    refuse_too_many,
    ruled,
)
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import HatchWindow, hatched_cover
from flinz.core.marks import Strokes, joined
from flinz.core.pen import strokes_cover
from flinz.core.scale import Frame

SWING_SEED, TREMBLE_SEED, PRESSURE_SEED = 71, 81, 91
SWING_MM, TREMBLE_MM, PRESSURE_MM = 11.0, 3.0, 5.0
TURN_DEG = 37.0
# Layers stray by other parts of the same noise.
LAYERS_APART_MM = 37.7
# A turn joins the ends of two lines that lie no farther apart than this many spacings.
JOINED_WITHIN = 2.6
TURN_POINTS = 5
STEADY = 0.22
LIGHTLY, HEAVIER = np.float32(0.7), np.float32(1.1)


class LooseHatch(HatchWindow):
    """A hand that fills shadows without lifting the pen."""

    look: Literal["loose-hatch"] = "loose-hatch"
    spacing: float = Dial(
        0.95,
        ge=0.2,
        le=12.0,
        low=0.5,
        high=5.0,
        step=0.05,
        unit="mm",
        label="Spacing",
        hint="From one sweep of the pen to the next",
    )
    nib: float = Dial(
        0.26,
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
        4,
        ge=1,
        le=6,
        step=1,
        label="Layers",
        hint="How often the dark is gone over",
    )
    angle: float = Angle(28.0, hint="Direction of the first sweeps")
    curviness: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Curviness",
        hint="How widely the pen swings",
    )
    variation: float = Dial(
        0.45,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Variation",
        hint="How uneven sweeps and pressure are",
    )
    chalk: bool = Switch(False, label="Chalk", hint="White on black: the lights are drawn")


def draw(tone: Plane, settings: LooseHatch, frame: Frame, desk: Desk) -> Plane:
    """The pen's line as ink 0..1; in chalk all but the line."""
    line = strokes_cover(marks(settings, desk), frame)
    return np.asarray(1 - line, np.float32) if settings.chalk else line


def marks(settings: LooseHatch, desk: Desk) -> Strokes:
    """The strokes of a whole sheet, the same whatever part of it is drawn.

    Each layer sweeps to and fro over all that is darker than its own tone; where two sweeps end
    close together the pen turns without being lifted. Raises DocumentError if there would be too
    many points.
    """
    wanted = settings.model_dump_json()
    key = (wanted, desk.draft)
    return desk.keep_whole("strokes", key, lambda: _hatched(settings, desk))  # type: ignore[no-any-return]


def _hatched(settings: LooseHatch, desk: Desk) -> Strokes:
    spacing, count = settings.spacing, round(settings.layers)
    whole, grid = desk.whole(grid_px_per_mm(spacing, desk.draft))
    refuse_too_many(grid, spacing, count)
    dark = hatched_cover(whole, settings, grid, desk)
    wish = 1 - dark if settings.chalk else dark
    # A hand does not stop at every speck.
    wish = blurred(np.asarray(wish, np.float32), grid.px(STEADY * spacing))
    return joined([_layer(wish, settings, grid, layer) for layer in range(count)])


def _layer(wish: Plane, settings: LooseHatch, grid: Frame, layer: int) -> Strokes:
    spacing = settings.spacing
    angle = settings.angle + layer * TURN_DEG
    apart = layer * LAYERS_APART_MM
    swing = paper_grain(grid, SWING_MM, SWING_SEED, apart) - np.float32(0.5)
    tremble = paper_grain(grid, TREMBLE_MM, TREMBLE_SEED, apart) - np.float32(0.5)
    stray = np.float32(3.6 * settings.curviness * spacing) * swing
    stray += np.float32(0.9 * settings.variation * spacing) * tremble
    margin = (1.8 * settings.curviness + 0.5 * settings.variation) * spacing
    ruling = ruled(grid, angle, spacing, margin_mm=margin)
    lines, _ = bent(ruling, angle, np.asarray(stray, np.float32), grid)
    # The hand does not stop at the same tone each time.
    from_tone = (layer + 1) / (round(settings.layers) + 1.2)
    uneven = np.float32(0.14 * settings.variation) * tremble
    there = read(np.asarray(wish + uneven, np.float32), grid, lines.x, lines.y) > from_tone
    there &= on_sheet(lines.x, lines.y, grid, 0.0)
    numbered = lines.with_width(np.repeat(np.arange(len(lines), dtype=np.float32), lines.points))
    sweeps = broken(numbered, there, ruling.step)
    # The width stood for the number of the line.
    line_of = sweeps.width[sweeps.first[:-1]].astype(np.int64)
    path = _joined_up(sweeps, line_of, JOINED_WITHIN * spacing)
    pressure = paper_grain(grid, PRESSURE_MM, PRESSURE_SEED, apart) - np.float32(0.5)
    pressed = 1 + np.float32(0.9 * settings.variation) * read(pressure, grid, path.x, path.y)
    # A hand bears down in the dark.
    pressed *= LIGHTLY + HEAVIER * read(wish, grid, path.x, path.y) ** 2
    return path.with_width(np.asarray(pressed * np.float32(settings.nib), np.float32))


def _joined_up(sweeps: Strokes, line_of: NDArray[np.int64], within_mm: float) -> Strokes:
    """Sweeps on neighbouring lines joined by turns, to and fro, as far as ends lie close."""
    count = len(sweeps)
    if count == 0:
        return sweeps
    xy = np.stack([sweeps.x, sweeps.y], -1)
    left, right = xy[sweeps.first[:-1]], xy[sweeps.first[1:] - 1]
    first_on = np.searchsorted(line_of, np.arange(line_of[-1] + 3))
    order, backwards, goes_on = _order(left, right, line_of, first_on, np.float32(within_mm))
    # Where each point of a sweep goes, TURN_POINTS more after each that turns into the next.
    sizes = np.diff(sweeps.first)[order]
    starts = np.concatenate([[0], np.cumsum(sizes + TURN_POINTS * goes_on)])
    within = np.arange(sizes.sum()) - np.repeat(np.cumsum(sizes) - sizes, sizes)
    flipped = np.repeat(backwards, sizes)
    from_start = np.where(flipped, np.repeat(sizes, sizes) - 1 - within, within)
    out = np.empty((starts[-1], 2), np.float32)
    out[np.repeat(starts[:-1], sizes) + within] = xy[
        np.repeat(sweeps.first[:-1][order], sizes) + from_start
    ]
    joints = np.flatnonzero(goes_on)
    last = starts[joints] + sizes[joints] - 1
    turns = _turns(out[last - 1], out[last], out[starts[joints + 1]])
    out[(last[:, None] + np.arange(1, TURN_POINTS + 1))] = turns
    begins = np.concatenate([[True], ~goes_on[:-1]])
    first = np.concatenate([starts[:-1][begins], starts[-1:]]).astype(np.int64)
    return Strokes(out[:, 0].copy(), out[:, 1].copy(), np.ones(len(out), np.float32), first)


@njit(cache=True)
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


def _turns(
    before: NDArray[np.float32], start: NDArray[np.float32], to: NDArray[np.float32]
) -> NDArray[np.float32]:
    # Cubic curves that leave and arrive along the sweep, as a hand swings round: (N, points, 2).
    heading = start - before
    heading /= np.linalg.norm(heading, axis=-1, keepdims=True) + np.float32(1e-9)
    out = heading * np.linalg.norm(to - start, axis=-1, keepdims=True) * np.float32(0.7)
    t = np.linspace(0, 1, TURN_POINTS + 2, dtype=np.float32)[1:-1, None]
    start, to, out = start[:, None], to[:, None], out[:, None]
    turn = (1 - t) ** 3 * start + 3 * t * (1 - t) * ((1 - t) * (start + out) + t * (to + out))
    return np.asarray(turn + t**3 * to, np.float32)


def predicted(settings: LooseHatch, desk: Desk) -> int:
    """About how many points the line will have at most."""
    _, grid = desk.whole(grid_px_per_mm(settings.spacing))
    return predicted_points(grid, settings.spacing, round(settings.layers))


LOOK = Look(
    settings=LooseHatch,
    label="Loose hatch",
    purpose="Shadows filled with one restless pen line, or lights with chalk",
    draw=draw,
    # Strokes stand where the whole sheet puts them.
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    proof_factor=2,
    has_draft=True,
    marks=marks,
    predicted=predicted,
    draws_marks=True,
)
