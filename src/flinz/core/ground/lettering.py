"""Lettering: words in a face, set as a trade sets them, as a figure."""

import math
from enum import StrEnum
from typing import Any

import numpy as np
from pydantic import Field
from shapely import Polygon, make_valid, union_all
from shapely.geometry.base import BaseGeometry

from flinz.core.dial import Choice, Dial, Switch
from flinz.core.ground.faces import WORDS, Face, Type
from flinz.core.ground.figure import FADED, Figure, Piece, Toned, rings_of
from flinz.core.ground.outlines import turned
from flinz.core.ground.strewing import Course, Places, course_of
from flinz.core.ground.typesetting import Line, lines_of
from flinz.core.scale import MM_PER_INCH
from flinz.core.shapes.filled import Ring, signed_area

MAX_WORDS = 2000
MM_PER_POINT = MM_PER_INCH / 72
# Letters on an arc of fewer degrees are set straight.
LEAST_ARC = 0.5
# A drawn line is taken so smooth before letters stand on it.
SMOOTH_MM = 6.0


class Measure(StrEnum):
    """What a size of type means."""

    CAPITALS = "capitals"
    POINTS = "points"


class Align(StrEnum):
    """Where lines begin."""

    LEFT = "left"
    CENTRE = "centre"
    RIGHT = "right"


class Case(StrEnum):
    """What is done to letters as typed."""

    TYPED = "typed"
    CAPITALS = "capitals"
    SMALL = "small"


class Over(StrEnum):
    """What fades as one."""

    ALL = "all"
    LINE = "line"
    LETTER = "letter"


def _mm(default: float, high: float, *, label: str, hint: str, **other: Any) -> Any:
    more: dict[str, Any] = {"ge": 0.0, "le": 200.0, "step": 0.05, "unit": "mm"} | other
    return Dial(default, high=high, label=label, hint=hint, **more)


class Lettering(Toned):
    """Words and how they are set. own: the id of a font that was brought; "" for none."""

    words: str = Field("Words", max_length=MAX_WORDS)
    own: str = Field("", pattern=r"^([0-9a-f]{64})?$")
    face: Face = Choice(Face.GROTESQUE_BOLD, label="Face", hint="How letters look", options=WORDS)
    measure: Measure = Choice(
        Measure.CAPITALS,
        label="Size by",
        hint="What is measured",
        options={
            Measure.CAPITALS: ("Capitals", "Their height, in mm"),
            Measure.POINTS: ("Points", "The body of the type"),
        },
    )
    size: float = _mm(
        12.0,
        80.0,
        ge=0.5,
        le=1000.0,
        step=0.1,
        low=2.0,
        label="Size",
        hint="Height of capitals",
        only_for={"measure": ["capitals"]},
    )
    points: float = Dial(
        48.0,
        ge=2.0,
        le=4000.0,
        low=6.0,
        high=300.0,
        step=1.0,
        unit="pt",
        label="Size",
        hint="Of the body; 72 points are an inch",
        only_for={"measure": ["points"]},
    )
    tracking: float = Dial(
        0.0,
        ge=-0.3,
        le=3.0,
        low=-0.1,
        high=0.6,
        step=0.005,
        unit="em",
        label="Tracking",
        hint="Added between letters",
        group="Spacing",
    )
    word_space: float = Dial(
        1.0,
        ge=0.0,
        le=10.0,
        low=0.4,
        high=3.0,
        step=0.05,
        unit="×",
        label="Between words",
        hint="Times what the face has",
        group="Spacing",
    )
    line: float = Dial(
        1.2,
        ge=0.2,
        le=6.0,
        low=0.7,
        high=2.5,
        step=0.02,
        unit="em",
        label="Line to line",
        hint="From one to the next",
        group="Spacing",
    )
    wrap: float = _mm(
        0.0,
        300.0,
        le=4000.0,
        step=1.0,
        label="Wrap at",
        hint="Lines no longer than this; 0 as typed",
        group="Spacing",
    )
    align: Align = Choice(
        Align.CENTRE,
        label="Lines",
        hint="Where they begin",
        options={
            Align.LEFT: ("From the left", "Ragged on the right"),
            Align.CENTRE: ("In the middle", "Ragged on both sides"),
            Align.RIGHT: ("To the right", "Ragged on the left"),
        },
    )
    arc: float = Dial(
        0.0,
        ge=-340.0,
        le=340.0,
        low=-180.0,
        high=180.0,
        step=1.0,
        unit="°",
        label="Arc",
        hint="Of the longest line: upwards, or below 0 down",
        group="Spacing",
    )
    on_line: bool = Switch(
        False,
        label="On a drawn line",
        hint="Follows what the hand drew on the sheet",
        group="Spacing",
    )
    case: Case = Choice(
        Case.TYPED,
        label="Case",
        hint="Of the letters",
        options={
            Case.TYPED: ("As typed", "Nothing is changed"),
            Case.CAPITALS: ("Capitals", "All of them"),
            Case.SMALL: ("Small", "No capitals"),
        },
    )
    filled: bool = Switch(True, label="Filled", hint="Off leaves their outline", group="Weight")
    heavier: float = _mm(
        0.0,
        2.0,
        ge=-20.0,
        low=-2.0,
        label="Heavier",
        hint="Letters grow; below 0 thinner",
        group="Weight",
    )
    outline: float = _mm(0.0, 5.0, label="Outline", hint="A line round each letter", group="Weight")
    apart: float = _mm(
        0.0, 5.0, label="Outline apart", hint="Paper between letter and line", group="Weight"
    )
    inline: float = _mm(
        0.0, 3.0, label="Inline", hint="A line of paper within each letter", group="Weight"
    )
    over: Over = Choice(
        Over.ALL,
        label="Fades across",
        hint="What fades as one",
        only_for=FADED,
        options={
            Over.ALL: ("All of it", "From its first letter to its last"),
            Over.LINE: ("Each line", "Each anew"),
            Over.LETTER: ("Each letter", "Each anew"),
        },
    )

    @property
    def as_set(self) -> str:
        """The words in their case, line ends as one character."""
        words = self.words.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
        if self.case == Case.TYPED:
            return words
        return words.upper() if self.case == Case.CAPITALS else words.lower()


