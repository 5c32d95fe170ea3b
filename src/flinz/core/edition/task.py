"""One photo's share of an edition, as data that any process can draw a file from."""

import hashlib
import json
from dataclasses import dataclass, field
from pathlib import Path

from flinz.core.deliver.format import PASSING_BYTES, Delivery, Progress, Wish
from flinz.core.deliver.packed import stock_of
from flinz.core.deliver.registry import format_of
from flinz.core.document.sheet import Sheet
from flinz.core.edition.template import Template, sheet_for
from flinz.core.hand.pieces import id_of
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.version import VERSION


@dataclass(frozen=True)
class Order:
    """What one photo becomes: what it is drawn by, and the file that is wished of it.

    words: of lettering, by the plate. is_finished: the template's sheet is this photo's own, and
    is drawn as it stands.
    """

    template: Template
    wish: Wish
    title: str
    words: dict[str, str] = field(default_factory=dict)
    is_finished: bool = False

    def drawing_mark(self, photo_id: str) -> str:
        """What decides the drawing of a photo, the version of Flinz included, as a name."""
        words = json.dumps(self.words, sort_keys=True)
        own = "its own" if self.is_finished else f"{self.title}\0{words}"
        said = [VERSION, photo_id, self.template.mark, own]
        return hashlib.sha256("\0".join(said).encode()).hexdigest()

    def mark(self, photo_id: str) -> str:
        """What decides the file of a photo to its last byte, as a name."""
        said = self.drawing_mark(photo_id) + self.wish.model_dump_json()
        return hashlib.sha256(said.encode()).hexdigest()

    def sheet(self, press: Press, photo: Photo) -> Sheet:
        """The sheet of a photo."""
        if self.is_finished:
            return self.template.file.sheet
        return sheet_for(press, photo, self.template, self.title, self.words)


@dataclass(frozen=True)
class Task:
    """A photo's bytes, and what it becomes."""

    photo: bytes
    order: Order


def write(
    path: Path, task: Task, progress: Progress = lambda share: None, stop: Stop = never
) -> None:
    """Write a task's file, as the print room writes that sheet's.

    progress is told the share done, 0..1. Raises PhotoError, DocumentError, Stopped, OSError.
    """
    order, photo = task.order, decode(task.photo, id_of(task.photo))
    press = Press(PASSING_BYTES, stock=stock_of(order.template.file))
    delivery = Delivery(press, photo, order.sheet(press, photo), progress, stop)
    format_of(order.wish).write(path, delivery, order.wish)
