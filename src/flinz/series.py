"""The command that draws many photos alike: an edition, into a folder or one ZIP."""

import json
import shutil
import sys
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from flinz.drawing import recipe_of, set_dial, wish_of
from flinz.errors import DocumentError, FlinzError, NotFoundError, StoreError
from flinz.files import check_writable, read, write_text, write_whole

if TYPE_CHECKING:
    from flinz.core.edition.crew import Told, Work
    from flinz.core.edition.fields import Table
    from flinz.core.edition.task import Task
    from flinz.core.edition.template import Template

PICTURES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp")
# Beside the files of a folder: what each was drawn from.
NOTE = ".flinz-edition.json"
MOST_SAID = 5


@dataclass
class Photo:
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


def edition(
    photos: Annotated[list[Path], typer.Argument(help="Pictures, or folders of them.")],
    recipe: Annotated[
        str, typer.Option(help="A recipe's name, a recipe file (JSON), or a sheet file (.flinz).")
    ],
    output: Annotated[Path, typer.Option("-o", "--output", help="A folder, or a .zip.")],
    format_: Annotated[str, typer.Option("--format", help="png, jpg, tiff, svg, pdf...")] = "png",
    set_: Annotated[
        list[str], typer.Option("--set", help="STAGE.PARAM=VALUE, such as draw.level=0.45")
    ] = [],  # noqa: B006  (typer reads it)
    long_edge: Annotated[int | None, typer.Option(help="Pixels of the long edge.")] = None,
    dpi: Annotated[float | None, typer.Option(help="Dots an inch at the sheet's size.")] = None,
    depth: Annotated[str | None, typer.Option(help="auto, 1-bit, grey or colour.")] = None,
    words: Annotated[
        list[str],
        typer.Option(help="[PLATE=]WORDS: what lettering says, such as {title} or 2={caption}."),
    ] = [],  # noqa: B006  (typer reads it)
    table: Annotated[
        Path | None, typer.Option(help="A CSV whose first column names photos; others are fields.")
    ] = None,
    names: Annotated[str, typer.Option(help="The pattern of files' names.")] = "{number} {title}",
    jobs: Annotated[
        int | None, typer.Option(min=1, max=256, help="How many are drawn at once.")
    ] = None,
    dask: Annotated[
        str | None, typer.Option(help="Draw on the Dask cluster at this address instead.")
    ] = None,
    resume: Annotated[
        bool, typer.Option("--resume", help="Go on: what is drawn already is not drawn again.")
    ] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Tell of each photo as JSON.")] = False,
) -> None:
    """Draw many photos alike, into a folder or one ZIP."""
    from flinz.core.deliver.registry import format_of_file
    from flinz.core.edition.fields import table_of

    kind = format_of_file(f"file.{format_.lstrip('.')}")
    if long_edge is not None and dpi is not None:
        raise DocumentError("Give --long-edge or --dpi, not both.")
    if dask is not None and jobs is not None:
        raise DocumentError("On a cluster Dask decides how many are drawn at once: no --jobs.")
    wish = wish_of(kind, {"depth": depth, "long_edge_px": long_edge, "dpi": dpi})
    is_zip = output.suffix.lower() == ".zip"
    if is_zip:
        check_writable(output)
    elif output.exists() and not output.is_dir():
        raise StoreError(f"{output} is a file; name a folder, or a .zip.")
    paths = _pictures(photos)
    rows = None if table is None else table_of(read(table))
    template = _template(recipe, set_)
    said = _words(template, words)
    folder = output.with_name(f".{output.name}.parts") if is_zip else output
    folder.mkdir(parents=True, exist_ok=True)
    run = _Run(_named(paths, names, rows, kind.suffix), template, wish, said, rows, folder, as_json)
    run.all(resume, jobs, dask)
    if is_zip:
        run.pack(output)
    failed = [each for each in run.photos if each.state == "failed"]
    if failed:
        raise DocumentError(_faults(failed, len(run.photos)))
    if is_zip:
        shutil.rmtree(folder)


def _pictures(photos: list[Path]) -> list[Path]:
    """The pictures named, and those in folders named, each once."""
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
            _note(f"{path} has {others} other file{'s' if others > 1 else ''}, left alone.")
        found += pictures
    found = list(dict.fromkeys(found))
    if not found:
        known = ", ".join(each.lstrip(".").upper() for each in PICTURES[::2])
        raise NotFoundError(f"There are no pictures to draw: Flinz takes {known} and WebP.")
    return found


def _template(name: str, settings: list[str]) -> "Template":
    from flinz.core.document import sheet_file
    from flinz.core.edition import template
    from flinz.core.press.packed import stock_of
    from flinz.core.press.press import Press

    if Path(name).suffix.lower() == f".{sheet_file.SUFFIX}":
        file = sheet_file.unpacked(read(Path(name)))
        if file.sheet.picture.photo not in file.photos:
            raise DocumentError(f"The sheet of {name} has no photo.")
        stock = stock_of(file)
        photo = stock.photo_of(file.sheet.picture.photo)
        made = template.of_sheet(Press(stock=stock), photo, file)
    else:
        made = template.of_recipe(recipe_of(name))
    sheet = made.file.sheet
    for setting in settings:
        sheet = set_dial(sheet, setting)
    return made.with_sheet(sheet)


