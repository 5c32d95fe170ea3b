"""What vector files are made of: filled outlines, lines of one width, pictures."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Content, Greys, Item, Text
from flinz.core.deliver.rounds import parted
from flinz.core.marks.masked import some_dots, some_strokes
from flinz.core.marks.outlines import (
    WORN,
    WORN_AREA,
    dot_rings,
    of_one_width,
    plainer,
    polygons,
    stroke_rings,
)
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.trace.tracing import Tracing, straight

# Widths are told in steps of this, so that many marks share one, mm.
WIDTH_STEP = 0.005
# How far a line may be from the one it stands for, mm.
WITHIN_MM = 0.008
# A worn dot whose outline leaves its circle by less is a circle of the same area, mm.
WORN_MM = 0.03
# Of filled marks so many are said at once.
AT_ONCE = 2000


@dataclass(frozen=True, eq=False)
class Filled:
    """Closed outlines filled by the nonzero rule: curves (S, 8) mm, and where rings begin."""

    curves: NDArray[np.float64]
    first: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Lines:
    """Lines of one width, mm, round at ends and turns: points (P, 2), and where each begins. A
    line of one point is a round dot.
    """

    width: float
    points: NDArray[np.float64]
    first: NDArray[np.int64]


# Greys are a picture of the whole sheet.
Primitive = Filled | Lines | Greys | Text


def primitives(content: Content) -> Iterator[Primitive]:
    """What says a content, in few large lots; marks by their sizes, small ones first."""
    if isinstance(content, Tracing):
        if len(content):
            yield Filled(content.curves, content.first)
    elif isinstance(content, Dots):
        yield from _dots(content)
        if len(content.necks):
            # Their ends lie within dots.
            yield from _strokes(content.necks, round_ends=False)
    elif isinstance(content, Strokes):
        yield from _strokes(content)
    elif isinstance(content, Greys | Text):
        yield content


def contents_of(item: Item) -> tuple[Content, ...]:
    """What an item leaves as: where its shapes are round, as dots, and what is left of it."""
    if item.rounds and item.reach == 0 and isinstance(item.content, Tracing):
        return parted(item.content)
    return (item.content,)


def of_items(items: list[Item]) -> Iterator[tuple[Item, Primitive]]:
    """All that items come to, in order."""
    for item in items:
        for content in contents_of(item):
            for primitive in primitives(content):
                yield item, primitive


def ring_words(curves: NDArray[np.float64], first: NDArray[np.int64]) -> Iterator[str]:
    """Closed rings in the words of PDF, which EPS is taught: m, l, c and h."""
    is_line, points = straight(curves).tolist(), curves.round(3).tolist()
    for low, high in zip(first[:-1].tolist(), first[1:].tolist(), strict=True):
        words = [f"{points[low][0]:g} {points[low][1]:g} m"]
        for k in range(low, high):
            _, _, *rest = points[k]
            if not is_line[k]:
                words.append(" ".join([f"{value:g}" for value in rest]) + " c")
            # The last line is drawn by closing.
            elif k < high - 1:
                words.append(f"{rest[4]:g} {rest[5]:g} l")
        yield "\n".join([*words, "h\n"])


def _stepped(widths: NDArray[np.float32]) -> NDArray[np.int64]:
    steps: NDArray[np.int64] = np.maximum(np.rint(widths / WIDTH_STEP), 1).astype(np.int64)
    return steps


def _dots(dots: Dots) -> Iterator[Primitive]:
    if dots.shape == Shape.ROUND:
        is_circle = dots.radius * (dots.blob * WORN) <= WORN_MM
        round_dots, dots = some_dots(dots, is_circle), some_dots(dots, ~is_circle)
        # Bulges add to the area of their circle.
        grown = math.sqrt(1 + dots.blob**2 * WORN_AREA)
        yield from _circles(replace(round_dots, radius=round_dots.radius * np.float32(grown)))
    if len(dots):
        (curves, first), _ = dot_rings(dots)
        yield from _in_lots(curves, first)


def _circles(dots: Dots) -> Iterator[Lines]:
    if len(dots):
        steps = _stepped(2 * dots.radius)
        for step in np.unique(steps):
            which = steps == step
            points = np.column_stack([dots.x[which], dots.y[which]]).astype(np.float64)
            yield Lines(step * WIDTH_STEP, points, np.arange(len(points) + 1, dtype=np.int64))


def _strokes(strokes: Strokes, round_ends: bool = True) -> Iterator[Primitive]:
    strokes = plainer(strokes, WITHIN_MM)
    strokes = some_strokes(strokes, strokes.points > 0)
    if not len(strokes):
        return
    even = of_one_width(strokes) & round_ends
    lines = some_strokes(strokes, even)
    steps = _stepped(lines.width[lines.first[:-1] + lines.points // 2])
    for step in np.unique(steps):
        some = some_strokes(lines, steps == step)
        points = np.column_stack([some.x, some.y]).astype(np.float64)
        yield Lines(step * WIDTH_STEP, points, some.first)
    swelling = some_strokes(strokes, ~even)
    if len(swelling):
        corners, first = stroke_rings(swelling, round_ends)
        yield from _in_lots(polygons(corners, first), first)


def _in_lots(curves: NDArray[np.float64], first: NDArray[np.int64]) -> Iterator[Filled]:
    for low in range(0, len(first) - 1, AT_ONCE):
        bounds = first[low : low + AT_ONCE + 1]
        yield Filled(curves[bounds[0] : bounds[-1]], bounds - bounds[0])
