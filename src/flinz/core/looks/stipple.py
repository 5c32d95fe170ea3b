"""Stipple: dots that carry tone by their number and size, evenly spread, following detail."""

import functools
import math
from enum import StrEnum
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.bluenoise import SIDE, ranked_tile
from flinz.core.dial import Choice, Dial
from flinz.core.filters import Plane, blurred, smoothstep
from flinz.core.flow import direction_field
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.marks import Dots, Shape
from flinz.core.pen import dots_cover
from flinz.core.scale import Frame, whole_frame
from flinz.errors import DocumentError

MAX_DOTS = 600_000
# Cells are this many dots wide: a full tile of dots then covers all but a few per cent.
CELL_DOTS = 0.86
FINE = 4  # places a cell side, for settling
ROUNDS = 3
EDGE_MM = 0.35
CALIBRATION = 17
FORM_MM = 1.2
# Areas of marks, as shares of the circle around them (see flinz.core.pen).
SHARE_OF_CIRCLE = {
    Shape.DASH: 0.36,
    Shape.RING: 0.64,
    Shape.SQUARE: 0.637,
    Shape.LEAF: 0.42,
    Shape.DIAMOND: 0.637,
}
PACKED_GROWTH = 0.24
SOLID_GROWTH = 0.25


class Turn(StrEnum):
    """How marks that have a direction lie."""

    ALONG = "along"
    ACROSS = "across"


class Stipple(ToneWindow):
    """A pen's dots."""

    look: Literal["stipple"] = "stipple"
    mark: Shape = Choice(Shape.ROUND, label="Mark", hint="What is set down for each dot")
    turn: Turn = Choice(Turn.ALONG, label="Turned", hint="Marks lie along or across the form")
    roundness: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Roundness",
        hint="From a worn pen's blob to a true circle",
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
    return dots_cover(marks(settings, desk), frame)


def marks(settings: Stipple, desk: Desk) -> Dots:
    """The dots of a whole sheet, the same whatever part of it is drawn.

    A dot stands in each cell of a fixed grid whose rank in a blue-noise tile (R. Ulichney,
    1993) is below the density there; density is calibrated to the ink these dots leave. They
    then settle by a few rounds of weighted Voronoi relaxation (A. Secord, 2002), which
    from so even a start takes the grid away and keeps the picture.
    Raises DocumentError if there would be more than MAX_DOTS.
    """
    cell = settings.dot * CELL_DOTS
    whole, grid = desk.whole(1 / cell)
    placed = settings.model_dump_json()
    settled = ROUNDS if settings.evenness > 0 and not desk.draft else 0
    return desk.keep_whole(  # type: ignore[no-any-return]
        "dots",
        (placed, settled),
        lambda: _turned(_placed(whole, grid, settings, settled), whole, grid, settings),
    )


def predicted(settings: Stipple, desk: Desk) -> int:
    """How many dots there will be, within 5 %, without placing them."""
    whole, grid = desk.whole(1 / (settings.dot * CELL_DOTS))
    rounds = ROUNDS if settings.evenness > 0 else 0
    density, _ = _densities(_wished(whole, grid, settings), settings, rounds)
    # Ranks are even over the tile: a cell has a dot with the chance of its density.
    return round(float(density.sum(dtype=np.float64)))


def _turned(dots: Dots, whole: Plane, grid: Frame, settings: Stipple) -> Dots:
    """Dots as the marks that are wanted, lying along or across the form."""
    shape, blob = settings.mark, 1 - settings.roundness
    if shape == Shape.ROUND:
        return Dots(dots.x, dots.y, dots.radius, shape=shape, blob=blob)
    # A mark covers less of the circle around it than a dot does.
    radius = np.asarray(dots.radius * np.float32(1 / math.sqrt(SHARE_OF_CIRCLE[shape])), np.float32)
    field = direction_field(whole, grid, FORM_MM)
    at = np.clip((np.stack([dots.x, dots.y]) * field.frame.px_per_mm).astype(np.int64), 0, None)
    height, width = field.directions.shape[:2]
    way = field.directions[np.minimum(at[1], height - 1), np.minimum(at[0], width - 1)]
    angle = np.arctan2(-way[:, 1], way[:, 0])
    if settings.turn == Turn.ACROSS:
        angle = angle + np.float32(np.pi / 2)
    return Dots(dots.x, dots.y, radius, np.asarray(angle, np.float32), shape)


def _wished(whole: Plane, grid: Frame, settings: Stipple) -> Plane:
    near, wide = blurred(whole, grid.px(EDGE_MM)), blurred(whole, grid.px(2.2 * EDGE_MM))
    sharp = whole + np.float32(2.5 * settings.edges) * (near - wide)
    return wished_cover(np.asarray(np.clip(sharp, 0, 1), np.float32), settings)


