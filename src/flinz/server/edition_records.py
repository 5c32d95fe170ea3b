"""All that is known of a stored edition, for the page: each photo's name, file and fault."""

from collections.abc import Sequence
from pathlib import Path
from sqlite3 import Connection
from typing import Any, Literal, TypeGuard

from pydantic import BaseModel

from flinz.core.deliver.registry import format_of
from flinz.core.edition import naming
from flinz.core.edition.fields import fields_there_are
from flinz.core.edition.plan import Edition
from flinz.core.edition.task import Order
from flinz.core.edition.template import Template
from flinz.errors import DocumentError, FlinzError
from flinz.server.orders import Ordered
from flinz.server.studio import Studio
from flinz.store.editions import Kept, MadeFile

State = Literal["left-out", "waiting", "done", "failed"]


class EntryRecord(BaseModel):
    """A photo of an edition: its file's name, what became of that, and what is wrong with it.

    mark: of its drawing; trouble: why it cannot be drawn as things stand.
    """

    id: int
    photo: str
    title: str
    caption: str
    sheet: int
    name: str = ""
    mark: str = ""
    state: State
    trouble: str = ""
    seconds: float = 0.0


class Words(BaseModel):
    """A plate of lettering, and its words as they stand in the recipe or sheet."""

    plate: str
    name: str
    words: str


class EditionRecord(Kept):
    """A stored edition and all that is known of it. fields: what may stand in braces.

    by: the name of what it is drawn by. notes: what is worth knowing before it is drawn.
    """

    by: str
    entries: list[EntryRecord]
    lettering: list[Words]
    fields: list[str]
    notes: list[str]
    is_running: bool


def record_of(db: Connection, studio: Studio, kept: Kept) -> EditionRecord:
    """All that is known of a stored edition."""
    edition, ordered = kept.edition, list(studio.orders.every(db, kept.edition))
    # Asked first: a file that ends while this is put together is not missed, since whoever is told
    # of a run looks again when it is over.
    is_running = studio.editions.run_of(kept.id) is not None
    by, lettering, notes = "", list[Words](), list[str]()
    try:
        template = studio.orders.template(db, edition)
    except FlinzError as error:
        notes.append(f"What this edition is drawn by is not there: {error}")
    else:
        by = template.file.sheet.title
        lettering = _lettering(template)
    shared = naming.shared(edition.names, _titles(ordered), edition.table)
    if shared is not None:
        notes.append(shared)
    return EditionRecord(
        **dict(kept),
        by=by,
        entries=_entries(db, studio, kept, ordered),
        lettering=lettering,
        fields=fields_there_are(edition.table),
        notes=notes,
        is_running=is_running,
    )


def _lettering(template: Template) -> list[Words]:
    words = template.lettering
    return [
        Words(plate=plate.id, name=plate.name or f"Plate {number}", words=words[plate.id])
        for number, plate in enumerate(template.file.sheet.plates, start=1)
        if plate.id in words
    ]


def _entries(
    db: Connection, studio: Studio, kept: Kept, ordered: Sequence[Ordered]
) -> list[EntryRecord]:
    made, names = studio.editions.files(db, kept.id), names_of(kept.edition, ordered)
    found = []
    for each in ordered:
        entry, name = each.entry, names.get(each.entry.id, "")
        record = EntryRecord(
            id=entry.id,
            photo=each.photo.id,
            title=each.photo.title,
            caption=each.photo.caption,
            sheet=entry.sheet,
            state="left-out" if entry.left_out else "waiting",
        )
        faults = [str(what) for what in (each.order, name) if isinstance(what, FlinzError)]
        said: dict[str, Any] = {"trouble": " ".join(faults)}
        if isinstance(name, str):
            said["name"] = name
        if isinstance(each.order, Order):
            said["mark"] = each.order.drawing_mark(each.photo.id)
            file = made.get(entry.id)
            path = studio.editions.path(kept.id, entry.id)
            if not entry.left_out and stands(file, each.order.mark(each.photo.id), path):
                said |= {"state": file.state, "seconds": file.seconds}
                said["trouble"] = said["trouble"] or file.message
        found.append(record.model_copy(update=said))
    return found


def _titles(ordered: Sequence[Ordered]) -> list[tuple[str, str]]:
    """Title and caption of each photo that is not left out."""
    found = (each.photo for each in ordered if not each.entry.left_out)
    return [(photo.title, photo.caption) for photo in found]


def names_of(edition: Edition, ordered: Sequence[Ordered]) -> dict[int, str | DocumentError]:
    """The file names of the photos that are not left out, by the entry."""
    suffix = format_of(edition.wished).suffix
    found = naming.names(edition.names, _titles(ordered), edition.table, suffix)
    return {entry.id: name for entry, name in zip(edition.kept, found, strict=True)}


def stands(made: MadeFile | None, mark: str, path: Path) -> TypeGuard[MadeFile]:
    """Whether what became of a file is of the drawing as it is now."""
    if made is None or made.mark != mark:
        return False
    return made.state == "failed" or path.is_file()


def is_made(made: MadeFile | None, mark: str, path: Path) -> bool:
    """Whether a file is there, drawn as things stand now."""
    return stands(made, mark, path) and made.state == "done"