def _words(template: "Template", given: list[str]) -> dict[str, str]:
    """What lettering says, by the plate: each [PLATE=]WORDS is for that one, or for all."""
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


def _named(paths: list[Path], pattern: str, table: "Table | None", suffix: str) -> list[Photo]:
    from flinz.core.edition import naming

    titles = [_title(path) for path in paths]
    pairs = [(title, "") for title in titles]
    shared = naming.shared(pattern, pairs, table)
    if shared is not None:
        _note(shared)
    found = []
    for path, title, name in zip(
        paths, titles, naming.names(pattern, pairs, table, suffix), strict=True
    ):
        if isinstance(name, FlinzError):
            found.append(Photo(path, title, "", "failed", str(name)))
        else:
            found.append(Photo(path, title, name))
    return found


def _title(path: Path) -> str:
    return path.stem.replace("_", " ")


def _faults(failed: list[Photo], count: int) -> str:
    said = [f"{each.path.name}: {each.message}" for each in failed[:MOST_SAID]]
    more = [f"and {len(failed) - MOST_SAID} more"] if len(failed) > MOST_SAID else []
    return f"{len(failed)} of {count} photos failed. {'; '.join(said + more)}"


def _note(sentence: str) -> None:
    print(f"flinz: {sentence}", file=sys.stderr)


@dataclass
class _Run:
    """The photos of one command, drawn into a folder."""

    photos: list[Photo]
    template: "Template"
    wish: Any
    words: dict[str, str]
    table: "Table | None"
    folder: Path
    as_json: bool
    made: dict[str, str] = field(default_factory=dict)
    marks: dict[int, str] = field(default_factory=dict)
    told: int = 0

    def all(self, resume: bool, jobs: int | None, dask: str | None) -> None:
        """Draw every photo; each that ends is told of."""
        from flinz.core.edition import cluster, crew

        self.made = self._noted() if resume else {}
        for photo in self.photos:
            if photo.state == "failed":
                self._say(photo)
        works = self._works()
        if dask is not None:
            cluster.draw(works, self._tell, lambda: False, dask)
        else:
            # No more processes than there are photos.
            hands = min(crew.hands_here(jobs), len(self.photos))
            crew.draw(works, self._tell, lambda: False, hands)

    def pack(self, output: Path) -> None:
        """The files that are there as one ZIP: equal files, equal bytes."""
        from flinz.core.document.sheet_file import add_part

        def write(path: Path) -> None:
            with zipfile.ZipFile(path, "w") as archive:
                for photo in self.photos:
                    if photo.state in ("done", "kept"):
                        data = (self.folder / photo.name).read_bytes()
                        add_part(archive, photo.name, data, zipfile.ZIP_STORED)

        write_whole(output, write)

    def _works(self) -> "Iterator[Work]":
        """What is to be drawn, asked for one after another; what is drawn already is passed by."""
        from flinz.core.edition.crew import Work

        for number, photo in enumerate(self.photos):
            if photo.state == "failed":
                continue
            task: Task | FlinzError
            try:
                task = self._task(number)
            except FlinzError as error:
                task = error
            path = self.folder / photo.name
            if not isinstance(task, FlinzError) and self._is_made(photo, self.marks[number]):
                photo.state = "kept"
                self._say(photo)
                continue
            yield Work(number, _loaded(task), path)

    def _is_made(self, photo: Photo, mark: str) -> bool:
        return self.made.get(photo.name) == mark and (self.folder / photo.name).is_file()

    def _task(self, number: int) -> "Task":
        from flinz.core.edition import template
        from flinz.core.edition.task import Order, Task
        from flinz.core.hand.pieces import id_of

        photo = self.photos[number]
        data = read(photo.path)
        words = template.words_for(
            self.template, self.words, photo.title, "", number + 1, self.table
        )
        order = Order(self.template, self.wish, photo.title, words)
        self.marks[number] = order.mark(id_of(data))
        return Task(data, order)

    def _tell(self, told: "Told") -> None:
        if told.state == "running":
            return
        photo = self.photos[told.number]
        photo.state, photo.message, photo.seconds = told.state, told.message, told.seconds
        if told.state == "done":
            self.made[photo.name] = self.marks[told.number]
            # After each: whatever ends this, what is drawn by then stays known.
            write_text(self.folder / NOTE, json.dumps(self.made, indent=1))
        self._say(photo)

    def _say(self, photo: Photo) -> None:
        self.told += 1
        if self.as_json:
            print(json.dumps(photo.said), flush=True)
        elif photo.state == "failed":
            print(
                f"{self.told} of {len(self.photos)}  {photo.path.name}: {photo.message}", flush=True
            )
        else:
            was = "was there" if photo.state == "kept" else f"{photo.seconds:.1f} s"
            print(f"{self.told} of {len(self.photos)}  {photo.name}  {was}", flush=True)

    def _noted(self) -> dict[str, str]:
        """What the folder's note says of its files; nothing where it cannot be read."""
        try:
            found = json.loads((self.folder / NOTE).read_text())
        except (OSError, ValueError):
            return {}
        return found if isinstance(found, dict) else {}


def _loaded(task: "Task | FlinzError") -> Any:
    def load() -> "Task":
        if isinstance(task, FlinzError):
            raise task
        return task

    return load
