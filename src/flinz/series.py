"""An edition of photos that are files, into a folder that can be gone on with, or one ZIP."""

import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any

from flinz.core.deliver.format import Format, Wish
from flinz.core.deliver.packed import opened
from flinz.core.edition import cluster, crew, naming
from flinz.core.edition.crew import Told, Work
from flinz.core.edition.fields import Table, check_fields, table_of
from flinz.core.edition.task import Order, Task
from flinz.core.edition.template import Template, of_recipe, of_sheet, words_for
from flinz.core.edition.zipping import zipped
from flinz.core.hand.pieces import id_of
from flinz.drawing import is_sheet_file, recipe_of
from flinz.errors import DocumentError, FlinzError, NotFoundError
from flinz.files import read, write_text, write_whole

# Beside the files of a folder: what each was drawn from.
NOTE = ".flinz-edition.json"
KNOWN = "JPEG, HEIC, AVIF, PNG, TIFF and WebP"
PICTURES = (".jpg", ".jpeg", ".heic", ".heif", ".avif", ".png", ".tif", ".tiff", ".webp")


@dataclass
class MadePhoto:
    """A photo of the edition: its file, the name of what is made of it, and what became of it."""

    path: Path
    title: str
    name: str
    state: str = "waiting"
    message: str = ""
    seconds: float = 0.0

    @property
    def said(self) -> dict[str, Any]:
        """What is said of it in JSON."""
        return {
            "photo": str(self.path),
            "file": self.name,
            "state": self.state,
            "seconds": round(self.seconds, 3),
            "message": self.message,
        }


def pictures_in(photos: Sequence[Path], note: Callable[[str], None]) -> list[Path]:
    """The pictures named, and those in folders named, each once.

    note is told in a sentence of what else lies in a folder. Raises NotFoundError.
    """
    found: list[Path] = []
    for path in photos:
        if not path.is_dir():
            found.append(path)
            continue
        inside = sorted(
            each for each in path.iterdir() if each.is_file() and not each.name.startswith(".")
        )
        pictures = [each for each in inside if each.suffix.lower() in PICTURES]
        others = len(inside) - len(pictures)
        if others:
            note(f"{path} has {others} other file{'s' if others > 1 else ''}, left alone.")
        found += pictures
    found = list(dict.fromkeys(found))
    if not found:
        raise NotFoundError(f"There are no pictures to draw: Flinz takes {KNOWN}.")
    return found


def template_of(name: str) -> Template:
    """A template of a recipe's name, a recipe file or a sheet file.

    Raises NotFoundError, DocumentError.
    """
    if not is_sheet_file(Path(name)):
        return of_recipe(recipe_of(name))
    file, press, photo = opened(read(Path(name)), name)
    return of_sheet(press, photo, file)


def words_by_plate(template: Template, given: Sequence[str]) -> dict[str, str]:
    """What lettering says, by the plate: each [PLATE=]WORDS is for that one, or for all.

    Raises DocumentError.
    """
    plates = template.file.sheet.plates
    found: dict[str, str] = {}
    for text in given:
        number, equals, rest = text.partition("=")
        if equals and number.strip().isdigit():
            place = int(number) - 1
            if not 0 <= place < len(plates) or plates[place].id not in template.lettering:
                raise DocumentError(f"{text!r}: plate {number} has no lettering.")
            found[plates[place].id] = rest
        elif template.lettering:
            found |= dict.fromkeys(template.lettering, text)
        else:
            raise DocumentError("There is no lettering here that could say anything.")
    return found


def named(paths: list[Path], pattern: str, table: Table | None, suffix: str) -> list[MadePhoto]:
    """Photos with the names of their files; one that can have none has failed."""
    titles = [title_of(path) for path in paths]
    names = naming.names(pattern, [(title, "") for title in titles], table, suffix)
    return [
        MadePhoto(path, title, "", "failed", str(name))
        if isinstance(name, FlinzError)
        else MadePhoto(path, title, name)
        for path, title, name in zip(paths, titles, names, strict=True)
    ]


def title_of(path: Path) -> str:
    """The title of a photo that is a file."""
    return path.stem.replace("_", " ")


