"""What a file format is: what may be wished of it, its names, and how it is written."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Protocol

from flinz.core.dial import Settings
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop
from flinz.core.scale import Frame

Progress = Callable[[float], None]


class Wish(Settings):
    """Base of what is wished of a file. A format adds `format: Literal["name"] = "name"`."""


class Write(Protocol):
    """Writes a file of a sheet to a path; a failure may leave a part of it there.

    progress is told the share done, 0..1.
    Raises DocumentError if it would be too large, Stopped if stop() turns true, OSError.
    """

    def __call__(
        self,
        path: Path,
        press: Press,
        photo: Photo,
        sheet: Sheet,
        wish: Any,
        progress: Progress,
        stop: Stop,
    ) -> None:
        """Write the file."""
        ...


@dataclass(frozen=True)
class Format:
    """One kind of file. suffixes: without dots, the usual one first."""

    wish: type[Wish]
    label: str
    suffixes: tuple[str, ...]
    media_type: str
    # The size it would have, told before it is made. Raises DocumentError if it is too large.
    frame: Callable[[Photo, Sheet, Any], Frame]
    write: Write

    @property
    def name(self) -> str:
        """The name that a wish gives."""
        return str(self.wish.model_fields["format"].default)

    @property
    def suffix(self) -> str:
        """The usual suffix, without a dot."""
        return self.suffixes[0]