# The middle of a letter's advance along its line, and its outlines.
Letter = tuple[float, list[Ring]]


def em_mm(lettering: Lettering, face: Type) -> float:
    """How large an em is, mm."""
    if lettering.measure == Measure.POINTS:
        return lettering.points * MM_PER_POINT
    return lettering.size / face.capital


def course_on(drawn: Places) -> Course | None:
    """A drawn line, (N, 3) x, y and pressure, smooth enough for letters; None for a mere point."""
    return course_of(drawn, SMOOTH_MM, False)


def figure_on(
    lettering: Lettering, face: Type, course: Course | None, paper: tuple[float, float]
) -> Figure:
    """Words on a line that was drawn on paper of that size, in its box; mm.

    course: None where there is none yet: the words stand as they are. The first line of words
    stands on it, others at their distance; what is longer goes straight on.
    """
    if course is None:
        return figure_of(lettering, face)
    em = em_mm(lettering, face)
    lines = lines_of(lettering.as_set, face, lettering.tracking, lettering.word_space, None)
    letters = []
    for number, line in enumerate(lines):
        below = number * lettering.line * em
        flat = _letters(line, face, em, 0.0, course.length, lettering)
        letters.append([_on_course(letter, course, below) for letter in flat])
    pieces = [
        Piece(_weighted(rings, lettering))
        for rings in _together([[rings for _, rings in line] for line in letters], lettering.over)
    ]
    return Figure(*paper, tuple(pieces))


def _on_course(letter: Letter, course: Course, below: float) -> Letter:
    """A letter that stands on a straight line from 0, upright, as it stands on a drawn one."""
    at, rings = letter
    held = min(course.length, max(0.0, at))
    places, ways = course.at(np.array([held]))
    (x, y, _), way = places[0], ways[0]
    across = np.array([-way[1], way[0]])
    foot = np.array([x, y]) + way * (at - held) + across * below
    turn = np.column_stack([way, across])
    return at, [(ring - (at, 0.0)) @ turn.T + foot for ring in rings]