def planned(
    photos: Sequence[Path],
    template: Template,
    kind: Format,
    wish: Wish,
    folder: Path,
    *,
    words: Sequence[str] = (),
    table: Path | None = None,
    names: str = naming.USUAL,
    note: Callable[[str], None] = lambda sentence: None,
) -> "Series":
    """A series of photos, or folders of them, by a template, into a folder.

    words: as words_by_plate takes them; table: a CSV. note is told what is worth knowing before it
    is drawn. Raises NotFoundError, PhotoError, DocumentError.
    """
    paths = pictures_in(photos, note)
    rows = None if table is None else table_of(read(table))
    said_by_plate = words_by_plate(template, words)
    for pattern in (names, *said_by_plate.values()):
        check_fields(pattern, rows)
    shared = naming.shared(names, [(title_of(path), "") for path in paths], rows)
    if shared is not None:
        note(shared)
    listed = named(paths, names, rows, kind.suffix)
    return Series(listed, template, wish, said_by_plate, rows, folder)


@dataclass
class Series:
    """Photos to be drawn into a folder; said: told of each that has ended."""

    photos: list[MadePhoto]
    template: Template
    wish: Wish
    words: dict[str, str]
    table: Table | None
    folder: Path
    said: Callable[[MadePhoto], None] = lambda photo: None
    made: dict[str, str] = field(default_factory=dict)
    marks: dict[int, str] = field(default_factory=dict)

    def draw(
        self, *, resume: bool = False, jobs: int | None = None, dask: str | None = None
    ) -> None:
        """Draw every photo, on this machine or on the Dask cluster at an address.

        resume: leave what the folder has already, drawn from the same. jobs: how many at once.
        Raises StoreError, NotFoundError where nothing can be drawn at all.
        """
        self.folder.mkdir(parents=True, exist_ok=True)
        self.made = self._noted() if resume else {}
        for photo in self.photos:
            if photo.state == "failed":
                self.said(photo)
        works = self._works()
        if dask is not None:
            cluster.draw(works, self._tell, lambda: False, dask)
        else:
            # No more processes than there are photos.
            hands = min(crew.hands_here(jobs), max(1, len(self.photos)))
            crew.draw(works, self._tell, lambda: False, hands)

    def pack(self, output: Path) -> None:
        """Write the files that are there as one ZIP."""
        there = [photo.name for photo in self.photos if photo.state in ("done", "kept")]

        def write(path: Path) -> None:
            with path.open("wb") as file:
                file.writelines(zipped([(name, self.folder / name) for name in there]))

        write_whole(output, write)

    def _works(self) -> Iterator[Work]:
        """What is to be drawn, asked for one after another; what is drawn already is passed by."""
        for number, photo in enumerate(self.photos):
            if photo.state == "failed":
                continue
            try:
                task = self._task(number)
            except FlinzError as error:
                photo.state, photo.message = "failed", str(error)
                self.said(photo)
                continue
            if self._is_made(photo, self.marks[number]):
                photo.state = "kept"
                self.said(photo)
                continue
            yield Work(number, partial(_as_it_is, task), self.folder / photo.name)

    def _is_made(self, photo: MadePhoto, mark: str) -> bool:
        return self.made.get(photo.name) == mark and (self.folder / photo.name).is_file()

    def _task(self, number: int) -> Task:
        photo = self.photos[number]
        data = read(photo.path)
        words = words_for(self.template, self.words, photo.title, "", number + 1, self.table)
        order = Order(self.template, self.wish, photo.title, words)
        self.marks[number] = order.mark(id_of(data))
        return Task(data, order)

    def _tell(self, told: Told) -> None:
        if told.state == "running":
            return
        photo = self.photos[told.number]
        photo.state, photo.message, photo.seconds = told.state, told.message, told.seconds
        if told.state == "done":
            self.made[photo.name] = self.marks[told.number]
            # After each: whatever ends this, what is drawn by then stays known.
            write_text(self.folder / NOTE, json.dumps(self.made, indent=1))
        self.said(photo)

    def _noted(self) -> dict[str, str]:
        """What the folder's note says of its files; nothing where it cannot be read."""
        try:
            found = json.loads((self.folder / NOTE).read_text())
        except (OSError, ValueError):
            return {}
        return found if isinstance(found, dict) else {}


def _as_it_is(task: Task) -> Task:
    return task
