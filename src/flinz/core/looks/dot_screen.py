"""Dot screen: a halftone of round, elliptical or diamond dots, or of a picture."""

import functools
import math
from enum import StrEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Angle, Choice, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.following import followed, levels, overlaid
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.marks.cells import cells_cover
from flinz.core.marks.hatching import grid_px_per_mm, read, refuse_too_many, ruled
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.screens import dot_cover, spot_levels
from flinz.core.marks.vectors import Dots, Shape
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, whole_frame
from flinz.errors import DocumentError

RADII = 41
SIZED = ("ruling",)
PHOTO_ID = r"^([0-9a-f]{64})?$"
# Across, in pitches, a dot that carries a light tone of a fifth.
LIGHT_DOT = 0.5


class Dot(StrEnum):
    """The shape of a dot."""

    ROUND = "round"
    ELLIPTICAL = "elliptical"
    DIAMOND = "diamond"
    PICTURE = "picture"


class DotScreen(ToneWindow):
    """Dots at a ruling and an angle."""

    look: Literal["dot-screen"] = "dot-screen"
    dot: Dot = Choice(
        Dot.ROUND,
        label="Dot",
        hint="Shape of the dots",
        options={
            Dot.ROUND: ("Round", "Dots in the light, holes in the dark; they meet all at once"),
            Dot.ELLIPTICAL: ("Oval", "Chains first, then nets: even middle tones", "elliptical"),
            Dot.DIAMOND: ("Diamond", "Corners that meet: crisp, a little harder"),
            Dot.PICTURE: ("A picture", "Its darks come first; wants few to the centimetre"),
        },
    )
    # The id of the photo whose middle is the dot; "" for the plate's own.
    pattern: str = Field("", pattern=PHOTO_ID)
    ruling: float = Dial(
        12.0,
        ge=1.0,
        le=80.0,
        low=2.0,
        high=40.0,
        step=0.5,
        unit="/cm",
        label="Ruling",
        hint="Dots to a centimetre",
    )
    angle: float = Angle(45.0, hint="Direction of the rows", high=90.0)


def draw(tone: Plane, settings: DotScreen, frame: Frame, desk: Desk) -> Plane:
    """Dots as ink 0..1; the spot function's levels are calibrated to the share of ink."""
    return overlaid(tone, settings, frame, desk, _drawn, SIZED)


def _drawn(tone: Plane, settings: DotScreen, frame: Frame, desk: Desk) -> Plane:
    kind = list(Dot).index(settings.dot)
    cover = wished_cover(tone, settings)
    per_mm = settings.ruling / 10
    if settings.dot == Dot.PICTURE:
        cell = desk.cell(settings.pattern)
        return cells_cover(cover, frame, settings.angle, 1 / per_mm, cell, desk.lay)
    return dot_cover(cover, frame, settings.angle, per_mm, kind, _levels(kind), desk.lay)


def marks(settings: DotScreen, desk: Desk) -> Dots:
    """The dots of a whole sheet, one a cell, sized by the tone at its middle.

    Their overlaps in the dark are reckoned with, so that they leave the same ink. An elliptical
    dot comes as a round one. Raises DocumentError where the dots are a picture.
    """
    if settings.dot == Dot.PICTURE:
        raise DocumentError("Where the dots of a screen are a picture, they are no marks.")
    return followed("marks", settings, desk, _placed, SIZED)


def _placed(settings: DotScreen, desk: Desk) -> Dots:
    pitch = 10 / settings.ruling
    whole, grid = desk.whole(grid_px_per_mm(pitch))
    refuse_too_many(grid, pitch, 1)
    cells = ruled(grid, settings.angle, pitch, pitch, margin_mm=pitch).lines
    x, y = cells.x, cells.y
    wish = read(wished_cover(whole, settings), grid, x, y)
    diamond = settings.dot == Dot.DIAMOND
    shape = Shape.DIAMOND if diamond else Shape.ROUND
    radius = np.interp(wish, _cover_of_radius(shape), np.linspace(0, 1, RADII)) * pitch
    kept = wish > 0.002
    return Dots(
        x[kept],
        y[kept],
        radius[kept].astype(np.float32),
        np.full(np.count_nonzero(kept), math.radians(settings.angle), np.float32),
        shape,
    )


def predicted(settings: DotScreen, desk: Desk) -> int:
    """How many dots there will be at most."""
    if desk.has_closer:
        lots = levels(settings, desk, SIZED)
        return sum(predicted(level.settings, level.desk) for level in lots)
    _, grid = desk.whole(grid_px_per_mm(10 / settings.ruling))
    area = grid.full_width * grid.full_height / grid.px_per_mm**2
    return round(area * (settings.ruling / 10) ** 2)


@functools.cache
def _cover_of_radius(shape: Shape) -> NDArray[np.float64]:
    # Ink of dots a pitch apart whose radius is 0..1 pitch, by drawing nine of them.
    frame = whole_frame(3.0, 192, 192)
    places = (np.mgrid[0:5, 0:5].reshape(2, -1) - 0.5).astype(np.float32)
    ink = []
    for radius in np.linspace(0, 1, RADII):
        dots = Dots(places[0], places[1], np.full(25, radius, np.float32), shape=shape)
        ink.append(float(dots_cover(dots, frame).mean()))
    return np.maximum.accumulate(np.array(ink))


@functools.cache
def _levels(kind: int) -> NDArray[np.float32]:
    return spot_levels(kind)


LOOK = Look(
    settings=DotScreen,
    label="Dot screen",
    purpose="A halftone of dots at a ruling and an angle",
    draw=draw,
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    predicted=predicted,
    suits=Suits(parted=(0.5, 0.4), fine=(0.2, 0.8), led=(0.2, 0.3), spread=(0.6, 0.4)),
    rehearsed=(DotScreen(dot=Dot.DIAMOND), DotScreen(dot=Dot.PICTURE)),
    pitch=lambda settings: 10 / settings.ruling,
    tone_error=0.01,
    thinnest=lambda settings: LIGHT_DOT * 10 / settings.ruling,
)
