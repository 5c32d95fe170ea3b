"""What was changed of the shapes of a tracing, and what each of them is known by."""

import math
from typing import Annotated, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import Field, model_validator

from flinz.core.dial import Settings

MAX_CHANGES = 2500
# Parts that are joined as one.
MAX_JOINED = 2000
MAX_LOTS = 24
# Places are kept in such shares of a long edge: less than a hundredth of a millimetre.
STEPS = 100_000
# What differs by less, in long edges, stays where it is.
STAYS = 1e-7
# How many places tell a shape: few of a crumb, more of one that may be parted.
FEWEST, MOST, LARGE_MM2 = 10, 120, 400.0
# A lattice round a thin shape has many places beside it; more than these are not looked at.
LATTICE = 40_000
GOLDEN = (math.sqrt(5) - 1) / 2

Number = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
# x' = a x + b y + c, y' = d x + e y + f.
Way = Annotated[list[Number], Field(min_length=6, max_length=6)]


class Footprint(Settings):
    """A shape as it was traced: what it is known by when it is traced anew, and where it went.

    plate: of which plate; lot: in which of its colours, lightest first; is_white: bare paper, no
    ink. area: in squares of the photo's long edge (of the box's where there is no photo); places:
    x and y in turn, spread evenly in it, in such long edges of STEPS. way: from places to places.
    """

    plate: str = Field(max_length=80)
    lot: int = Field(0, ge=0, le=MAX_LOTS)
    is_white: bool = False
    area: float = Field(gt=0, le=1e6, allow_inf_nan=False)
    places: list[Annotated[int, Field(ge=-(10**9), le=10**9)]] = Field(
        min_length=2, max_length=2 * MOST
    )
    way: Way | None = None

    @model_validator(mode="after")
    def _is_whole(self) -> "Footprint":
        if len(self.places) % 2:
            raise ValueError("places of a shape come in pairs, x and y")
        if self.way is not None and abs(self.way[0] * self.way[4] - self.way[1] * self.way[3]) < (
            1e-9
        ):
            raise ValueError("a shape cannot be made so small that nothing of it is left")
        return self

    @property
    def points(self) -> NDArray[np.float64]:
        """(N, 2) the places, in long edges."""
        return np.array(self.places, np.float64).reshape(-1, 2) / STEPS


class ShapeChange(Settings):
    """What was done to a shape, or to several that are joined as one.

    colour: None for its own. forward: how far before others of its plate, or behind them below 0.
    cuts: what lies beneath is cut away where it lies. looser: how far its outlines may stray, mm.
    """

    of: list[Footprint] = Field(min_length=1, max_length=MAX_JOINED)
    colour: str | None = Field(None, pattern=r"^#[0-9a-fA-F]{6}$")
    gone: Literal["", "hidden", "deleted"] = ""
    forward: int = Field(0, ge=-(10**6), le=10**6)
    cuts: bool = False
    looser: float | None = Field(None, gt=0, le=10, allow_inf_nan=False)

    @property
    def says_nothing(self) -> bool:
        """Whether the shape is as it was traced."""
        nothing = ShapeChange(of=self.of)
        return self == nothing and len(self.of) == 1 and self.of[0].way is None

    def is_like(self, other: "ShapeChange") -> bool:
        """Whether it does to single shapes that stay in their places just what another does."""
        both = [*self.of, *other.of]
        is_plain = len(both) == 2 and all(part.way is None for part in both)
        return is_plain and self == other.model_copy(update={"of": self.of})


def part_of(
    polygon: shapely.Polygon,
    to_share: NDArray[np.float64],
    plate: str,
    lot: int = 0,
    is_white: bool = False,
) -> Footprint:
    """What a shape is known by. polygon: mm on the sheet; to_share: (2, 3), from there."""
    area = polygon.area
    many = FEWEST + round((MOST - FEWEST) * min(1.0, math.sqrt(area / LARGE_MM2)))
    points = _spread(polygon, many)
    places = np.rint((points @ to_share[:, :2].T + to_share[:, 2]) * STEPS).astype(np.int64)
    return Footprint(
        plate=plate,
        lot=lot,
        is_white=is_white,
        area=float(area * abs(np.linalg.det(to_share[:, :2]))),
        places=places.ravel().tolist(),
    )


def composed(second: Way | None, first: Way | None) -> Way | None:
    """Where places come to by one way and then by another; None where they stay."""
    if second is None or first is None:
        return second or first
    both = matrix(second) @ matrix(first)
    if np.abs(both - np.eye(3)).max() < STAYS:
        return None
    found: list[float] = both[:2].ravel().tolist()
    return found


def matrix(way: Way) -> NDArray[np.float64]:
    """(3, 3) of a way."""
    return np.vstack([np.array(way, np.float64).reshape(2, 3), [0, 0, 1]])


def _spread(polygon: shapely.Polygon, many: int) -> NDArray[np.float64]:
    """About so many points (N, 2) of a lattice within a polygon, at least one.

    Each row of the lattice begins elsewhere, so that no straight stripe falls between its columns.
    """
    left, top, right, bottom = polygon.bounds
    box = max((right - left) * (bottom - top), 1e-12)
    pitch = math.sqrt(max(polygon.area / many, box / LATTICE))
    rows = np.arange(top + pitch / 2, bottom, pitch)
    columns = np.arange(left - pitch, right + pitch, pitch)
    x = columns[None, :] + (np.arange(len(rows)) * GOLDEN % 1)[:, None] * pitch
    y = np.broadcast_to(rows[:, None], x.shape)
    shapely.prepare(polygon)
    within = shapely.contains_xy(polygon, x, y)
    points = np.column_stack([x[within], y[within]])
    if len(points) > MOST:
        # Every so many, from all of it.
        points = points[np.linspace(0, len(points) - 1, MOST).astype(np.int64)]
    if not len(points):
        middle = polygon.representative_point()
        points = np.array([[middle.x, middle.y]])
    return points
