"""What a block or lettering is: closed outlines in a box, with tones from one end to the other."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

import numpy as np
from shapely import get_coordinates, get_parts, orient_polygons
from shapely.geometry.base import BaseGeometry

from flinz.core.dial import Angle, Choice, Dial, Settings
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay
from flinz.core.shapes.filled import Ring, filled


class Fade(StrEnum):
    """How tone goes over from one to the other."""

    NONE = "none"
    STRAIGHT = "straight"
    ROUND = "round"


FADES: dict[Any, tuple[str, str]] = {
    Fade.NONE: ("One tone", "The same all over"),
    Fade.STRAIGHT: ("Straight", "From one side to the other"),
    Fade.ROUND: ("Round", "From the middle to the rim"),
}
FADED = {"fade": ["straight", "round"]}


class Toned(Settings):
    """The tone that a figure has before it is drawn."""

    tone: float = Dial(
        0.0, ge=0.0, le=1.0, step=0.01, label="Tone", hint="0 is black, 1 is white", group="Tone"
    )
    fade: Fade = Choice(
        Fade.NONE, label="Fade", hint="How it goes over to another tone", options=FADES
    )
    tone_to: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Fades to",
        hint="The tone at the other end",
        group="Tone",
        only_for=FADED,
    )
    fade_angle: float = Angle(
        90.0,
        label="Fade towards",
        hint="Counter-clockwise; 90 is upwards",
        low=-180.0,
        group="Tone",
        only_for={"fade": ["straight"]},
    )


@dataclass(frozen=True, eq=False)
class Piece:
    """Rings that fade together, such as a letter's. rings: see flinz.core.shapes.filled."""

    rings: tuple[Ring, ...]


@dataclass(frozen=True, eq=False)
class Figure:
    """Pieces in a box of width x height, mm, from its top left corner; y goes down.

    strokes: lines of a nib over them.
    """

    width: float
    height: float
    pieces: tuple[Piece, ...]
    strokes: Strokes = field(default_factory=lambda: joined([]))

    def moved(self, by: float) -> "Figure":
        """The figure with so much room round it, mm."""
        if by == 0:
            return self
        pieces = tuple(Piece(tuple(ring + by for ring in piece.rings)) for piece in self.pieces)
        box = Lay(self.width, self.height, self.width / 2 + by, self.height / 2 + by)
        strokes = self.strokes.laid(box)
        return Figure(self.width + 2 * by, self.height + 2 * by, pieces, strokes)

    def share(self, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the box that lies within."""
        share = filled([ring for piece in self.pieces for ring in piece.rings], frame)
        return np.maximum(share, strokes_cover(self.strokes, frame)) if len(self.strokes) else share

    def toned(self, frame: Frame, settings: Toned) -> Plane:
        """Tone 0..1 in a frame of the box: white beside the figure. (H, W) float32."""
        ink = 1 - settings.tone
        if settings.fade == Fade.NONE:
            return np.asarray(1 - np.float32(ink) * self.share(frame), np.float32)
        tone = np.ones((frame.height, frame.width), np.float32)
        for piece in self.pieces:
            corners = np.concatenate(piece.rings) if piece.rings else np.zeros((0, 2))
            if len(corners) == 0:
                continue
            low, high = corners.min(0) - 1, corners.max(0) + 1
            near = _near(frame, low, high)
            if near is None:
                continue
            share = filled(piece.rings, near)
            tone[near.slices_in(frame)] -= share * (1 - faded(near, corners, settings))
        if len(self.strokes):
            ends = np.column_stack([self.strokes.x, self.strokes.y]).astype(np.float64)
            left = 1 - faded(frame, ends, settings)
            tone = np.minimum(tone, 1 - left * strokes_cover(self.strokes, frame))
        return np.asarray(np.clip(tone, 0, 1), np.float32)


def _near(frame: Frame, low: Any, high: Any) -> Frame | None:
    """The part of a frame that lies between two corners, mm."""
    left, top = np.floor(low * frame.per_mm).astype(int)
    right, bottom = np.ceil(high * frame.per_mm).astype(int)
    left, top = max(left, frame.left), max(top, frame.top)
    right, bottom = min(right, frame.right), min(bottom, frame.bottom)
    if left >= right or top >= bottom:
        return None
    return frame.part(int(left), int(top), int(right), int(bottom))


def faded(frame: Frame, corners: Ring, settings: Toned) -> Plane:
    """The tone 0..1 of each pixel, faded across the box of some corners, (H, W) float32."""
    if settings.fade == Fade.NONE:
        return np.full((frame.height, frame.width), settings.tone, np.float32)
    way = _way(frame, corners, settings)
    return np.asarray(settings.tone + way * (settings.tone_to - settings.tone), np.float32)


def _way(frame: Frame, corners: Ring, settings: Toned) -> Plane:
    """How far each pixel is on the way from one tone to the other, 0..1."""
    x, y = frame.middles
    low, high = corners.min(0), corners.max(0)
    middle, half = (low + high) / 2, np.maximum((high - low) / 2, 1e-6)
    if settings.fade == Fade.ROUND:
        across, down = (x - middle[0]) / half[0], (y - middle[1]) / half[1]
        return np.asarray(np.clip(np.hypot(across[None], down[:, None]), 0, 1), np.float32)
    turn = np.radians(settings.fade_angle)
    along = np.array([np.cos(turn), -np.sin(turn)])
    # As far as the box of the piece reaches that way.
    reach = np.abs(along * half).sum()
    far = (x[None] - middle[0]) * along[0] + (y[:, None] - middle[1]) * along[1]
    return np.asarray(np.clip(0.5 + far / (2 * reach), 0, 1), np.float32)


def rings_of(geometry: BaseGeometry) -> tuple[Ring, ...]:
    """The rings of shapely polygons, holes the other way round."""
    rings: list[Ring] = []
    for polygon in get_parts(orient_polygons(geometry)):
        if polygon.geom_type != "Polygon" or polygon.is_empty:
            continue
        rings += [get_coordinates(ring)[:-1] for ring in (polygon.exterior, *polygon.interiors)]
    return tuple(rings)
