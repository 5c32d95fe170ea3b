"""Lines as a source: drawn by hand, or along a plain figure, with a pen."""

import math
from collections.abc import Iterable, Sequence
from enum import StrEnum

import numpy as np
from shapely import Polygon, make_valid, union_all

from flinz.core.dial import Choice, Dial, Switch
from flinz.core.ground.figure import Figure, Piece, Toned, rings_of
from flinz.core.ground.pens import Pen, drawn
from flinz.core.ground.strewing import Course, Places, course_of
from flinz.core.shapes.filled import Ring


class Along(StrEnum):
    """Where a line runs."""

    HAND = "hand"
    STRAIGHT = "straight"
    ARC = "arc"
    WAVE = "wave"
    ELLIPSE = "ellipse"
    RECTANGLE = "rectangle"
    CUTOUT = "cutout"


SIZED = {"along": ["straight", "arc", "wave", "ellipse", "rectangle"]}
HIGH = {"along": ["arc", "wave", "ellipse", "rectangle"]}


def _edge(default: float, label: str, only_for: dict[str, list[str]], hint: str) -> float:
    made: float = Dial(
        default,
        ge=0.5,
        le=4000.0,
        low=5.0,
        high=400.0,
        step=0.5,
        unit="mm",
        label=label,
        hint=hint,
        only_for=only_for,
    )
    return made


class Lines(Toned, Pen):
    """Lines and the pen that draws them. Those by hand are hand work of their plate."""

    along: Along = Choice(
        Along.HAND,
        label="Runs",
        hint="Where the line runs",
        options={
            Along.HAND: ("By hand", "As it is drawn on the sheet"),
            Along.STRAIGHT: ("Straight", "From left to right"),
            Along.ARC: ("Along an arc", "As wide and high as said"),
            Along.WAVE: ("In waves", "Up and down"),
            Along.ELLIPSE: ("Round an ellipse", "Closed"),
            Along.RECTANGLE: ("Round a rectangle", "Closed"),
            Along.CUTOUT: ("Along the subject’s edge", "The cutout of the sheet’s picture"),
        },
    )
    wide: float = _edge(100.0, "Box width", SIZED, "Of what it runs in")
    high: float = _edge(30.0, "Box height", HIGH, "Of what it runs in")
    waves: float = Dial(
        3,
        ge=0.5,
        le=60,
        high=12,
        step=0.5,
        label="Waves",
        hint="How many there are",
        only_for={"along": ["wave"]},
    )
    closes: bool = Switch(
        False, label="Close each line", hint="Back to where it began", only_for={"along": ["hand"]}
    )
    solid: bool = Switch(
        False, label="Filled", hint="What a line goes round is filled", only_for={"along": ["hand"]}
    )


def figure_of(lines: Lines, size: tuple[float, float], drawn_by_hand: Sequence[Places]) -> Figure:
    """Lines as a figure in their box; those by hand in the box of the paper, of that size in mm.

    drawn_by_hand: of each line (N, 3) x, y in mm in the box, and pressure 0..1.
    """
    if lines.along in (Along.HAND, Along.CUTOUT):
        width, height = size
        given, is_closed = list(drawn_by_hand), lines.closes or lines.along == Along.CUTOUT
    else:
        given, is_closed = [_plain(lines)], lines.along in (Along.ELLIPSE, Along.RECTANGLE)
        width, height = lines.wide, lines.high
        if lines.along == Along.STRAIGHT:
            height = 1.0
    by_hand = lines.along == Along.HAND
    courses = [course_of(each, lines.smooth if by_hand else 0.0, is_closed) for each in given]
    found = [course for course in courses if course is not None]
    rings, strokes = drawn(found, lines)
    pieces = [Piece(tuple(rings))] if rings else []
    if lines.solid and by_hand:
        pieces.append(Piece(_filled(found)))
    return Figure(width, height, tuple(pieces), strokes)


def _plain(lines: Lines) -> Places:
    """The points of a line along a plain figure, in its box, evenly pressed."""
    width, height = lines.wide, lines.high
    t = np.linspace(0, 1, 720)
    match lines.along:
        case Along.STRAIGHT:
            places = np.array([[0, 0.5], [width, 0.5]])
        case Along.ARC:
            # Through both lower corners and the middle of the top.
            radius = (width**2 / 4 + height**2) / (2 * height)
            half = math.asin(min(1.0, width / (2 * radius)))
            if height > width / 2:
                half = math.pi - half
            turn = (2 * t - 1) * half
            places = np.column_stack(
                [width / 2 + radius * np.sin(turn), radius * (1 - np.cos(turn))]
            )
        case Along.WAVE:
            swing = np.sin(2 * np.pi * lines.waves * t)
            places = np.column_stack([width * t, height * (0.5 - 0.5 * swing)])
        case Along.ELLIPSE:
            turn = 2 * np.pi * t[:-1]
            places = np.column_stack(
                [width / 2 * (1 + np.sin(turn)), height / 2 * (1 - np.cos(turn))]
            )
        case _:
            places = np.array([[0, 0], [width, 0], [width, height], [0, height]])
    return np.column_stack([places, np.ones(len(places))])


def _filled(courses: list[Course]) -> tuple[Ring, ...]:
    outlines = [
        make_valid(Polygon(course.points[:, :2])) for course in courses if len(course.points) > 2
    ]
    return rings_of(union_all(outlines))


def of_hand(strokes: Iterable[tuple[str, Places, float]]) -> list[Places]:
    """Lines as they are left by strokes in their order.

    strokes: verb, points (N, 3) in mm and pressure, and width in mm. What rubs takes away the
    parts of lines drawn before it that lie within half its width.
    """
    left: list[Places] = []
    for verb, points, width in strokes:
        if verb != "rub":
            left.append(points)
            continue
        rubber = course_of(points, 0.0, False)
        places = points[:1, :2] if rubber is None else rubber.points[:, :2]
        left = [part for line in left for part in _rubbed(line, places, width / 2)]
    return left


def _rubbed(line: Places, places: Places, reach: float) -> list[Places]:
    low, high = places.min(0) - reach, places.max(0) + reach
    inside = (line[:, :2] >= low).all(1) & (line[:, :2] <= high).all(1)
    if not inside.any() and not _crosses(line, low, high):
        return [line]
    course = course_of(line, 0.0, False)
    if course is None:
        near = np.hypot(*(places - line[0, :2]).T).min() <= reach
        return [] if near else [line]
    # Its import takes long, and is not wanted where no line is rubbed.
    from scipy.spatial import cKDTree

    away = cKDTree(places).query(course.points[:, :2])[0]
    kept = away > reach
    ends = np.flatnonzero(np.diff(np.concatenate([[0], kept.astype(np.int8), [0]])))
    parts = [course.points[a:b] for a, b in zip(ends[::2], ends[1::2], strict=True)]
    return [part for part in parts if len(part) > 1]


def _crosses(line: Places, low: Places, high: Places) -> bool:
    """Whether a side of a line may go through a box."""
    before, after = line[:-1, :2], line[1:, :2]
    return bool(
        ((np.minimum(before, after) <= high) & (np.maximum(before, after) >= low)).all(1).any()
    )
