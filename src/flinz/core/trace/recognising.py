"""Which shapes of a tracing are those that were known in an earlier one."""

from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

# A shape is one that was known from this share on: what both have of what either has.
SAME = 0.5
# A piece lies in what it was part of by this share.
PIECE = 0.5


@dataclass(frozen=True, eq=False)
class Known:
    """A shape that was known: places (N, 2) spread evenly in it, and its area, in mm and mm²."""

    points: NDArray[np.float64]
    area: float


@dataclass
class Found:
    """shapes: the numbers of those that a known one is now: one, its pieces if it was parted, or
    none. within: the one that it went up in, where it is none by itself.
    """

    shapes: list[int] = field(default_factory=list)
    within: int | None = None


def recognised(known: list[Known], shapes: list[shapely.Polygon]) -> list[Found]:
    """What each known shape is now. No shape is given to two.

    A known shape is the one that it has most in common with, from half on of what either covers
    (intersection over union, P. Jaccard 1901), told by how many of its places lie in there.
    """
    owner, shape, common = _in_common(known, shapes)
    areas = np.array([each.area for each in shapes])
    known_areas = np.array([each.area for each in known])
    either = known_areas[owner] + areas[shape] - common
    likeness = common / np.maximum(either, 1e-12)
    found = [Found() for _ in known]
    taken = np.zeros(len(shapes), np.bool_)
    for k in np.argsort(-likeness, kind="stable"):
        if likeness[k] < SAME:
            break
        if not taken[shape[k]] and not found[owner[k]].shapes:
            found[owner[k]].shapes.append(int(shape[k]))
            taken[shape[k]] = True
    # What is left and lies in one that was known was parted from it.
    is_piece = common >= PIECE * areas[shape]
    pieces: dict[int, list[int]] = {}
    for k in np.argsort(-common, kind="stable"):
        if is_piece[k] and not taken[shape[k]]:
            pieces.setdefault(int(owner[k]), []).append(k)
            taken[shape[k]] = True
    for each, parts in pieces.items():
        # Crumbs where a shape was are not that shape.
        if found[each].shapes or common[parts].sum() >= PIECE * known_areas[each]:
            found[each].shapes += [int(shape[k]) for k in parts]
    for k in np.flatnonzero(common >= PIECE * known_areas[owner]):
        if not found[owner[k]].shapes:
            found[owner[k]].within = int(shape[k])
    return found


def _in_common(
    known: list[Known], shapes: list[shapely.Polygon]
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """Of each known shape and each shape that meet, their numbers and the area in common."""
    nothing = np.zeros(0, np.int64)
    if not known or not shapes:
        return nothing, nothing, np.zeros(0)
    points = np.concatenate([each.points for each in known])
    counts = np.array([len(each.points) for each in known])
    owner_of = np.repeat(np.arange(len(known)), counts)
    # Polygons ask for points: each is prepared once so.
    which, point = shapely.STRtree(shapely.points(points)).query(shapes, predicate="contains")
    pairs, many = np.unique(
        owner_of[point].astype(np.int64) * len(shapes) + which, return_counts=True
    )
    owner, shape = np.divmod(pairs, len(shapes))
    areas = np.array([each.area for each in known])
    return owner, shape, many / counts[owner] * areas[owner]
