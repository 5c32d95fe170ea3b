"""Shapes as they were changed: found again in a tracing, joined, moved, cut out, drawn looser."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.trace.changes import ShapeChange, Way, matrix
from flinz.core.trace.lots import FINE, LEAST_MM2, Colour, Editing, Lot, Member
from flinz.core.trace.parting import part_that_was
from flinz.core.trace.recognising import Known, recognised
from flinz.core.trace.refitting import GRID_MM, pieces_of, refitted, united
from flinz.core.trace.tracing import TraceWish, Tracing


@dataclass(frozen=True, eq=False)
class EditedShape:
    """A shape that is otherwise than it was traced. members: what it is made of; change: by which,
    None where it is only cut. lot: whose ink it has, or paper. order: later ones are printed over
    earlier ones. is_bare: it is the paper that shows there, and prints nothing. is_white: it is
    made of bare paper alone.
    """

    members: tuple[Member, ...]
    tracing: Tracing
    colour: Colour
    plate: str
    lot: int
    order: tuple[int, ...]
    change: int | None = None
    gone: str = ""
    is_bare: bool = False
    is_white: bool = False

    @property
    def is_printed(self) -> bool:
        """Whether anything of it leaves."""
        return not self.gone and not self.is_bare and len(self.tracing) > 0


@dataclass(frozen=True, eq=False)
class Edited:
    """Shapes that are otherwise, in the order that they print. lost: of changes, by number, the
    parts that are not there any more.
    """

    shapes: list[EditedShape]
    lost: list[tuple[int, int]]

    @cached_property
    def members(self) -> set[Member]:
        """What is drawn by these, and no longer by itself."""
        return {member for shape in self.shapes for member in shape.members}


def edited(
    lots: Sequence[Lot],
    changes: Sequence[ShapeChange],
    ways: Mapping[str, NDArray[np.float64]],
    wish: TraceWish,
    paper: Colour = (1.0, 1.0, 1.0),
) -> Edited:
    """Lots of shapes with changes made to them.

    ways: by plate, (2, 3) from the places of parts, in long edges, to mm on the sheet. lots are in
    the order that they print, whites of a plate before its inks. paper: what is moved of it.
    """
    run = Editing(lots, changes, ways, wish, paper)
    found: list[EditedShape] = []
    members, lost = _recognised(run)
    for number, own in members.items():
        if len(changes[number].of) > 1:
            found.append(_joined(run, number, own))
        else:
            found += [_single(run, number, each) for each in own]
    changed = {member for shape in found for member in shape.members}
    for at, shape in run.opened:
        if (at, shape) not in changed:
            lot = run.lots[at]
            order = run.plates[lot.plate], 0, at, 0
            found.append(
                EditedShape(
                    ((at, shape),),
                    run.traced((at, shape)),
                    lot.colour,
                    lot.plate,
                    at,
                    order,
                    is_bare=lot.is_white,
                    is_white=lot.is_white,
                )
            )
    return Edited(_cut(run, sorted(found, key=lambda each: each.order)), lost)


# A member with the way that it went.
Went = tuple[Member, Way | None]


def _recognised(run: Editing) -> tuple[dict[int, list[Went]], list[tuple[int, int]]]:
    """By change, the shapes that it is about now; and the parts that are none."""
    asked: dict[tuple[str, int, bool], list[tuple[int, int]]] = {}
    for number, change in enumerate(run.changes):
        for k, part in enumerate(change.of):
            asked.setdefault((part.plate, part.lot, part.is_white), []).append((number, k))
    found: dict[int, list[Went]] = {}
    lost = {each for parts in asked.values() for each in parts}
    for at, lot in enumerate(run.lots):
        parts = asked.get((lot.plate, lot.number, lot.is_white), [])
        if not parts:
            continue
        way = run.ways[lot.plate]
        size = abs(float(np.linalg.det(way[:, :2])))
        known = []
        for number, k in parts:
            part = run.changes[number].of[k]
            known.append(Known(part.points @ way[:, :2].T + way[:, 2], part.area * size))
        now = recognised(known, lot.polygons)
        places = {each: number for number, each in enumerate(parts)}
        owner: dict[int, int] = {}
        for (number, k), each in zip(parts, now, strict=True):
            went = run.changes[number].of[k].way
            if each.shapes:
                lost.discard((number, k))
                found.setdefault(number, []).extend(((at, one), went) for one in each.shapes)
                owner |= dict.fromkeys(each.shapes, number)
        for (number, k), each in zip(parts, now, strict=True):
            # What went up in another that was changed alike is not lost.
            other = owner.get(-1 if each.within is None else each.within)
            if other is not None and run.changes[number].is_like(run.changes[other]):
                lost.discard((number, k))
            elif (number, k) in lost and each.within is not None:
                pieces = _part(lot, known[places[number, k]], each.within)
                if pieces:
                    lost.discard((number, k))
                    went = run.changes[number].of[k].way
                    member = len(run.lots), len(run.parts)
                    run.parts.append(((at, each.within), pieces))
                    found.setdefault(number, []).append((member, went))
    return found, sorted(lost)


def _part(lot: Lot, known: Known, shape: int) -> list[shapely.Polygon]:
    """The part of a lot's shape that was a known one, remembered."""
    key = shape, known.points.tobytes(), known.area
    return lot.once(key, lambda: part_that_was(known, lot.polygons[shape]))


