"""Pens: how a line is drawn, by a nib or with small marks set along it."""

import math
from enum import StrEnum
from typing import Any

import numpy as np
from pydantic import Field
from shapely import convex_hull, get_coordinates, multipoints, orient_polygons

from flinz.core.dial import Angle, Choice, Dial, Settings, Switch
from flinz.core.ground.outlines import turned
from flinz.core.ground.own_marks import MAX_PATH, rings_of_path
from flinz.core.ground.strewing import Course, Places, apart, stations
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.shapes.filled import Ring

# Of one line: marks, grains of chalk and bristles.
MOST_MARKS, MOST_GRAINS, BRISTLES = 20_000, 40_000, 24
GRAIN_MM = 0.22


class Nib(StrEnum):
    """What draws."""

    ROUND = "round"
    FLAT = "flat"
    CHALK = "chalk"
    DRY = "dry"
    ROPE = "rope"
    MARKS = "marks"


class Mark(StrEnum):
    """What is strewn."""

    LEAF = "leaf"
    SPRIG = "sprig"
    SEED = "seed"
    DROP = "drop"
    PETALS = "petals"
    STAR = "star"
    DOT = "dot"
    RING = "ring"
    SQUARE = "square"
    DASH = "dash"
    OWN = "own"


NIBS: dict[Any, tuple[str, str]] = {
    Nib.ROUND: ("Round nib", "As wide whichever way it goes"),
    Nib.FLAT: ("Flat nib", "Broad across its edge, thin along it"),
    Nib.CHALK: ("Chalk", "Grains, thinner towards the sides"),
    Nib.DRY: ("Dry brush", "Bristles that run out of ink"),
    Nib.ROPE: ("Rope", "Twisted strands"),
    Nib.MARKS: ("Strewn marks", "Small marks set along the line"),
}
MARKS: dict[Any, tuple[str, str]] = {
    Mark.LEAF: ("Leaf", "Pointed at both ends"),
    Mark.SPRIG: ("Sprig", "Three leaves on a stalk"),
    Mark.SEED: ("Seed", "A flat oval"),
    Mark.DROP: ("Drop", "Round, with a tip"),
    Mark.PETALS: ("Flower", "Five petals round an eye"),
    Mark.STAR: ("Star", "Of five points"),
    Mark.DOT: ("Dot", "Round"),
    Mark.RING: ("Ring", "Round and hollow"),
    Mark.SQUARE: ("Square", "On its edge or not, as it turns"),
    Mark.DASH: ("Dash", "Short and straight"),
    Mark.OWN: ("Your own", "From an SVG file"),
}
STREWN = {"nib": ["marks"]}
WIDE = {"nib": ["round", "flat", "chalk", "dry", "rope"]}


def _mm(default: float, high: float, **more: Any) -> Any:
    return Dial(default, high=high, unit="mm", **({"ge": 0.0, "le": 200.0, "step": 0.1} | more))


def _share(default: float, **more: Any) -> Any:
    return Dial(default, ge=0.0, le=1.0, step=0.02, **more)