def _densities(cover: Plane, settings: Stipple, rounds: int) -> tuple[Plane, Plane]:
    """The chance of a dot in each cell, and its size as a share of the largest."""
    smallest = np.float32(settings.smallest)
    size = smallest + (1 - smallest) * np.clip(cover * np.float32(1.6), 0, 1)
    density = np.interp(cover, _cover_of_density(rounds), np.linspace(0, 1, CALIBRATION))
    # Smaller dots need more of them for the same ink, as far as there are cells.
    return np.asarray(np.clip(density / size**2, 0, 1), np.float32), size


def _placed(whole: Plane, grid: Frame, settings: Stipple, rounds: int) -> Dots:
    cover = _wished(whole, grid, settings)
    density, size = _densities(cover, settings, rounds)
    height, width = cover.shape
    rows, columns = np.arange(height) % SIDE, np.arange(width) % SIDE
    there = ranked_tile()[np.ix_(rows, columns)] < density
    y, x = np.nonzero(there)
    if len(x) > MAX_DOTS:
        raise DocumentError(
            f"This drawing would have {len(x):,} dots; the limit is {MAX_DOTS:,}. "
            "Choose a larger dot, or a smaller sheet."
        )
    radius = ((size * _grown(cover))[y, x] * np.float32(settings.dot / 2)).astype(np.float32)
    places = np.stack([x + 0.5, y + 0.5], -1).astype(np.float32)
    for _ in range(rounds):
        places = _relaxed(places, density, np.float32(settings.evenness))
    places /= np.float32(grid.px_per_mm)
    return Dots(places[:, 0].copy(), places[:, 1].copy(), radius)


def _relaxed(places: NDArray[np.float32], density: Plane, share: np.float32) -> NDArray[np.float32]:
    """Dots moved by a share towards the weighted middle of what lies nearest to them."""
    height, width = density.shape
    fine = np.ones((height * FINE, width * FINE), np.uint8)
    column = np.clip((places[:, 0] * FINE).astype(np.int64), 0, width * FINE - 1)
    row = np.clip((places[:, 1] * FINE).astype(np.int64), 0, height * FINE - 1)
    fine[row, column] = 0
    _, labels = cv2.distanceTransformWithLabels(
        fine, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    owner = labels.ravel()
    size = (width * FINE, height * FINE)
    weight = cv2.resize(density, size, interpolation=cv2.INTER_LINEAR).ravel() + 1e-3
    y, x = np.divmod(np.arange(owner.size), width * FINE)
    count = int(owner.max()) + 1
    total = np.bincount(owner, weight, count)
    middle_x = np.bincount(owner, weight * x, count) / np.maximum(total, 1e-9)
    middle_y = np.bincount(owner, weight * y, count) / np.maximum(total, 1e-9)
    mine = labels[row, column]
    goal = np.stack([middle_x[mine], middle_y[mine]], -1) / FINE + 0.5 / FINE
    return (places + share * (goal - places)).astype(np.float32)


def _grown(cover: Plane) -> Plane:
    # Past packing dots grow: round ones as close as they get leave holes between them.
    grown = 1 + np.float32(PACKED_GROWTH) * smoothstep(0.80, 0.97, cover)
    # Solid black must not show where the cells are.
    return np.asarray(grown + np.float32(SOLID_GROWTH) * smoothstep(0.97, 1.0, cover), np.float32)


@functools.cache
def _cover_of_density(rounds: int) -> NDArray[np.float64]:
    """The ink that full-sized dots leave at CALIBRATION densities, by drawing tiles of them.

    rounds: how often they settle, which takes overlaps away. How far dots have grown depends on
    the ink itself, so each drawing uses the one before.
    """
    found = np.zeros(CALIBRATION)
    for _ in range(2):
        grown = _grown(found.astype(np.float32))
        found = np.array([_tile_cover(k, float(grown[k]), rounds) for k in range(CALIBRATION)])
    found[-1] = 1.0
    return np.maximum.accumulate(found)


def _tile_cover(step: int, grown: float, rounds: int) -> float:
    frame = whole_frame(float(SIDE), SIDE * 6, SIDE * 6)
    y, x = np.nonzero(ranked_tile() < step / (CALIBRATION - 1))
    radius = np.full(len(x), 0.5 / CELL_DOTS * grown, np.float32)
    places = np.stack([x + 0.5, y + 0.5], -1).astype(np.float32)
    even = np.ones((SIDE, SIDE), np.float32)
    for _ in range(rounds if len(x) else 0):
        places = _relaxed(places, even, np.float32(0.7))
    dots = Dots(places[:, 0].copy(), places[:, 1].copy(), radius)
    return float(dots_cover(dots, frame).mean())


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
    predicted=predicted,
    draws_marks=True,
)
