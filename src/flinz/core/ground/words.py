"""Words set as lettering says: where each letter stands, straight, on an arc or on a drawn line."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon, make_valid, union_all
from shapely.geometry.base import BaseGeometry

from flinz.core.ground.faces import Type
from flinz.core.ground.figure import Figure, Piece, rings_of
from flinz.core.ground.lettering import Align, Lettering, Measure, Over
from flinz.core.ground.strewing import Course, Places, course_of
from flinz.core.ground.typesetting import Line, lines_of
from flinz.core.scale import MM_PER_INCH
from flinz.core.shapes.filled import Ring, signed_area

MM_PER_POINT = MM_PER_INCH / 72
# Letters on an arc of fewer degrees are set straight.
LEAST_ARC = 0.5
# A drawn line is taken so smooth before letters stand on it.
SMOOTH_MM = 6.0

# (2, 3): from places, their columns x, y and 1, to places.
Way = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Letter:
    """A glyph where it stands. text: the characters that it stands for; "" for what goes with the
    letter before it. way: from its place in ems, y upwards, to mm, y downwards.
    """

    glyph: int
    text: str
    way: Way

    def then(self, way: Way) -> "Letter":
        """It, where that lies which it stands in."""
        own = way[:, :2] @ self.way
        own[:, 2] += way[:, 2]
        return replace(self, way=own)

    def rings(self, face: Type) -> list[Ring]:
        """Its outlines, mm."""
        return [ring @ self.way[:, :2].T + self.way[:, 2] for ring in face.glyph(self.glyph)]


@dataclass(frozen=True, eq=False)
class LineOfWords:
    """A line: its text, and its letters from left to right."""

    text: str
    letters: tuple[Letter, ...]


@dataclass(frozen=True, eq=False)
class Words:
    """Lines of words in a box of width x height, mm. is_straight: not on an arc or a drawn line."""

    width: float
    height: float
    lines: tuple[LineOfWords, ...]
    is_straight: bool = True

    def then(self, way: Way) -> "Words":
        """They, where their box lies."""
        lines = [
            replace(line, letters=tuple(each.then(way) for each in line.letters))
            for line in self.lines
        ]
        return replace(self, lines=tuple(lines))


def em_mm(lettering: Lettering, face: Type) -> float:
    """How large an em is, mm."""
    if lettering.measure == Measure.POINTS:
        return lettering.points * MM_PER_POINT
    return lettering.size / face.capital


def course_on(drawn: Places) -> Course | None:
    """A drawn line, (N, 3) x, y and pressure, smooth enough for letters; None for a mere point."""
    return course_of(drawn, SMOOTH_MM, False)


def words_on(
    lettering: Lettering, face: Type, course: Course | None, paper: tuple[float, float]
) -> Words:
    """Words on a line that was drawn on paper of that size, in its box; mm.

    course: None where there is none yet: the words stand as they are. The first line of words
    stands on it, others at their distance; what is longer goes straight on.
    """
    if course is None:
        return words_of(lettering, face)
    em = em_mm(lettering, face)
    lines = []
    for number, line in enumerate(_set(lettering, face, None)):
        start = _start(line, em, course.length, lettering)
        base = number * lettering.line * em

        def on_course(at: float, base: float = base) -> Way:
            return _on_course(at, course, base)

        lines.append(_placed(line, em, start, 0.0, on_course))
    return Words(*paper, tuple(lines), is_straight=False)


def words_of(lettering: Lettering, face: Type) -> Words:
    """Words in a box that holds the lines from their capitals to what goes below them.

    What hangs out of that, such as a swash, is still there; on an arc the box is as large as they
    are. Without words there is nothing in it.
    """
    em = em_mm(lettering, face)
    wrap = lettering.wrap / em if lettering.wrap > 0 else None
    lines = _set(lettering, face, wrap)
    longest = max(line.length for line in lines)
    width = max(longest, wrap or 0.0, face.capital) * em
    high = face.capital * em
    height = high + face.below * em + (len(lines) - 1) * lettering.line * em
    is_bent = abs(lettering.arc) >= LEAST_ARC

    def on_arc(at: float) -> Way:
        return _on_arc(at, width, longest * em, high, lettering.arc)

    found = []
    for number, line in enumerate(lines):
        base = high + number * lettering.line * em
        start = _start(line, em, width, lettering)
        found.append(_placed(line, em, start, base, on_arc if is_bent else None))
    words = Words(width, height, tuple(found), not is_bent)
    return _boxed(words, face) if is_bent else words


def figure_of(words: Words, lettering: Lettering, face: Type) -> Figure:
    """Words as a figure: their outlines in what weight they are to have."""
    letters = [[each.rings(face) for each in line.letters] for line in words.lines]
    pieces = [Piece(_weighted(rings, lettering)) for rings in _together(letters, lettering.over)]
    return Figure(words.width, words.height, tuple(pieces))


def _set(lettering: Lettering, face: Type, wrap: float | None) -> list[Line]:
    return lines_of(lettering.as_set, face, lettering.tracking, lettering.word_space, wrap)


def _start(line: Line, em: float, width: float, lettering: Lettering) -> float:
    left = {Align.LEFT: 0.0, Align.CENTRE: 0.5, Align.RIGHT: 1.0}[lettering.align]
    return left * (width - line.length * em)


def _placed(
    line: Line, em: float, start: float, base: float, bent: Callable[[float], Way] | None
) -> LineOfWords:
    """A line's letters from start on, on a base. bent: from places on the straight line to where
    they stand, by the middle of a letter's advance.
    """
    letters = []
    for glyph in line.glyphs:
        x, y = start + (glyph.at + glyph.shift[0]) * em, base - glyph.shift[1] * em
        letter = Letter(glyph.number, glyph.text, np.array([[em, 0.0, x], [0.0, -em, y]]))
        if bent is not None:
            letter = letter.then(bent(start + (glyph.at + glyph.advance / 2) * em))
        letters.append(letter)
    return LineOfWords(line.text, tuple(letters))


def _on_course(at: float, course: Course, below: float) -> Way:
    """Where a letter stands on a drawn line that stands upright at a place on a straight one."""
    held = min(course.length, max(0.0, at))
    places, ways = course.at(np.array([held]))
    (x, y, _), way = places[0], ways[0]
    across = np.array([-way[1], way[0]])
    foot = np.array([x, y]) + way * (at - held) + across * below
    turn = np.column_stack([way, across])
    return np.column_stack([turn, foot - turn @ (at, 0.0)])


def _on_arc(at: float, width: float, longest: float, high: float, arc: float) -> Way:
    """Where a letter stands that is turned about the middle of a circle on whose rim the first line
    stands, so that the longest line would cover the arc there.
    """
    radius = longest / math.radians(arc)
    middle = np.array([width / 2, high + radius])
    # Each stands upright at the middle of the line, and is turned to its place.
    angle = (at - width / 2) / radius
    cosine, sine = math.cos(angle), math.sin(angle)
    turn = np.array([[cosine, -sine], [sine, cosine]])
    to_middle = np.array([width / 2 - at, 0.0])
    return np.column_stack([turn, middle + turn @ (to_middle - middle)])


def _together(lines: list[list[list[Ring]]], over: Over) -> list[list[Ring]]:
    """The rings of what fades as one, of letters in lines."""
    if over == Over.LETTER:
        return [letter for line in lines for letter in line]
    by_line = [[ring for letter in line for ring in letter] for line in lines]
    return by_line if over == Over.LINE else [[ring for line in by_line for ring in line]]


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


def _boxed(words: Words, face: Type) -> Words:
    """Words in a box just as large as they are."""
    rings = [ring for line in words.lines for each in line.letters for ring in each.rings(face)]
    if not rings:
        return words
    low = np.min([ring.min(0) for ring in rings], 0)
    width, height = np.max([ring.max(0) for ring in rings], 0) - low
    moved = words.then(np.column_stack([np.eye(2), -low]))
    return replace(moved, width=float(width), height=float(height))
