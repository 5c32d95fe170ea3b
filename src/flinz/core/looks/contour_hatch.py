"""Contour hatch: strokes that run along the form, as in an engraving, broader in the dark."""

from functools import partial
from typing import Literal

import numpy as np

from flinz.core.dial import Angle, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.following import follow_dial, followed
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import HatchWindow, hatched_cover
from flinz.core.marks.hatching import (
    broken,
    grid_px_per_mm,
    read,
    roughly_settled,
    settled,
    stretches_in,
)
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.streamlines import DRAFT_STEPS_PER_SPACING, STEPS_PER_SPACING, streamlines
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.planes import flow
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

ROUNDS = 2
# In solid blacks strokes may be as wide as the widest gap between them.
WIDEST = 2.4
CROSSING_DEG = 58.0


# What is larger and smaller together where marks follow detail.
SIZED = ("spacing", "thinnest", "thickest")


class ContourHatch(HatchWindow):
    """Strokes along the form."""

    look: Literal["contour-hatch"] = "contour-hatch"
    spacing: float = Dial(
        0.75,
        ge=0.2,
        le=5.0,
        low=0.3,
        high=2.5,
        step=0.05,
        unit="mm",
        label="Spacing",
        hint="From one stroke to the next",
    )
    thinnest: float = Dial(
        0.1,
        ge=0.02,
        le=2.0,
        high=0.5,
        step=0.01,
        unit="mm",
        label="Thinnest",
        hint="Width of a stroke in the lightest tone",
    )
    thickest: float = Dial(
        0.5,
        ge=0.05,
        le=5.0,
        low=0.1,
        high=2.0,
        step=0.01,
        unit="mm",
        label="Thickest",
        hint="What would be wider is crossed",
        idle_at={"layers": 1},
    )
    layers: float = Dial(
        1,
        ge=1,
        le=2,
        step=1,
        label="Layers",
        hint="1 along the form; 2 cross it in the dark",
    )
    length: float = Dial(
        14.0,
        ge=1.0,
        le=60.0,
        low=2.0,
        high=30.0,
        step=0.5,
        unit="mm",
        label="Length",
        hint="How long strokes run",
    )
    form: float = Dial(
        2.5,
        ge=0.3,
        le=20.0,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Form",
        hint="How broad a form strokes follow",
    )
    angle: float = Angle(35.0, hint="Direction where there is no form")
    taper: float = Dial(
        1.5,
        ge=0.0,
        le=10.0,
        high=5.0,
        step=0.1,
        unit="mm",
        label="Taper",
        hint="How a stroke thins out at its ends",
    )
    detail: float = follow_dial()


def draw(tone: Plane, settings: ContourHatch, frame: Frame, desk: Desk) -> Plane:
    """Strokes as ink 0..1."""
    return strokes_cover(desk.laid(marks(settings, desk)), frame, desk.draft)


def marks(settings: ContourHatch, desk: Desk) -> Strokes:
    """The strokes of a whole sheet, the same whatever part of it is drawn.

    Evenly spaced streamlines of the smoothed direction field (B. Jobard and W. Lefer, 1997),
    broken where the tone is too light for the thinnest pen; their widths settle until the ink
    over a spot is the wished one. Raises DocumentError if there would be too many.
    """
    return followed("strokes", settings, desk, _hatched, SIZED, settles=False)


def _hatched(settings: ContourHatch, desk: Desk) -> Strokes:
    whole, grid = desk.whole(grid_px_per_mm(settings.spacing, desk.draft))
    wish = hatched_cover(whole, settings, grid, desk)
    layers, spacing = round(settings.layers), settings.spacing
    first = wish if layers == 1 else np.minimum(wish, np.float32(settings.thickest / spacing))
    lots = [_layer(np.asarray(first, np.float32), settings, grid, desk, 0)]
    if layers > 1:
        # Strokes of two layers overlap at random: what stays bare is the product.
        rest = np.clip(1 - (1 - wish) / np.maximum(1 - first, 1e-3), 0, 1)
        lots.append(_layer(np.asarray(rest, np.float32), settings, grid, desk, 1))
    return joined(lots)


def _layer(wish: Plane, settings: ContourHatch, grid: Frame, desk: Desk, layer: int) -> Strokes:
    spacing = settings.spacing
    # A dial that leaves the lines as they are must not make a draft lay them anew.
    key = (settings.form, settings.angle, spacing, settings.length, layer)
    is_rough = desk.draft and not desk.holds_form("lines", key, alike=True)
    steps = DRAFT_STEPS_PER_SPACING if is_rough else STEPS_PER_SPACING
    lines = desk.keep_form(
        "lines", key, lambda: _lines(settings, desk, layer, steps), alike=not is_rough
    )
    if grid != grid.of_all:
        near = partial(stretches_in, lines, grid)
        lines, _ = desk.keep_form("near", (key, grid), near, alike=not is_rough)
    share = read(wish, grid, lines.x, lines.y)
    there = share > 0.7 * settings.thinnest / spacing
    # Gaps between strokes differ, so that darks need more than their share to begin with.
    broad = share * (1 + np.float32(0.3) * share**3) * np.float32(spacing)
    width = np.maximum(broad, np.float32(settings.thinnest))
    step = spacing / steps
    strokes = broken(lines.with_width(width), there, step, settings.taper)
    wanted = strokes, wish, grid, spacing, settings.thinnest, WIDEST * spacing
    return roughly_settled(*wanted, step) if desk.draft else settled(*wanted, ROUNDS)


def _lines(settings: ContourHatch, desk: Desk, layer: int, steps: float) -> Strokes:
    whole, grid = desk.form(flow.FIELD_PX_PER_MM)
    form = settings.form
    tensor = desk.keep_form("form", form, lambda: flow.form_tensor(whole, grid, form), alike=True)
    field = flow.directed(tensor, settings.angle, 2e-4)
    angle = settings.angle
    if layer:
        field, angle = field.turned(CROSSING_DEG), angle + CROSSING_DEG
    return streamlines(field, settings.spacing, settings.length, steps, angle)


LOOK = Look(
    settings=ContourHatch,
    label="Contour hatch",
    purpose="Engraver's strokes that run along the form",
    draw=draw,
    # Strokes stand where the whole sheet puts them.
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    sized_by="spacing",
    draws_marks=True,
    suits=Suits(parted=(0.5, 0.3), fine=(0.3, 0.6), led=(0.9, 1), spread=(0.8, 0.5)),
    pitch=lambda settings: settings.spacing,
    gaussians=100,
    thinnest=lambda settings: settings.thinnest,
)