def figure_of(lettering: Lettering, face: Type) -> Figure:
    """Words as a figure: its box holds the lines from their capitals to what goes below them.

    What hangs out of that, such as a swash, is still there. Without words there is nothing in it.
    """
    em = em_mm(lettering, face)
    wrap = lettering.wrap / em if lettering.wrap > 0 else None
    lines = lines_of(lettering.as_set, face, lettering.tracking, lettering.word_space, wrap)
    longest = max(line.length for line in lines)
    width = max(longest, wrap or 0.0, face.capital) * em
    high = face.capital * em
    height = high + face.below * em + (len(lines) - 1) * lettering.line * em
    letters = []
    for number, line in enumerate(lines):
        base = high + number * lettering.line * em
        letters.append(_letters(line, face, em, base, width, lettering))
    bent = abs(lettering.arc) >= LEAST_ARC
    if bent:
        letters = [_on_arc(each, width, longest * em, high, lettering.arc) for each in letters]
    pieces = [
        Piece(_weighted(rings, lettering))
        for rings in _together([[rings for _, rings in line] for line in letters], lettering.over)
    ]
    return _boxed(pieces, width, height) if bent else Figure(width, height, tuple(pieces))


def _together(lines: list[list[list[Ring]]], over: Over) -> list[list[Ring]]:
    """The rings of what fades as one, of letters in lines."""
    if over == Over.LETTER:
        return [letter for line in lines for letter in line]
    by_line = [[ring for letter in line for ring in letter] for line in lines]
    return by_line if over == Over.LINE else [[ring for line in by_line for ring in line]]


def _letters(
    line: Line, face: Type, em: float, base: float, width: float, lettering: Lettering
) -> list[Letter]:
    """Each glyph of a line as rings in mm, with the middle of its advance."""
    left = {Align.LEFT: 0.0, Align.CENTRE: 0.5, Align.RIGHT: 1.0}[lettering.align]
    start = left * (width - line.length * em)
    found = []
    for glyph in line.glyphs:
        at = np.array([start + (glyph.at + glyph.shift[0]) * em, base - glyph.shift[1] * em])
        rings = [ring * (em, -em) + at for ring in face.glyph(glyph.number)]
        found.append((start + (glyph.at + glyph.advance / 2) * em, rings))
    return found


def _on_arc(
    letters: list[Letter], width: float, longest: float, high: float, arc: float
) -> list[Letter]:
    """Letters turned about the middle of a circle on whose rim the first line stands, so that the
    longest line would cover the arc there.
    """
    radius = longest / math.radians(arc)
    middle = np.array([width / 2, high + radius])
    found = []
    for at, rings in letters:
        # Each stands upright at the middle of the line, and is turned to its place.
        angle = (at - width / 2) / radius
        to_middle = np.array([width / 2 - at, 0.0])
        found.append((at, [turned(ring + to_middle, -angle, middle) for ring in rings]))
    return found


def _weighted(rings: list[Ring], lettering: Lettering) -> tuple[Ring, ...]:
    """Letters made heavier, hollow, with a line round them or within."""
    is_plain = lettering.filled and not (lettering.outline or lettering.inline or lettering.heavier)
    if is_plain or not rings:
        return tuple(rings)
    shape = _shape(rings)
    if lettering.heavier:
        shape = shape.buffer(lettering.heavier)
    parts: list[BaseGeometry] = []
    if lettering.filled:
        inner = shape
        if lettering.inline > 0:
            deep = shape.buffer(-lettering.inline)
            inner = shape.difference(deep.difference(deep.buffer(-lettering.inline)))
        parts.append(inner)
    if lettering.outline > 0 or not lettering.filled:
        line = lettering.outline or 0.3
        near = shape.buffer(lettering.apart)
        parts.append(near.buffer(line).difference(near))
    return rings_of(union_all(parts))


def _shape(rings: list[Ring]) -> BaseGeometry:
    """What rings enclose: those that run one way add, those that run the other take away."""
    polygons = [make_valid(Polygon(ring)) for ring in rings]
    ways = [signed_area(ring) for ring in rings]
    most = max(ways, key=abs, default=1.0)
    added = union_all([each for each, way in zip(polygons, ways, strict=True) if way * most > 0])
    taken = union_all([each for each, way in zip(polygons, ways, strict=True) if way * most < 0])
    return added.difference(taken)


def _boxed(pieces: list[Piece], width: float, height: float) -> Figure:
    """Pieces in a box just as large as they are."""
    corners = [ring for piece in pieces for ring in piece.rings]
    if not corners:
        return Figure(width, height, tuple(pieces))
    low = np.min([ring.min(0) for ring in corners], 0)
    high = np.max([ring.max(0) for ring in corners], 0)
    moved = tuple(Piece(tuple(ring - low for ring in piece.rings)) for piece in pieces)
    size = high - low
    return Figure(float(size[0]), float(size[1]), moved)
