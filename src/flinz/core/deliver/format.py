"""What a file format is: what may be wished of it, its names, and how it is written."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any

from flinz.core.dial import Settings
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import Frame

PASSING_BYTES = 120_000_000

Progress = Callable[[float], None]


class Group(StrEnum):
    """What a format is for, in the order that they are offered."""

    PIXELS = "Pixels"
    SHAPES = "Shapes"
    PRESS = "For press and wall"


class Wish(Settings):
    """Base of what is wished of a file. A format adds `format: Literal["name"] = "name"`."""


@dataclass(frozen=True)
class Delivery:
    """What is delivered, and who hears of it: progress is told the share done, 0..1."""

    press: Press
    photo: Photo
    sheet: Sheet
    progress: Progress = lambda share: None
    stop: Stop = never

    def passing_press(self) -> Press:
        """A press for what passes through once: remembering it would only push proofs out. Only
        what belongs to the whole sheet is worth keeping from one part to the next.
        """
        held = self.press.results
        return Press(PASSING_BYTES, stock=held.stock, instead=held.instead)

    @property
    def printed(self) -> Sheet:
        """The sheet as it leaves: a texture of the paper that is only seen is left out."""
        return self.sheet.as_printed()


@dataclass(frozen=True)
class Format:
    """One kind of file. suffixes: without dots, the usual one first."""

    wish: type[Wish]
    label: str
    suffixes: tuple[str, ...]
    media_type: str
    # The size it would have, told before it is made. Raises DocumentError if it is too large.
    frame: Callable[[Photo, Sheet, Any], Frame]
    # Writes a file to a path; a failure may leave a part of it there. Raises DocumentError if it
    # would be too large, Stopped if the delivery's stop() turns true, OSError.
    write: Callable[[Path, Delivery, Any], None]
    # Under what it stands in a list.
    group: Group = Group.PIXELS
    # What it does beside holding the sheet: "separations"; "" for nothing.
    way: str = ""
    # Writes a sheet that is vectors already, with its title; None where it holds pixels.
    write_artwork: Callable[[Path, Any, str], None] | None = None

    @property
    def name(self) -> str:
        """The name that a wish gives."""
        return str(self.wish.model_fields["format"].default)

    @property
    def wishes(self) -> list[str]:
        """The names of what may be wished of it."""
        return [name for name in self.wish.model_fields if name != "format"]

    @property
    def suffix(self) -> str:
        """The usual suffix, without a dot."""
        return self.suffixes[0]