class Pen(Settings):
    """How lines are drawn. mark_path: of a mark of one's own, in a box of 100 about its middle."""

    nib: Nib = Choice(Nib.ROUND, label="Pen", hint="What draws the line", options=NIBS)
    width: float = _mm(
        1.2, 12.0, ge=0.05, low=0.1, step=0.05, label="Width", hint="Of the line", only_for=WIDE
    )
    nib_angle: float = Angle(
        40.0, label="Nib held at", hint="Its edge, counter-clockwise", only_for={"nib": ["flat"]}
    )
    pressure: float = _share(0.6, label="Pressure", hint="How much of the size it decides")
    smooth: float = _mm(0.8, 10.0, label="Smooth", hint="Takes the tremble out of the hand")
    mark: Mark = Choice(
        Mark.LEAF, label="Mark", hint="What is strewn", options=MARKS, only_for=STREWN
    )
    mark_path: str = Field("", max_length=MAX_PATH)
    spacing: float = _mm(
        6.0, 40.0, ge=0.1, low=0.5, label="Spacing", hint="From mark to mark", only_for=STREWN
    )
    size: float = _mm(
        5.0, 30.0, ge=0.1, low=0.5, label="Mark size", hint="How large each is", only_for=STREWN
    )
    spacing_by_pressure: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        low=-1.0,
        high=1.0,
        step=0.05,
        label="Spacing by pressure",
        hint="Above 0, closer where pressed harder",
        only_for=STREWN,
        group="Unevenness",
    )
    turns: bool = Switch(True, label="Turn with the line", hint="Or all one way", only_for=STREWN)
    lean: float = Angle(
        0.0,
        label="Leaning",
        hint="Off the line, counter-clockwise",
        low=-180.0,
        only_for=STREWN,
        group="Unevenness",
    )
    sides: bool = Switch(
        False,
        label="Left and right by turns",
        hint="Every other one leans the other way",
        only_for=STREWN,
        group="Unevenness",
    )
    off: float = _mm(
        0.0, 20.0, label="Off the line", hint="Up to so far", only_for=STREWN, group="Unevenness"
    )
    vary_size: float = _share(
        0.0, label="Sizes vary", hint="From mark to mark", only_for=STREWN, group="Unevenness"
    )
    vary_turn: float = _share(
        0.0, label="Turns vary", hint="From mark to mark", only_for=STREWN, group="Unevenness"
    )
    vary_spacing: float = _share(
        0.0, label="Spacing varies", hint="Along the line", only_for=STREWN, group="Unevenness"
    )
    kept_apart: bool = Switch(
        False,
        label="Kept apart",
        hint="What would lie over another is left out",
        only_for=STREWN,
        group="Unevenness",
    )
    seed: float = Dial(
        1,
        ge=0,
        le=9999,
        high=99,
        step=1,
        label="Seed",
        hint="Another throw of the dice",
        group="Unevenness",
    )


def drawn(courses: list[Course], pen: Pen) -> tuple[list[Ring], Strokes]:
    """Lines drawn by a pen: as outlines, and as strokes, both in mm."""
    rings: list[Ring] = []
    strokes: list[Strokes] = []
    for number, course in enumerate(courses):
        rng = np.random.default_rng([round(pen.seed), number])
        match pen.nib:
            case Nib.ROUND:
                strokes.append(_round(course, pen))
            case Nib.FLAT:
                rings += _flat(course, pen)
            case Nib.CHALK:
                rings += _chalk(course, pen, rng)
            case Nib.DRY:
                strokes.append(_dry(course, pen, rng))
            case Nib.ROPE:
                rings += _rope(course, pen)
            case Nib.MARKS:
                rings += _strewn(course, pen, rng)
    return rings, joined(strokes)


def _pressed(pressure: Places, pen: Pen) -> Places:
    """The share of a size that pressure leaves."""
    return 1 - pen.pressure * (1 - pressure)


def _closed(course: Course) -> Places:
    points = course.points
    return np.concatenate([points, points[:1]]) if course.is_closed else points


def _round(course: Course, pen: Pen) -> Strokes:
    x, y, pressure = _closed(course).T
    return _as_strokes([(x, y, pen.width * _pressed(pressure, pen))])


def _as_strokes(lines: list[tuple[Places, Places, Places]]) -> Strokes:
    first = np.cumsum([0, *(len(x) for x, _, _ in lines)]).astype(np.int64)
    x, y, width = (np.concatenate([line[k] for line in lines]).astype(np.float32) for k in range(3))
    return Strokes(x, y, width, first)


def _flat(course: Course, pen: Pen) -> list[Ring]:
    """What the edge of a nib sweeps, from step to step."""
    turn = math.radians(pen.nib_angle)
    edge = np.array([math.cos(turn), -math.sin(turn)])
    # An edge is never quite thin: else a line along it would be none.
    thick = np.array([-edge[1], edge[0]]) * min(0.12, pen.width / 8)
    points = _closed(course)
    half = (pen.width * _pressed(points[:, 2], pen) / 2)[:, None] * edge
    left, right = points[:, :2] - half, points[:, :2] + half
    ends = np.stack([left[:-1], right[:-1], left[1:], right[1:]], axis=1)
    corners = np.concatenate([ends - thick, ends + thick], axis=1)
    hulls, piece = get_coordinates(
        orient_polygons(convex_hull(multipoints(corners))), return_index=True
    )
    rings = np.split(hulls, np.flatnonzero(np.diff(piece)) + 1)
    # The first corner is said again at the end.
    return [ring[:-1] for ring in rings if len(ring) > 3]


