"""Strokes of the hand: what each does and where it went, packed small."""

import json
import struct
import zlib
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, ValidationError

from flinz.core.dial import Settings
from flinz.errors import DocumentError

MAX_POINTS = 4000
# Places are kept to a millionth of the photo's long edge: less than a thousandth of a millimetre.
STEPS = 1 << 20
# How far beyond the photo a stroke may lie, in its long edges.
FAR = 100.0
PRESSURES = 255
HEAD = struct.Struct("<HHI")
DAMAGED = "These strokes are damaged: they end too early or were altered."

Verb = Literal[
    "lighten",
    "darken",
    "spare",
    "smooth",
    "finer",
    "coarser",
    "white-out",
    "black-in",
    "line",
    "spatter",
    "hide",
    "show",
    "keep",
    "drop",
    "hair",
    "exactly-in",
    "exactly-out",
    # Of lines as a source.
    "draw",
    # Of any stage: what earlier strokes did there goes.
    "rub",
]


# What the hand can do at each stage so far, first what is wanted most.
VERBS: dict[str, tuple[Verb, ...]] = {
    "photo": ("keep", "drop", "hair", "exactly-in", "exactly-out", "rub"),
    "lines": ("draw", "rub"),
    "tone": ("lighten", "darken", "rub"),
    "smooth": ("spare", "smooth", "rub"),
    "again": ("spare", "smooth", "rub"),
    "draw": ("finer", "coarser", "rub"),
    "clean": ("white-out", "black-in", "line", "spatter", "spare", "rub"),
    "ink": ("hide", "show", "rub"),
}


# Each in words: its name, and what it does.
VERB_WORDS: dict[Verb, tuple[str, str]] = {
    "keep": ("Keep", "This is the subject: a rough stroke does"),
    "drop": ("Drop", "This is backdrop: a rough stroke does"),
    "hair": ("Hair", "Single hairs and straws are looked for there"),
    "exactly-in": ("Exactly in", "Just what is painted is subject, whatever is found"),
    "exactly-out": ("Exactly out", "Just what is painted is backdrop"),
    "lighten": ("Lighten", "Opens what is too dark to be drawn"),
    "darken": ("Darken", "Closes what is too light to be drawn"),
    "spare": ("Spare", "Keeps this stage away from there"),
    "smooth": ("Smooth", "Lets the smoothing arrive again"),
    "finer": ("Finer", "Marks and detail down to half their size"),
    "coarser": ("Coarser", "Marks and detail up to twice their size"),
    "white-out": ("White out", "Bare paper over the drawing"),
    "black-in": ("Black in", "Ink over the drawing"),
    "line": ("Line", "A pen's line, whose nib is the size"),
    "spatter": ("Spatter", "A spray of drops along the stroke"),
    "hide": ("Hide", "This plate does not print there"),
    "show": ("Show", "It prints there again"),
    "draw": ("Draw", "A line of this plate's pen"),
    "rub": ("Rub", "Takes hand work of this stage away"),
}


class Brush(Settings):
    """What a stroke does. size: its width in shares of the photo's long edge.

    kept_to: where it may go; tone_from, tone_to: over which tones of the photo.
    """

    verb: Verb
    by: Literal["brush", "area"] = "brush"
    size: float = Field(0.02, gt=0, le=10, allow_inf_nan=False)
    hardness: float = Field(0.8, ge=0, le=1, allow_inf_nan=False)
    strength: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)
    kept_to: Literal["everywhere", "subject", "backdrop"] = "everywhere"
    tone_from: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)
    tone_to: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)

    @property
    def is_kept(self) -> bool:
        """Whether it may not go everywhere."""
        return self.kept_to != "everywhere" or self.tone_from > 0 or self.tone_to < 1


@dataclass(frozen=True, eq=False)
class Stroke:
    """One gesture of the hand.

    points: (N, 3) float64: x to the right and y down from the photo's corner, in shares of the
    uncropped photo's long edge, and pressure 0..1. It comes back from packing as near as STEPS and
    PRESSURES say.
    """

    brush: Brush
    points: NDArray[np.float64]


def packed(stroke: Stroke) -> bytes:
    """A stroke as bytes. Raises DocumentError naming what is not allowed."""
    points = np.asarray(stroke.points, np.float64)
    if points.ndim != 2 or points.shape[1:] != (3,) or len(points) == 0:
        raise DocumentError("A stroke needs points, each of x, y and pressure.")
    if len(points) > MAX_POINTS:
        raise DocumentError(
            f"This stroke has {len(points):,} points; up to {MAX_POINTS:,} are allowed. "
            "Draw it in two."
        )
    if not np.isfinite(points).all():
        raise DocumentError("A point of this stroke is no place: its numbers are not finite.")
    if np.abs(points[:, :2]).max() > FAR:
        raise DocumentError("A point of this stroke lies far beside the photo.")
    if points[:, 2].min() < 0 or points[:, 2].max() > 1:
        raise DocumentError("The pressure of a stroke must be from 0 to 1.")
    scale = np.array([STEPS, STEPS, PRESSURES], np.float64)
    steps = np.diff(np.rint(points * scale).astype(np.int32), axis=0, prepend=0)
    # Bytes of one weight stand together: the high ones are nearly all alike.
    columns = np.ascontiguousarray(steps.astype("<i4").view(np.uint8).reshape(len(points), 12).T)
    body = zlib.compress(columns.tobytes(), 6)
    # What is as usual is not written: most strokes go everywhere.
    usual = {"kept_to": "everywhere", "tone_from": 0.0, "tone_to": 1.0}
    brush = stroke.brush.model_dump(mode="json")
    brush = {name: value for name, value in brush.items() if usual.get(name) != value}
    said = json.dumps(brush, separators=(",", ":")).encode()
    return HEAD.pack(len(said), len(points), len(body)) + said + body


def unpacked(data: bytes) -> Stroke:
    """A stroke from its bytes. Raises DocumentError if they are damaged."""
    try:
        said_size, count, body_size = HEAD.unpack_from(data)
        if len(data) != HEAD.size + said_size + body_size or not 0 < count <= MAX_POINTS:
            raise DocumentError(DAMAGED)
        brush = Brush.model_validate_json(data[HEAD.size : HEAD.size + said_size])
        room = zlib.decompressobj()
        columns = room.decompress(data[HEAD.size + said_size :], 12 * count)
    except (struct.error, ValidationError, zlib.error) as error:
        raise DocumentError(DAMAGED) from error
    if len(columns) != 12 * count or not room.eof:
        raise DocumentError(DAMAGED)
    rows = np.ascontiguousarray(np.frombuffer(columns, np.uint8).reshape(12, count).T)
    places = np.cumsum(rows.view("<i4").astype(np.int64), axis=0)
    points = places / np.array([STEPS, STEPS, PRESSURES], np.float64)
    if np.abs(points[:, :2]).max() > FAR or points[:, 2].min() < 0 or points[:, 2].max() > 1:
        raise DocumentError(DAMAGED)
    return Stroke(brush, points)
