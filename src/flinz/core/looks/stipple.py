"""Stipple: dots that carry tone by their number and size, evenly spread, following detail."""

from dataclasses import replace
from enum import StrEnum
from typing import Literal

import numpy as np

from flinz.core.dial import Choice, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.following import follow_dial, followed, is_followed, levels
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.marks.pen import dots_cover, small_dots_cover
from flinz.core.marks.stippling import CELL_DOTS, placed
from flinz.core.marks.tones import Spread, planned, shaped
from flinz.core.marks.vectors import Dots, Shape
from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.flow import direction_field
from flinz.core.scale import Frame
from flinz.errors import DocumentError

MAX_DOTS = 1_500_000
# Paper narrower than this would fill up in print; a pen this fine must do with narrower.
GAP_MM, WIDEST_GAP = 0.11, 0.45
EDGE_MM = 0.35
FORM_MM = 1.2
# What is larger and smaller together where marks follow detail.
SIZED = ("dot",)


class Turn(StrEnum):
    """How marks that have a direction lie."""

    ALONG = "along"
    ACROSS = "across"


class Stipple(ToneWindow):
    """A pen's dots."""

    look: Literal["stipple"] = "stipple"
    mark: Shape = Choice(
        Shape.ROUND,
        label="Mark",
        hint="What is set down for each dot",
        options={
            Shape.ROUND: ("Dot", "A pen set down and lifted"),
            Shape.DASH: ("Dash", "A short stroke, which turns with the form"),
            Shape.RING: ("Ring", "An open circle: lighter than a dot"),
            Shape.SQUARE: ("Square", "A stamp, which turns with the form"),
            Shape.LEAF: ("Leaf", "Pointed at both ends, which turns with the form"),
            Shape.DIAMOND: ("Diamond", "A square on its corner, which turns with the form"),
        },
    )
    turn: Turn = Choice(
        Turn.ALONG,
        label="Turned",
        hint="Marks lie along or across the form",
        options={
            Turn.ALONG: ("Along the form", "As fur and grass lie"),
            Turn.ACROSS: ("Across the form", "As a pen goes round a limb"),
        },
    )
    pen_wear: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Pen wear",
        hint="From a true circle to a worn pen's blob",
        only_for={"mark": ["round"]},
    )
    dot: float = Dial(
        0.5,
        ge=0.1,
        le=6.0,
        low=0.2,
        high=2.0,
        step=0.01,
        unit="mm",
        label="Dot",
        hint="Width of the largest dots",
    )
    smallest: float = Dial(
        0.7,
        ge=0.2,
        le=1.0,
        step=0.02,
        label="Smallest",
        hint="Dots in the light, as a share of the largest",
    )
    evenness: float = Dial(
        0.7,
        ge=0.0,
        le=1.0,
        step=0.05,
        label="Evenness",
        hint="How far dots settle between neighbours",
    )
    edges: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Edges",
        hint="More dots along edges, so that form reads",
    )
    detail: float = follow_dial()
    lightest: float = Dial(
        0.92,
        ge=0.05,
        le=1.0,
        low=0.4,
        step=0.01,
        label="Lightest",
        hint="Tones above it stay bare paper",
    )
    darkest: float = Dial(
        0.06,
        ge=0.0,
        le=0.95,
        high=0.6,
        step=0.01,
        label="Darkest",
        hint="Tones below it are full ink",
    )


def draw(tone: Plane, settings: Stipple, frame: Frame, desk: Desk) -> Plane:
    """The dots as ink 0..1."""
    dots = desk.laid(marks(settings, desk))
    return dots_cover(dots, frame) if desk.draft else small_dots_cover(dots, frame)


def marks(settings: Stipple, desk: Desk) -> Dots:
    """The dots of a whole sheet, the same whatever part of it is drawn.

    A draft has them where the grid puts them (see flinz.core.stippling).
    Raises DocumentError if there would be more than MAX_DOTS.
    """
    found = followed("marks", settings, desk, _lying, SIZED, settles=False)
    if len(found) > MAX_DOTS:
        raise _too_many(f"{len(found):,} dots")
    return found


def _lying(settings: Stipple, desk: Desk) -> Dots:
    """Dots of one size as the marks that are wanted, along or across the form."""
    cell = settings.dot * CELL_DOTS
    return _turned(_untouched(settings, desk), *desk.form(1 / cell), settings)