def _across(course: Course, along: Places, off: Places) -> tuple[Places, Places]:
    """Places so far along a line and off it, and the points of the line."""
    points, way = course.at(along)
    return points[:, :2] + off[:, None] * np.column_stack([-way[:, 1], way[:, 0]]), points


def _chalk(course: Course, pen: Pen, rng: np.random.Generator) -> list[Ring]:
    area = course.length * pen.width
    count = int(min(MOST_GRAINS, 1.1 * area / GRAIN_MM**2 + 4))
    along = rng.uniform(0, course.length, count)
    # More in the middle than at the sides; less where hardly pressed.
    off = (rng.beta(1.7, 1.7, count) - 0.5) * pen.width
    size = GRAIN_MM * np.exp(rng.normal(0, 0.45, count))
    places, points = _across(course, along, off)
    kept = rng.uniform(0, 1, count) < _pressed(points[:, 2], pen)
    turn = rng.uniform(0, 2 * np.pi, (count, 7)).cumsum(1)
    turn *= 2 * np.pi / turn[:, -1:]
    shape = np.stack([np.cos(turn), np.sin(turn)], -1)[:, :-1] * (size / 1.6)[:, None, None]
    return list((places[:, None] + shape)[kept])


def _dry(course: Course, pen: Pen, rng: np.random.Generator) -> Strokes:
    """Bristles side by side, each of which runs dry here and there, more towards the end."""
    lines = []
    bristle = pen.width / BRISTLES
    steps = max(2, math.ceil(course.length / 0.5))
    along = np.linspace(0, course.length, steps)
    for k in range(BRISTLES):
        off = ((k + 0.5) / BRISTLES - 0.5) * pen.width
        places, points = _across(course, along, np.full(steps, off))
        wet = rng.normal(0, 1, steps)
        reach = min(steps, 24)
        wet = np.convolve(wet, np.hanning(reach + 2)[1:-1], mode="same") / math.sqrt(reach / 2.7)
        middle = 1 - abs(2 * (k + 0.5) / BRISTLES - 1) ** 3
        runs_out = 1.6 * (along / course.length) ** 1.5
        inked = wet + 1.2 * middle + 0.9 * _pressed(points[:, 2], pen) - runs_out > -0.35
        width = np.full(steps, bristle * rng.uniform(0.8, 1.5))
        ends = np.flatnonzero(np.diff(np.concatenate([[0], inked.astype(np.int8), [0]])))
        for begin, end in zip(ends[::2], ends[1::2], strict=True):
            if end - begin > 1:
                part = slice(begin, end)
                lines.append((places[part, 0], places[part, 1], width[part]))
    return _as_strokes(lines) if lines else joined([])


def _rope(course: Course, pen: Pen) -> list[Ring]:
    """Strands, each a lens aslant over the line, with paper between them."""
    turn = 2 * np.pi * np.arange(32) / 32
    lens = np.column_stack([0.5 * np.cos(turn), 0.11 * np.sin(turn) * (1 + 0.25 * np.cos(turn))])
    strand = turned(lens, -math.radians(38)) * 1.25
    at = stations(course, 0.5 * pen.width, MOST_MARKS)
    points, way = course.at(at)
    return _set((strand,), points[:, :2], way, pen.width * _pressed(points[:, 2], pen))


