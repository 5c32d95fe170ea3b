"""Crosshatch: layers of wavy hatch lines that thicken, then cross, as the tone darkens."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Angle, Dial
from flinz.core.looks import ink_line
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
from flinz.core.marks.vectors import Column, Strokes, joined
from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.grain import paper_grain
from flinz.core.scale import Frame

WOBBLE_SEED = 51
WOBBLE_GRAIN_MM = 9.0
# Layers stray by other parts of the same noise.
LAYERS_APART_MM = 37.7
FORM_MM = 3.0
FULL, OVERLAP = 0.98, np.float32(0.12)
# Lighter than this share of what the thinnest lines leave all lines have ended.
SPARSEST, TURN_BITS = 0.5, 12
# Scraps of a layer shorter than this many spacings are left out.
SHORTEST = 1.3
MAX_LAYERS = 4


# What is larger and smaller together where marks follow detail.
SIZED = ("spacing", "thinnest", "thickest")


class Crosshatch(HatchWindow):
    """Pen strokes in layers."""

    look: Literal["crosshatch"] = "crosshatch"
    spacing: float = Dial(
        1.0,
        ge=0.2,
        le=10.0,
        low=0.4,
        high=4.0,
        step=0.05,
        unit="mm",
        label="Spacing",
        hint="From one line to the next",
    )
    thinnest: float = Dial(
        0.1,
        ge=0.02,
        le=2.0,
        high=0.5,
        step=0.01,
        unit="mm",
        label="Thinnest",
        hint="Width of a line in the lightest tone",
    )
    thickest: float = Dial(
        0.55,
        ge=0.05,
        le=8.0,
        low=0.1,
        high=2.0,
        step=0.01,
        unit="mm",
        label="Thickest",
        hint="What would be wider is crossed",
    )
    layers: float = Dial(
        3,
        ge=1,
        le=MAX_LAYERS,
        step=1,
        label="Layers",
        hint="How often lines cross in the dark",
    )
    angle: float = Angle(40.0, hint="Direction of the first layer")
    turn: float = Dial(
        52.0,
        ge=5.0,
        le=90.0,
        low=15.0,
        step=1.0,
        unit="°",
        label="Turn",
        hint="From one layer's direction to the next",
    )
    wobble: float = Dial(
        0.6,
        ge=0.0,
        le=6.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Wobble",
        hint="How far a hand strays from straight",
    )
    follow: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Follow form",
        hint="From straight to bending over the forms",
    )
    taper: float = Dial(
        1.2,
        ge=0.0,
        le=10.0,
        high=5.0,
        step=0.1,
        unit="mm",
        label="Taper",
        hint="How a stroke thins out at its ends",
    )
    overshoot: float = Dial(
        0.4,
        ge=0.0,
        le=10.0,
        high=4.0,
        step=0.1,
        unit="mm",
        label="Overshoot",
        hint="How far strokes run past their tone",
    )
    outlines: float = Dial(
        0.0,
        ge=0.0,
        le=2.0,
        high=1.0,
        step=0.05,
        unit="mm",
        label="Outlines",
        hint="Nib of lines drawn beneath; 0 for none",
    )
    detail: float = follow_dial()


def draw(tone: Plane, settings: Crosshatch, frame: Frame, desk: Desk) -> Plane:
    """Hatch lines, and outlines if wanted, as ink 0..1."""
    hatch = strokes_cover(desk.laid(marks(settings, desk)), frame, desk.draft)
    if settings.outlines == 0:
        return hatch
    line = _outline(settings)
    lines = desk.upright(
        lambda tone, frame, desk: ink_line.draw(tone, line, frame, desk), tone, frame
    )
    return np.maximum(hatch, lines)


def _outline(settings: Crosshatch) -> ink_line.InkLine:
    return ink_line.InkLine(nib=max(0.05, settings.outlines), blacks=0.0, detail=0.5)


def marks(settings: Crosshatch, desk: Desk) -> Strokes:
    """The strokes of a whole sheet, the same whatever part of it is drawn.

    Layer after layer takes as much of the wished ink as its thickest lines can carry; the next
    one begins where that is not enough. Lines stray by noise fixed to the paper, a hand's own
    for each layer. Raises DocumentError if there would be too many.
    """
    hatch = settings.model_copy(update={"outlines": 0.0})
    return followed("strokes", hatch, desk, _hatched, SIZED)


def _hatched(settings: Crosshatch, desk: Desk) -> Strokes:
    spacing, px_per_mm = settings.spacing, grid_px_per_mm(settings.spacing, desk.draft)
    whole, grid = desk.whole(px_per_mm)
    count = round(settings.layers)
    refuse_too_many(grid, spacing, count)
    bare = 1 - hatched_cover(whole, settings, grid, desk)
    thickest = max(settings.thickest, settings.thinnest) / spacing
    form = None
    if settings.follow > 0:
        form = desk.keep_form("form", grid.of_all, lambda: _form(*desk.form(px_per_mm)), alike=True)
    lots = []
    for layer in range(count):
        # Lines of two layers overlap at random: what stays bare is the product.
        wish = np.clip(1 - bare, 0, 1)
        share = wish if layer == count - 1 else np.minimum(wish, np.float32(thickest))
        share = np.where(share < SPARSEST * settings.thinnest / spacing, 0, share)
        lots.append(_layer(share, form, settings, grid, desk, layer))
        bare = np.clip(bare / np.maximum(1 - share, 1e-3), 0, 1)
    return joined(lots)


def _form(tone: Plane, grid: Frame) -> Plane:
    return blurred(tone, grid.px(FORM_MM))


def _layer(
    share: Plane, form: Plane | None, settings: Crosshatch, grid: Frame, desk: Desk, layer: int
) -> Strokes:
    spacing = settings.spacing
    # Lines that follow nothing lie where they lie, whatever the tone.
    keep = desk.keep_paper if form is None else desk.keep_form
    key = (spacing, settings.angle, settings.turn, settings.wobble, settings.follow, layer)
    lines, (apart, turn), step = laid_in(
        grid, keep, key, lambda frame: _bent(form, settings, frame, layer)
    )
    duty = read(share, grid, lines.x, lines.y)
    # Full lines overlap a little, or their borders would show as pinpricks.
    full = 1 + OVERLAP * (duty > FULL)
    width = np.maximum(duty * apart * full * np.float32(spacing), settings.thinnest)
    width = np.asarray(width, np.float32)
    # Of lines as thin as they may be fewer carry lighter tones: one ends after the other.
    least = np.float32(settings.thinnest / spacing) * np.maximum(turn, np.float32(SPARSEST))
    there = (duty > least) & on_sheet(lines.x, lines.y, grid, spacing)
    return broken(
        lines.with_width(width),
        there,
        step,
        settings.taper,
        settings.overshoot,
        settings.thinnest,
        SHORTEST * spacing,
    )


def _bent(form: Plane | None, settings: Crosshatch, grid: Frame, layer: int) -> Laid:
    """The lines of a layer over a frame of the sheet; of each point how far apart they lie there,
    and when they end as the tone grows lighter; their step in mm.

    form: of the whole sheet.
    """
    spacing, angle = settings.spacing, settings.angle + layer * settings.turn
    hand = paper_grain(grid, WOBBLE_GRAIN_MM, WOBBLE_SEED, layer * LAYERS_APART_MM)
    stray = np.float32(2 * settings.wobble) * (hand - np.float32(0.5))
    if form is not None:
        near = form[grid.slices_in(grid.of_all)]
        stray += np.float32(3 * settings.follow * spacing) * (near - np.float32(0.5))
    # What strays may come onto the sheet from beside it.
    margin = settings.wobble + settings.follow * 2 * spacing + spacing
    ruling = ruled(grid, angle, spacing, margin_mm=margin)
    lines, apart = bent(ruling, angle, np.asarray(stray, np.float32), grid)
    return lines, (apart, np.repeat(_turns(ruling.number), lines.points)), ruling.step


def _turns(number: NDArray[np.int64]) -> Column:
    """(N,) when each line ends as the tone grows lighter, 0 the last to 1 the first.

    Neighbours are far apart in turn (J. G. van der Corput, 1935).
    """
    turn = np.zeros(number.shape, np.float32)
    for bit in range(TURN_BITS):
        turn += np.float32(0.5 ** (bit + 1)) * (number >> bit & 1)
    return turn


def reach_mm(settings: Crosshatch) -> float:
    """Strokes stand where the whole sheet puts them; outlines look as far as ink lines do."""
    return ink_line.reach_mm(_outline(settings)) if settings.outlines else 0.0


LOOK = Look(
    settings=Crosshatch,
    label="Crosshatch",
    purpose="Layers of wavy pen lines that thicken and cross in the dark",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    sized_by="spacing",
    draws_marks=True,
    beside=lambda settings: _outline(settings) if settings.outlines else None,
    suits=Suits(parted=(0.6, 0.4), fine=(0.4, 0.6), led=(0.5, 0.3), spread=(0.8, 0.6)),
    pitch=lambda settings: settings.spacing,
    gaussians=100,
    thinnest=lambda settings: settings.thinnest,
)
