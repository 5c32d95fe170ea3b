"""Marks as vectors, in millimetres on paper: dots and strokes."""

import math
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from flinz.core.scale import Lay

Column = NDArray[np.float32]


class Shape(StrEnum):
    """The shape of a dot."""

    ROUND = "round"
    DASH = "dash"
    RING = "ring"
    SQUARE = "square"
    LEAF = "leaf"
    DIAMOND = "diamond"


def _none() -> Column:
    return np.zeros(0, np.float32)


@dataclass(frozen=True, eq=False)
class Strokes:
    """Polylines with a width that varies along them, round at their ends.

    x, y, width: (P,) float32 mm, all strokes one after the other. first: (N + 1,) int64, where
    each stroke begins; stroke k is first[k]..first[k + 1].
    """

    x: Column
    y: Column
    width: Column
    first: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.first) - 1

    @property
    def points(self) -> NDArray[np.int64]:
        """(N,) how many points each stroke has."""
        return np.diff(self.first)

    def with_width(self, width: Column) -> "Strokes":
        """The same lines with other widths."""
        return Strokes(self.x, self.y, width, self.first)

    def laid(self, lay: Lay) -> "Strokes":
        """Strokes of a box where they lie on the paper."""
        x, y = _moved(self.x, self.y, lay)
        return Strokes(x, y, self.width * np.float32(lay.scale), self.first)

    def scaled(self, factor: float) -> "Strokes":
        """The same strokes in another unit."""
        by = np.float32(factor)
        return Strokes(self.x * by, self.y * by, self.width * by, self.first)


@dataclass(frozen=True, eq=False)
class Dots:
    """Dots of one shape: x, y, radius, each (N,) float32 in mm from the sheet's top left corner.

    radius: of the circle with the dot's reach. angle: (N,) radians, counter-clockwise from the x
    axis, for shapes that have a direction; empty for none. blob: 0 drawn with a compass, 1 with a
    worn pen; each dot has its own outline, by its own number. own: (N,) these numbers 0..1; empty
    for those that go with its place. mirrored: whether outlines are seen from behind. necks: ink
    between dots where the paper would be too narrow to print; no marks of their own.
    """

    x: Column
    y: Column
    radius: Column
    angle: Column = field(default_factory=_none)
    shape: Shape = Shape.ROUND
    blob: float = 0.0
    necks: Strokes = field(default_factory=lambda: joined([]))
    own: Column = field(default_factory=_none)
    mirrored: bool = False

    def __len__(self) -> int:
        return len(self.x)

    @property
    def numbers(self) -> Column:
        """(N,) a number 0..1 for each dot, which decides its outline."""
        if len(self.own):
            return self.own
        x, y = self.x * np.float32(127.1), self.y * np.float32(311.7)
        mixed = np.sin(x + y) * np.float32(43758.547)
        return np.asarray(mixed - np.floor(mixed), np.float32)

    def laid(self, lay: Lay) -> "Dots":
        """Dots of a box where they lie on the paper, their outlines with them."""
        x, y = _moved(self.x, self.y, lay)
        angle = self.angle if len(self.angle) else np.zeros(len(self), np.float32)
        angle = np.float32(math.radians(lay.turn)) + (-angle if lay.mirrored else angle)
        return Dots(
            x,
            y,
            self.radius * np.float32(lay.scale),
            np.asarray(angle, np.float32),
            self.shape,
            self.blob,
            self.necks.laid(lay),
            self.numbers,
            self.mirrored != lay.mirrored,
        )


def _moved(x: Column, y: Column, lay: Lay) -> tuple[Column, Column]:
    by = lay.to_paper
    across, down = (row[0] * x + row[1] * y + row[2] for row in by)
    return across.astype(np.float32), down.astype(np.float32)


def joined(parts: list[Strokes]) -> Strokes:
    """All strokes of several lots, in their order."""
    if not parts:
        return Strokes(_none(), _none(), _none(), np.zeros(1, np.int64))
    starts = np.cumsum([0, *(len(part.x) for part in parts)])
    first = [part.first[:-1] + start for part, start in zip(parts, starts, strict=False)]
    return Strokes(
        np.concatenate([part.x for part in parts]),
        np.concatenate([part.y for part in parts]),
        np.concatenate([part.width for part in parts]),
        np.concatenate([*first, starts[-1:]]).astype(np.int64),
    )
