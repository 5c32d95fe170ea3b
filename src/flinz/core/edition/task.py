"""One photo's share of an edition, as data that any process can draw a file from."""

import hashlib
import json
from dataclasses import dataclass, field
from pathlib import Path

from flinz import __version__
from flinz.core.deliver.format import PASSING_BYTES, Delivery, Progress, Wish
from flinz.core.deliver.registry import format_of
from flinz.core.document.sheet import Sheet
from flinz.core.edition.template import Template, sheet_for
from flinz.core.hand.pieces import id_of
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press.packed import stock_of
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never


@dataclass(frozen=True)
class Task:
    """A photo's bytes, what it is drawn by, and the file that is wished of it.

    words: of lettering, by the plate. is_finished: the template's sheet is this photo's own, and
    is drawn as it stands.
    """

    photo: bytes
    title: str
    template: Template
    wish: Wish
    words: dict[str, str] = field(default_factory=dict)
    is_finished: bool = False


def mark_of(photo_id: str, task_without_photo: Task) -> str:
    """What decides a task's file to the last byte, the version of Flinz included, as a name."""
    task = task_without_photo
    first = task.template.first
    said = [
        __version__,
        photo_id,
        task.template.file.sheet.model_dump_json(),
        first.model_dump_json() if first else "",
        task.wish.model_dump_json(),
        json.dumps(task.words, sort_keys=True),
        "" if task.is_finished else task.title,
        str(task.is_finished),
    ]
    return hashlib.sha256("\0".join(said).encode()).hexdigest()


def write(
    path: Path, task: Task, progress: Progress = lambda share: None, stop: Stop = never
) -> None:
    """Write a task's file, as the print room writes that sheet's.

    progress is told the share done, 0..1. Raises PhotoError, DocumentError, Stopped, OSError.
    """
    photo = decode(task.photo, id_of(task.photo))
    press, sheet = drawn_by(task, photo)
    format_of(task.wish).write(path, Delivery(press, photo, sheet, progress, stop), task.wish)


def drawn_by(task: Task, photo: Photo) -> tuple[Press, Sheet]:
    """The sheet of a task, and a press that has what it names."""
    press = Press(PASSING_BYTES, stock=stock_of(task.template.file))
    if task.is_finished:
        return press, task.template.file.sheet
    return press, sheet_for(press, photo, task.template, task.title, task.words)
