"""What one does to chosen shapes, as changes that are kept with the sheet."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.trace.changes import (
    MAX_CHANGES,
    MAX_JOINED,
    ShapeChange,
    Way,
    composed,
    matrix,
    part_of,
)
from flinz.core.trace.editing import Edited, EditedShape
from flinz.core.trace.lots import Lot, Member, first_numbers
from flinz.errors import DocumentError

MAX_CHOSEN = 20_000
# Each time that shapes are made simpler their outlines may stray so many times farther, up to, mm.
SIMPLER, LOOSEST_MM = 2.0, 10.0

Verb = Literal[
    "colour",
    "lay",
    "hide",
    "show",
    "delete",
    "front",
    "back",
    "join",
    "part",
    "cut",
    "simplify",
    "restore",
    "forget",
]

# What is said of each in the history.
SAID: dict[Verb, str] = {
    "colour": "recoloured",
    "lay": "moved",
    "hide": "hidden",
    "show": "shown",
    "delete": "deleted",
    "front": "brought to the front",
    "back": "put behind the others",
    "join": "joined",
    "part": "parted",
    "cut": "cut out of what is beneath",
    "simplify": "made simpler",
    "restore": "as traced again",
}


class Act(Settings):
    """Something done to chosen shapes.

    shapes: their numbers, through all lots, first what was chosen first. colour: for that verb, or
    None for their own. way: from places on the sheet to places on it, mm, to lay them. forget:
    what finds no shape any more is dropped.
    """

    verb: Verb
    shapes: list[Annotated[int, Field(ge=0)]] = Field(default=[], max_length=MAX_CHOSEN)
    colour: str | None = Field(None, pattern=r"^#[0-9a-fA-F]{6}$")
    way: Way | None = None

    @property
    def words(self) -> str:
        """What was done, as the history says it."""
        if self.verb == "forget":
            return "Shapes: lost changes dropped"
        many = len(self.shapes)
        return f"{many} shape{'' if many == 1 else 's'} {SAID[self.verb]}"


def acted(
    lots: Sequence[Lot],
    ways: Mapping[str, NDArray[np.float64]],
    changes: Sequence[ShapeChange],
    found: Edited,
    act: Act,
    closeness_mm: float,
) -> list[ShapeChange]:
    """Changes with one thing more done. found: what they come to now.

    Raises DocumentError for shapes that are not there, and for more changes than a sheet holds.
    """
    if act.verb == "forget":
        return _without(changes, set(found.lost))
    doing = _Doing(lots, ways, list(changes), found, closeness_mm)
    chosen = doing.chosen(act.shapes)
    if act.verb == "join":
        doing.join(chosen)
    else:
        for number in chosen:
            doing.do(number, act)
    left = [each for each in doing.all.values() if not each.says_nothing]
    if len(left) > MAX_CHANGES:
        raise DocumentError(
            f"That would be {len(left):,} changed shapes; a sheet holds {MAX_CHANGES:,}. "
            "Leave small shapes out by their size instead."
        )
    return left


def _without(changes: Sequence[ShapeChange], lost: set[tuple[int, int]]) -> list[ShapeChange]:
    left = []
    for number, change in enumerate(changes):
        parts = [part for k, part in enumerate(change.of) if (number, k) not in lost]
        if parts:
            left.append(change.model_copy(update={"of": parts}))
    return left


class _Doing:
    """Does one act. all: changes by their numbers."""

    def __init__(
        self,
        lots: Sequence[Lot],
        ways: Mapping[str, NDArray[np.float64]],
        changes: list[ShapeChange],
        found: Edited,
        closeness_mm: float,
    ) -> None:
        self._lots, self._ways, self._found = lots, ways, found
        self._closeness = closeness_mm
        self._next = len(changes)
        self.all = dict(enumerate(changes))
        self._by_member: dict[Member, EditedShape] = {
            member: shape for shape in found.shapes for member in shape.members
        }

    def chosen(self, shapes: Sequence[int]) -> list[int]:
        """The numbers of the changes of some shapes, each once; new ones for what has none."""
        first = first_numbers(self._lots)
        numbers: dict[int, None] = {}
        for shape in shapes:
            # Beyond those of all lots there are parts of shapes.
            at = int(np.searchsorted(first, shape, "right")) - 1
            member = at, int(shape - first[at])
            known = self._by_member.get(member)
            if known is None and at == len(self._lots):
                raise DocumentError("A chosen shape is not in this tracing. Choose again.")
            number = None if known is None else known.change
            if number is None:
                number = self._new(member)
            numbers[number] = None
        return list(numbers)

    def do(self, number: int, act: Act) -> None:
        """Do it to the shape of one change."""
        change = self.all[number]
        if act.verb == "lay":
            parts = [
                part.model_copy(update={"way": self._way(part.plate, act.way, part.way)})
                for part in change.of
            ]
            self.all[number] = change.model_copy(update={"of": parts})
        elif act.verb == "part":
            if len(change.of) > 1:
                del self.all[number]
                for part in change.of:
                    self._add(change.model_copy(update={"of": [part]}))
        elif act.verb == "restore":
            del self.all[number]
        else:
            self.all[number] = change.model_copy(update=self._update(change, act))

    def join(self, chosen: list[int]) -> None:
        """Make several shapes one, which is as the first chosen one is."""
        if len(chosen) < 2:
            return
        lots = [self.all.pop(number) for number in chosen]
        parts = [part for change in lots for part in change.of]
        if len(parts) > MAX_JOINED:
            raise DocumentError(
                f"{len(parts):,} shapes are too many to be joined as one; up to {MAX_JOINED:,} are."
            )
        colour = next((each.colour for each in lots if each.colour is not None), None)
        self._add(lots[0].model_copy(update={"of": parts, "colour": lots[0].colour or colour}))

    def _update(self, change: ShapeChange, act: Act) -> dict[str, object]:
        if act.verb == "colour":
            return {"colour": act.colour}
        if act.verb in ("hide", "show", "delete"):
            return {"gone": {"hide": "hidden", "show": "", "delete": "deleted"}[act.verb]}
        if act.verb == "cut":
            return {"cuts": not change.cuts}
        if act.verb == "simplify":
            before = max(change.looser or 0.0, self._closeness)
            return {"looser": min(LOOSEST_MM, before * SIMPLER)}
        plate = change.of[0].plate
        beside = (each for each in self.all.values() if each.of[0].plate == plate)
        places = [0, *(each.forward for each in beside)]
        return {"forward": max(places) + 1 if act.verb == "front" else min(places) - 1}

    def _new(self, member: Member) -> int:
        at, shape = member
        lot = self._lots[at]
        back = np.linalg.inv(np.vstack([self._ways[lot.plate], [0, 0, 1]]))[:2]
        part = part_of(lot.polygons[shape], back, lot.plate, lot.number, lot.is_white)
        return self._add(ShapeChange(of=[part]))

    def _add(self, change: ShapeChange) -> int:
        self._next += 1
        self.all[self._next] = change
        return self._next

    def _way(self, plate: str, way: Way | None, before: Way | None) -> Way | None:
        """A way on the sheet as one of places of a plate, after another."""
        if way is None:
            return before
        forth = np.vstack([self._ways[plate], [0, 0, 1]])
        own = np.linalg.inv(forth) @ matrix(way) @ forth
        return composed(own[:2].ravel().round(9).tolist(), before)