def _untouched(settings: Stipple, desk: Desk) -> Dots:
    """Round dots, as they are placed."""
    tone, grid = desk.whole(1 / (settings.dot * CELL_DOTS))
    if grid != grid.of_all:
        return _placed(tone, grid, settings, desk)
    found: Dots = desk.keep_whole(
        "dots", _placing(settings), lambda: _placed(tone, grid, settings, desk)
    )
    return found


def _too_many(problem: object) -> DocumentError:
    return DocumentError(
        f"This drawing would have {problem}; the limit is {MAX_DOTS:,}. "
        "Choose a larger dot, or a smaller sheet."
    )


def are_placed(settings: Stipple, desk: Desk) -> bool:
    """Whether the dots of a whole sheet are remembered."""
    if is_followed(settings, desk):
        return desk.holds_whole("marks", settings.said)
    return desk.holds_whole("dots", _placing(settings))


def _placing(settings: Stipple) -> str:
    # How a mark is shaped and turned moves none.
    return settings.model_copy(update={"pen_wear": 0.0, "turn": Turn.ALONG}).said


def predicted(settings: Stipple, desk: Desk) -> int:
    """How many dots there will be, within 5 %, without placing them."""
    if is_followed(settings, desk):
        return sum(predicted(each.settings, each.desk) for each in levels(settings, desk, SIZED))
    whole, grid = desk.whole(1 / (settings.dot * CELL_DOTS))
    cover = _wished(whole, grid, settings)
    chance, _ = planned(cover, _spread(settings, draft=False))
    # Ranks are even over the tile.
    return round(float(chance.sum(dtype=np.float64)))


def _turned(dots: Dots, whole: Plane, grid: Frame, settings: Stipple) -> Dots:
    """Dots as the marks that are wanted, lying along or across the form."""
    if settings.mark == Shape.ROUND:
        return shaped(dots, Shape.ROUND, settings.pen_wear)
    field = direction_field(whole, grid, FORM_MM)
    at = np.clip((np.stack([dots.x, dots.y]) * field.frame.px_per_mm).astype(np.int64), 0, None)
    height, width = field.directions.shape[:2]
    way = field.directions[np.minimum(at[1], height - 1), np.minimum(at[0], width - 1)]
    angle = np.arctan2(-way[:, 1], way[:, 0])
    if settings.turn == Turn.ACROSS:
        angle = angle + np.float32(np.pi / 2)
    return replace(shaped(dots, settings.mark), angle=np.asarray(angle, np.float32))


def _wished(whole: Plane, grid: Frame, settings: Stipple) -> Plane:
    near, wide = blurred(whole, grid.px(EDGE_MM)), blurred(whole, grid.px(2.2 * EDGE_MM))
    sharp = whole + np.float32(2.5 * settings.edges) * (near - wide)
    return wished_cover(np.asarray(np.clip(sharp, 0, 1), np.float32), settings)


def _spread(settings: Stipple, draft: bool) -> Spread:
    # Marks of other shapes do not close the paper between them as discs do.
    gap_mm = min(GAP_MM, WIDEST_GAP * settings.dot) if settings.mark == Shape.ROUND else 0.0
    gap = gap_mm / (settings.dot * CELL_DOTS)
    return Spread(gap, settings.evenness, draft, settings.smallest, settings.mark)


def _placed(tone: Plane, grid: Frame, settings: Stipple, desk: Desk) -> Dots:
    cover, spread = _wished(tone, grid, settings), _spread(settings, desk.draft)
    chance, size = planned(cover, spread)
    corner = grid.left, grid.top
    try:
        return placed(chance, cover, size, 1 / grid.px_per_mm, spread, MAX_DOTS, desk.heed, corner)
    except OverflowError as problem:
        raise _too_many(problem) from problem


def reach_mm(settings: Stipple) -> float:
    """Dots stand where the whole sheet puts them: nothing around the frame is needed."""
    return 0.0


LOOK = Look(
    settings=Stipple,
    label="Stipple",
    purpose="A pen's dots, evenly spread, many in the dark and few in the light",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    predicted=predicted,
    are_placed=are_placed,
    sized_by="dot",
    draws_marks=True,
    suits=Suits(parted=(0.5, 0.5), fine=(0.3, 0.7), led=(0.3, 0.3), spread=(0.8, 0.6)),
    pitch=lambda settings: settings.dot,
    gaussians=120,
    thinnest=lambda settings: settings.dot * settings.smallest,
)