def _strewn(course: Course, pen: Pen, rng: np.random.Generator) -> list[Ring]:
    at = stations(course, pen.spacing, MOST_MARKS, pen.spacing_by_pressure)
    count = len(at)
    dice = rng.uniform(-1, 1, (4, count))
    at = at + dice[0] * pen.vary_spacing * pen.spacing / 2
    at = course.held(at)
    places, points = _across(course, at, dice[1] * pen.off)
    _, way = course.at(at)
    if not pen.turns:
        way = np.tile([1.0, 0.0], (count, 1))
    lean = np.full(count, math.radians(pen.lean))
    if pen.sides:
        lean[1::2] *= -1
    lean += dice[2] * pen.vary_turn * np.pi
    cosine, sine = np.cos(-lean), np.sin(-lean)
    way = np.column_stack(
        [way[:, 0] * cosine - way[:, 1] * sine, way[:, 0] * sine + way[:, 1] * cosine]
    )
    sizes = pen.size * _pressed(points[:, 2], pen) * 2.0 ** (dice[3] * pen.vary_size)
    rings = rings_of_mark(pen)
    if pen.kept_apart:
        reach = max((float(np.hypot(*ring.T).max()) for ring in rings), default=0.5)
        kept = apart(places, reach * sizes)
        places, way, sizes = places[kept], way[kept], sizes[kept]
    return _set(rings, places, way, sizes)


def _set(shape: tuple[Ring, ...], places: Places, way: Places, sizes: Places) -> list[Ring]:
    """A shape, one unit across, at each place, turned along its way."""
    rings: list[Ring] = []
    by_mark: list[list[Ring]] = [[] for _ in places]
    for ring in shape:
        x, y = ring.T
        across = sizes[:, None] * (way[:, :1] * x - way[:, 1:] * y)
        down = sizes[:, None] * (way[:, 1:] * x + way[:, :1] * y)
        moved = np.stack([across, down], -1) + places[:, None]
        for k, each in enumerate(moved):
            by_mark[k].append(each)
    for each_mark in by_mark:
        rings += each_mark
    return rings


def rings_of_mark(pen: Pen) -> tuple[Ring, ...]:
    """The outline of a pen's mark, one unit across about its middle; along the line is x."""
    if pen.mark == Mark.OWN:
        return rings_of_path(pen.mark_path)
    turn = 2 * np.pi * np.arange(40) / 40
    cosine, sine = np.cos(turn), np.sin(turn)
    circle = np.column_stack([cosine, sine]) / 2
    # Pointed at both ends, widest a little before the middle.
    pointed = np.column_stack([cosine / 2, 0.21 * np.sign(sine) * np.abs(sine) ** 1.35])
    corner = 2 * np.pi * np.arange(10) / 10
    shapes: dict[Mark, tuple[Ring, ...]] = {
        Mark.DOT: (circle,),
        Mark.RING: (circle, circle[::-1] * 0.62),
        Mark.SQUARE: (np.array([[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]]),),
        Mark.DASH: (np.array([[-0.5, -0.09], [0.5, -0.09], [0.5, 0.09], [-0.5, 0.09]]),),
        Mark.SEED: (circle * (1, 0.55),),
        Mark.LEAF: (pointed,),
        Mark.DROP: (np.column_stack([cosine / 2, 0.24 * sine * np.sqrt((1 - cosine) / 2)]),),
        Mark.STAR: (
            np.column_stack([np.cos(corner), np.sin(corner)])
            * np.where(np.arange(10) % 2, 0.21, 0.5)[:, None],
        ),
        Mark.PETALS: (
            *(turned(_moved(pointed * (0.44, 0.8), 0.27), -math.radians(72 * k)) for k in range(5)),
            circle * 0.16,
        ),
        Mark.SPRIG: (
            _moved(pointed * (0.5, 0.62), 0.25),
            *(
                _moved(turned(_moved(pointed * (0.46, 0.6), 0.22), math.radians(way)), -0.14)
                for way in (-52, 52)
            ),
            np.array([[-0.5, -0.022], [0.1, -0.022], [0.1, 0.022], [-0.5, 0.022]]),
        ),
    }
    return shapes[pen.mark]


def _moved(ring: Ring, along: float) -> Ring:
    return np.asarray(ring + np.array([along, 0.0]), np.float64)
