"""Marks as vectors, in millimetres on paper: dots and strokes."""

from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

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
    def nbytes(self) -> int:
        """Memory held."""
        return int(3 * self.x.nbytes + self.first.nbytes)

    @property
    def points(self) -> NDArray[np.int64]:
        """(N,) how many points each stroke has."""
        return np.diff(self.first)

    def with_width(self, width: Column) -> "Strokes":
        """The same lines with other widths."""
        return Strokes(self.x, self.y, width, self.first)

    def scaled(self, factor: float) -> "Strokes":
        """The same strokes in another unit."""
        by = np.float32(factor)
        return Strokes(self.x * by, self.y * by, self.width * by, self.first)


@dataclass(frozen=True, eq=False)
class Dots:
    """Dots of one shape: x, y, radius, each (N,) float32 in mm from the sheet's top left corner.

    radius: of the circle with the dot's reach. angle: (N,) radians, counter-clockwise from the x
    axis, for shapes that have a direction; empty for none. blob: 0 drawn with a compass, 1 with a
    worn pen; each dot has its own outline, fixed by its place. necks: ink between dots where the
    paper would be too narrow to print; no marks of their own.
    """

    x: Column
    y: Column
    radius: Column
    angle: Column = field(default_factory=_none)
    shape: Shape = Shape.ROUND
    blob: float = 0.0
    necks: Strokes = field(default_factory=lambda: joined([]))

    def __len__(self) -> int:
        return len(self.x)

    @property
    def nbytes(self) -> int:
        """Memory held."""
        own = self.x.nbytes + self.y.nbytes + self.radius.nbytes + self.angle.nbytes
        return int(own + self.necks.nbytes)


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