def _single(run: Editing, number: int, went_to: Went) -> EditedShape:
    """A shape by itself as a change has it."""
    change, (member, went) = run.changes[number], went_to
    lot = run.lots[run.lot_of(member)]
    tracing = _moved(run, lot.plate, run.traced(member), went)
    if change.looser is not None:
        simpler = refitted(tracing.polygons(FINE), _looser(run.wish, change.looser))
        # What would come to nothing stays.
        tracing = simpler if len(simpler) else tracing
    found = _shape(run, number, [member], tracing)
    is_bare = lot.is_white and change.colour is None and went is None
    return replace(found, is_bare=is_bare)


def _joined(run: Editing, number: int, own: list[Went]) -> EditedShape:
    """Several shapes as one."""
    change = run.changes[number]
    polygons = []
    for member, went in own:
        lot = run.lots[run.lot_of(member)]
        moved = _moved(run, lot.plate, run.traced(member), went)
        polygons += moved.polygons(FINE)
    whole = united(polygons)
    wish = run.wish if change.looser is None else _looser(run.wish, change.looser)
    return _shape(
        run, number, [member for member, _ in own], refitted(pieces_of(whole, LEAST_MM2), wish)
    )


def _shape(run: Editing, number: int, members: list[Member], tracing: Tracing) -> EditedShape:
    change = run.changes[number]
    first = next((m for m in members if not run.lots[run.lot_of(m)].is_white), members[0])
    at = run.lot_of(first)
    lot = run.lots[at]
    colour = run.paper if lot.is_white else lot.colour
    if change.colour is not None:
        red, green, blue = (int(change.colour[k : k + 2], 16) / 255 for k in (1, 3, 5))
        colour = round(red, 4), round(green, 4), round(blue, 4)
    order = run.plates[lot.plate], change.forward, at, 1, number, first[1]
    return EditedShape(
        tuple(members),
        tracing,
        colour,
        lot.plate,
        at,
        order,
        number,
        change.gone,
        is_white=lot.is_white,
    )


def _cut(run: Editing, shapes: list[EditedShape]) -> list[EditedShape]:
    """Shapes, and those that were not changed, less what cuts them from above."""
    # What is hidden cuts still, so that the paper shows; what is deleted does nothing.
    cutting = [
        each
        for each in shapes
        if each.change is not None and run.changes[each.change].cuts and each.gone != "deleted"
    ]
    for knife in cutting:
        blade = united(knife.tracing.polygons(FINE))
        touched = {member for each in shapes for member in each.members}
        cut = [_less(run, each, blade) if each.order < knife.order else each for each in shapes]
        for shape in _untouched_beneath(run, knife, touched, blade):
            cut.append(_less(run, shape, blade))
        shapes = sorted(cut, key=lambda each: each.order)
    return shapes


def _untouched_beneath(
    run: Editing, knife: EditedShape, touched: set[Member], blade: shapely.Geometry
) -> Iterator[EditedShape]:
    shapely.prepare(blade)
    for at, lot in enumerate(run.lots):
        order = run.plates[lot.plate], 0, at, 0
        if lot.is_white or order >= knife.order:
            continue
        meets = np.flatnonzero(shapely.intersects(blade, lot.polygons))
        for shape in meets.tolist():
            if (at, shape) not in touched:
                tracing = lot.tracing.some([shape])
                yield EditedShape(((at, shape),), tracing, lot.colour, lot.plate, at, order)


def _less(run: Editing, shape: EditedShape, blade: shapely.Geometry) -> EditedShape:
    whole = united(shape.tracing.polygons(FINE))
    if not shapely.intersects(blade, whole):
        return shape
    left = shapely.difference(whole, blade, grid_size=GRID_MM)
    return replace(shape, tracing=refitted(pieces_of(left, LEAST_MM2), run.wish))


def _moved(run: Editing, plate: str, tracing: Tracing, went: Way | None) -> Tracing:
    """Shapes where they went on the sheet: a way leads from long edges to long edges."""
    if went is None:
        return tracing
    forth = np.vstack([run.ways[plate], [0, 0, 1]])
    return tracing.moved((forth @ matrix(went) @ np.linalg.inv(forth))[:2])


def _looser(wish: TraceWish, closeness: float) -> TraceWish:
    return wish.model_copy(update={"closeness": max(wish.closeness, closeness)})


def untouched(lot_number: int, lot: Lot, edited: Edited) -> NDArray[np.int64]:
    """The numbers of a lot's shapes that are as they were traced."""
    gone = [shape for at, shape in edited.members if at == lot_number]
    return np.setdiff1d(np.arange(len(lot.tracing)), np.array(gone, np.int64))
