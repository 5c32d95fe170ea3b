"""Editions: begin, change, undo, look at every photo, draw them all, take the files."""

from typing import Annotated, Any

from fastapi import APIRouter, File, Query, Request, Response, UploadFile
from pydantic import BaseModel, Field

from flinz.core.document.reading import parsed
from flinz.core.edition.fields import MAX_BYTES, Table, table_of
from flinz.core.edition.plan import MAX_ENTRIES, Edition, Entry
from flinz.errors import DocumentError
from flinz.server.edition_records import EditionRecord, record_of
from flinz.server.pictures import FOR_EVER
from flinz.server.routes.judging import gone
from flinz.server.studio import Db, Id, TheStudio
from flinz.store import editions, sheets
from flinz.store.database import transaction

router = APIRouter(prefix="/api/editions", tags=["editions"])


class NewEdition(BaseModel):
    """Photos, and the recipe or the finished sheet that they are drawn by."""

    photos: list[str] = Field([], max_length=MAX_ENTRIES)
    recipe: str = "pencil"
    sheet: Id = 0
    title: str = Field("", max_length=200)


class EditionChange(BaseModel):
    """A changed document, the revision it was made from, and what was done, in words."""

    base: int
    edition: dict[str, Any]
    words: str = Field(max_length=200)
    gesture: str = Field("", max_length=80)


class EditionCard(BaseModel):
    """An edition for a list: its title, how many photos it has, how many files are there."""

    id: int
    title: str
    photos: list[str]
    done: int
    touched_at: str


class Adjusted(BaseModel):
    """The edition, and the sheet that one of its photos has now."""

    record: EditionRecord
    sheet: int


@router.get("")
def list_editions(db: Db) -> list[EditionCard]:
    """All editions, last touched first."""
    found = []
    for kept in editions.every(db):
        made = editions.files(db, kept.id)
        in_it = kept.edition.kept
        done = sum(1 for each in in_it if each.id in made and made[each.id].state == "done")
        found.append(
            EditionCard(
                id=kept.id,
                title=kept.edition.title,
                photos=[each.photo for each in in_it],
                done=done,
                touched_at=kept.touched_at,
            )
        )
    return found


@router.post("", status_code=201)
def begin_edition(db: Db, studio: TheStudio, new: NewEdition) -> EditionRecord:
    """Begin an edition of photos."""
    entries = [Entry(id=k, photo=photo) for k, photo in enumerate(new.photos, start=1)]
    title = new.title or f"Edition of {len(entries)}"
    edition = Edition(title=title, recipe=new.recipe, sheet=new.sheet, entries=entries)
    # Refused now, where what it is to be drawn by is not there.
    studio.orders.template(db, edition)
    return record_of(db, studio, editions.add(db, edition))


@router.post("/table")
def read_table(file: Annotated[UploadFile, File()]) -> Table:
    """A table of words from a CSV file."""
    if file.size is not None and file.size > MAX_BYTES:
        raise DocumentError("This file is too large for a table of words.")
    return table_of(file.file.read())


@router.get("/{edition_id}")
def show_edition(db: Db, studio: TheStudio, edition_id: Id) -> EditionRecord:
    """An edition as it is now."""
    return record_of(db, studio, editions.one(db, edition_id))


@router.put("/{edition_id}")
def change_edition(
    db: Db, studio: TheStudio, edition_id: Id, change: EditionChange
) -> EditionRecord:
    """Save a change as one step; a change to an older revision is refused."""
    edition = parsed(Edition, change.edition)
    kept = editions.change(db, edition_id, change.base, edition, change.words, change.gesture)
    return record_of(db, studio, kept)


@router.post("/{edition_id}/undo")
def undo_edition(db: Db, studio: TheStudio, edition_id: Id) -> EditionRecord:
    """Go back one step."""
    return record_of(db, studio, editions.undo(db, edition_id))


@router.post("/{edition_id}/redo")
def redo_edition(db: Db, studio: TheStudio, edition_id: Id) -> EditionRecord:
    """Do the next undone step again."""
    return record_of(db, studio, editions.redo(db, edition_id))


@router.delete("/{edition_id}", status_code=204)
def remove_edition(db: Db, studio: TheStudio, edition_id: Id) -> None:
    """Take an edition off the shelf, and its files away."""
    editions.set_removed(db, edition_id, True)
    studio.editions.forget(edition_id)


@router.post("/{edition_id}/restore", status_code=204)
def restore_edition(db: Db, edition_id: Id) -> None:
    """Put a removed edition back; its files are drawn again."""
    editions.set_removed(db, edition_id, False)


@router.get("/{edition_id}/entries/{entry_id}/picture", response_class=Response)
def entry_picture(
    request: Request,
    db: Db,
    studio: TheStudio,
    edition_id: Id,
    entry_id: Id,
    long_edge_px: Annotated[int, Query(ge=16, le=2000)] = 320,
    mark: str | None = None,
) -> Response:
    """A photo as the edition draws it, small, as PNG. With its mark it may be kept for ever."""
    photo, order = studio.orders.one(db, editions.one(db, edition_id).edition, entry_id)
    data = studio.series_picture(photo.id, order, long_edge_px, gone(request))
    kept = FOR_EVER if mark == order.drawing_mark(photo.id) else "no-store"
    return Response(data, media_type="image/png", headers={"Cache-Control": kept})


@router.post("/{edition_id}/entries/{entry_id}/adjust", status_code=201)
def adjust_entry(db: Db, studio: TheStudio, edition_id: Id, entry_id: Id) -> Adjusted:
    """Make a sheet of one photo, as the edition draws it; the edition follows that from now on."""
    while True:
        kept = editions.one(db, edition_id)
        photo, order = studio.orders.one(db, kept.edition, entry_id)
        entry = _entry(kept.edition, entry_id)
        if entry.sheet:
            return Adjusted(record=record_of(db, studio, kept), sheet=entry.sheet)
        drawn = order.sheet(studio.press, studio.photo(photo.id))
        with transaction(db):
            # The edition may have been changed while that took its time.
            if editions.one(db, edition_id).revision != kept.revision:
                continue
            sheet = sheets.add(db, drawn)
            entries = [
                each.model_copy(update={"sheet": sheet.id}) if each.id == entry_id else each
                for each in kept.edition.entries
            ]
            edition = kept.edition.model_copy(update={"entries": entries})
            words = f"Adjust {photo.title}"[:200]
            kept = editions.change(db, edition_id, kept.revision, edition, words)
        return Adjusted(record=record_of(db, studio, kept), sheet=sheet.id)


def _entry(edition: Edition, entry_id: int) -> Entry:
    return next(entry for entry in edition.entries if entry.id == entry_id)
