"""The shapes of a traced sheet by their numbers, and parts of them that were shapes before."""

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.trace.changes import ShapeChange
from flinz.core.trace.refitting import GRID_MM, pieces_of, refitted, united
from flinz.core.trace.tracing import TraceWish, Tracing

# Pieces of a curve where shapes are joined and cut.
FINE = 16
# What is left of a shape by others is no shape below this, mm².
LEAST_MM2 = 1e-3

Colour = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Lot:
    """The shapes of a plate in one of its colours, lightest first, or its bare paper."""

    plate: str
    number: int
    tracing: Tracing
    colour: Colour
    is_white: bool = False

    @cached_property
    def polygons(self) -> list[shapely.Polygon]:
        """Each shape, as shapes are known again."""
        return self.tracing.polygons()

    @cached_property
    def parted(self) -> dict[Hashable, Any]:
        """What was found of parts of its shapes, and of what is left of them."""
        return {}


# The number of a lot, and of a shape in it; after all lots come parts of shapes.
Member = tuple[int, int]


def first_numbers(lots: Sequence[Lot]) -> NDArray[np.int64]:
    """(L + 1,) the numbers that the shapes of each lot begin with, where all are numbered."""
    return np.cumsum([0, *(len(lot.tracing) for lot in lots)])


@dataclass
class Editing:
    """What one run of changes knows: shapes by their numbers, without what was parted from them."""

    lots: Sequence[Lot]
    changes: Sequence[ShapeChange]
    ways: Mapping[str, NDArray[np.float64]]
    wish: TraceWish
    paper: Colour
    plates: dict[str, int] = field(default_factory=dict)
    # Parts of shapes that were shapes by themselves: of which, and what it is.
    parts: list[tuple[Member, list[shapely.Polygon]]] = field(default_factory=list)

    def __post_init__(self) -> None:
        for lot in self.lots:
            self.plates.setdefault(lot.plate, len(self.plates))

    @cached_property
    def opened(self) -> dict[Member, list[int]]:
        """The shapes that have parts, and which; once all parts are known."""
        found: dict[Member, list[int]] = {}
        for number, (member, _) in enumerate(self.parts):
            found.setdefault(member, []).append(number)
        return found

    def lot_of(self, member: Member) -> int:
        """The number of the lot that a shape or a part is of."""
        return member[0] if member[0] < len(self.lots) else self.parts[member[1]][0][0]

    def traced(self, member: Member) -> Tracing:
        """A shape without its parts, or a part."""
        at, shape = member
        if at == len(self.lots):
            (at, shape), polygons = self.parts[shape]
            return self._kept(at, polygons, lambda: refitted(polygons, self.wish))
        parts = [self.parts[number][1] for number in self.opened.get(member, [])]
        if not parts:
            return self.lots[at].tracing.some([shape])

        def left() -> Tracing:
            whole = united(self.lots[at].tracing.some([shape]).polygons(FINE))
            gone = united([each for polygons in parts for each in polygons])
            pieces = shapely.difference(whole, gone, grid_size=GRID_MM)
            return refitted(pieces_of(pieces, LEAST_MM2), self.wish)

        return self._kept(at, [each for polygons in parts for each in polygons], left, shape)

    def _kept(
        self,
        at: int,
        polygons: list[shapely.Polygon],
        make: Callable[[], Tracing],
        of: int | None = None,
    ) -> Tracing:
        # Another thing done to the same sheet shall not fit the same outlines again.
        key = of, tuple(each.wkb for each in polygons), self.wish.model_dump_json()
        known = self.lots[at].parted
        if key not in known:
            known[key] = make()
        found: Tracing = known[key]
        return found
