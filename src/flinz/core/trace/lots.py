"""The shapes of a traced sheet by their numbers, and parts of them that were shapes before."""

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, TypeVar

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
T = TypeVar("T")


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
    def _found(self) -> dict[Hashable, Any]:
        return {}

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What is found of its shapes under a key: another thing done to the sheet asks again."""
        if key not in self._found:
            self._found[key] = make()
        found: T = self._found[key]
        return found


# The number of a lot, and of a shape in it; after all lots come parts of shapes.
Member = tuple[int, int]


def first_numbers(lots: Sequence[Lot]) -> NDArray[np.int64]:
    """(L + 1,) the numbers that the shapes of each lot begin with, where all are numbered."""
    return np.cumsum([0, *(len(lot.tracing) for lot in lots)])


@dataclass
class Editing:
    """What one run of changes knows: which shapes there are, and parts of them."""

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
            (at, _), polygons = self.parts[shape]
            return self.lots[at].once(
                self._key("part", polygons), lambda: refitted(polygons, self.wish)
            )
        lot = self.lots[at]
        parts = [each for k in self.opened.get(member, []) for each in self.parts[k][1]]
        if not parts:
            return lot.tracing.some([shape])

        def left() -> Tracing:
            whole = united(lot.tracing.some([shape]).polygons(FINE))
            pieces = shapely.difference(whole, united(parts), grid_size=GRID_MM)
            return refitted(pieces_of(pieces, LEAST_MM2), self.wish)

        return lot.once(self._key(shape, parts), left)

    def _key(self, of: Hashable, polygons: list[shapely.Polygon]) -> Hashable:
        return of, tuple(each.wkb for each in polygons), self.wish.said
