"""Sheets: the newest document, every step that led to it, and undo."""

from functools import partial
from sqlite3 import Connection, Row

from pydantic import BaseModel

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile
from flinz.core.hand.pieces import with_parts
from flinz.errors import NotFoundError
from flinz.store import fonts, photos, pieces
from flinz.store.database import now_utc, transaction
from flinz.store.history import History
from flinz.store.marks import mark_of
from flinz.store.unreadable import readable
from flinz.store.within import renewed

ADD = """
    INSERT INTO sheet (photo_id, revision, step, made_at, touched_at)
    VALUES (:photo_id, 1, 0, :at, :at)
"""
HISTORY = History("sheet", "step")
OF_PHOTO = "UPDATE sheet SET photo_id = :photo_id WHERE id = :sheet_id"
ALL = f"""
    {HISTORY.joined} WHERE sheet.removed_at IS NULL
    ORDER BY sheet.touched_at DESC, sheet.id DESC
"""
STEPS = """
    SELECT number, words, made_at FROM step WHERE sheet_id = :sheet_id ORDER BY number
"""
REMOVE = "UPDATE sheet SET removed_at = :removed_at WHERE id = :sheet_id"


class SheetRecord(BaseModel):
    """A stored sheet. undo and redo say in words what they would undo or do again. mark: of the
    document; another document has another one, in any data folder.
    """

    id: int
    revision: int
    mark: str
    touched_at: str
    sheet: Sheet
    undo: str | None
    redo: str | None


class StepRecord(BaseModel):
    """A step of a sheet's history, in words. is_here: the sheet is as that step left it."""

    number: int
    words: str
    made_at: str
    is_here: bool


def add(db: Connection, sheet: Sheet) -> SheetRecord:
    """Begin a sheet."""
    at = now_utc()
    with transaction(db):
        _require(db, sheet)
        row = {"photo_id": sheet.picture.photo, "at": at}
        sheet_id = db.execute(ADD, row).lastrowid
        assert sheet_id is not None  # noqa: S101  (SQLite gives one after every INSERT)
        HISTORY.begin(db, sheet_id, sheet)
    return one(db, sheet_id)


def change(
    db: Connection, sheet_id: int, base: int, sheet: Sheet, words: str, gesture: str = ""
) -> SheetRecord:
    """Save a change that was made to revision base, as one step.

    Steps that were undone are dropped. A change of the same gesture as the newest step becomes
    part of that step, so that a drag is undone as one.
    Raises StaleError if the sheet has changed since base.
    """
    with transaction(db):
        _require(db, sheet)
        HISTORY.change(db, sheet_id, base, sheet, words, gesture)
        _note_photo(db, sheet_id, sheet)
    return one(db, sheet_id)


def add_file(db: Connection, file: SheetFile) -> SheetRecord:
    """Put the sheet of a sheet file on the shelf, with its photos; all of it or nothing.

    A photo that is here already keeps what is said of it here. Raises PhotoError if a photo cannot
    be drawn from.
    """
    rows = [
        photos.prepared(photo.data, photo.words.title, photo.words.caption)
        for photo in file.photos.values()
    ]
    with transaction(db):
        for row in rows:
            photos.put(db, row)
        pieces.put_all(db, file.hand)
        fonts.put_all(db, file.fonts)
        return add(db, file.sheet)


def as_file(db: Connection, sheet_id: int) -> SheetFile:
    """A sheet as it is now, with its photos and hand work."""
    with transaction(db):
        sheet = one(db, sheet_id).sheet
        records = [photos.one(db, photo) for photo in sheet.photos]
        packed = {
            record.id: PackedPhoto(
                photos.original(db, record.id),
                PhotoWords(title=record.title, caption=record.caption),
            )
            for record in records
        }
        hand = with_parts(sheet.hand_work, partial(pieces.get, db))
        used = {font: fonts.get(db, font) for font in sheet.fonts}
        return SheetFile(sheet, packed, hand, used)


def undo(db: Connection, sheet_id: int) -> SheetRecord:
    """Go back one step; at the first there is nothing to undo and nothing changes."""
    return _stepped(db, sheet_id, -1)


def redo(db: Connection, sheet_id: int) -> SheetRecord:
    """Do the next undone step again; without one nothing changes."""
    return _stepped(db, sheet_id, +1)


def go_to(db: Connection, sheet_id: int, number: int) -> SheetRecord:
    """Go back or forth to a step. Raises NotFoundError where there is none of that number."""
    with transaction(db):
        HISTORY.row(db, sheet_id)
        if not _moved(db, sheet_id, HISTORY.move_to(db, sheet_id, number)):
            raise NotFoundError("This step is not there any more: other work came in its place.")
    return one(db, sheet_id)


def steps(db: Connection, sheet_id: int) -> list[StepRecord]:
    """Every step that led here and every one that was undone, in order."""
    here = HISTORY.row(db, sheet_id)["step"]
    return [
        StepRecord(
            number=row["number"],
            words=row["words"],
            made_at=row["made_at"],
            is_here=row["number"] == here,
        )
        for row in db.execute(STEPS, {"sheet_id": sheet_id})
    ]


def one(db: Connection, sheet_id: int) -> SheetRecord:
    """A sheet as it is now, with sheets within it that are to follow theirs as those are now."""
    record = _record(HISTORY.row(db, sheet_id))
    sheet = renewed(record.sheet, lambda number: _record(HISTORY.row(db, number)).sheet)
    if sheet is record.sheet:
        return record
    mark = mark_of(sheet.model_dump_json())
    return record.model_copy(update={"sheet": sheet, "mark": mark})


def every(db: Connection) -> list[SheetRecord]:
    """All sheets that can be read, last touched first."""
    return readable(db.execute(ALL), _record)


def set_removed(db: Connection, sheet_id: int, removed: bool) -> None:
    """Take a sheet off the shelf, or put it back."""
    with transaction(db):
        row = {"sheet_id": sheet_id, "removed_at": now_utc() if removed else None}
        if db.execute(REMOVE, row).rowcount == 0:
            raise NotFoundError(f"There is no sheet {sheet_id}.")


def _require(db: Connection, sheet: Sheet) -> None:
    """Raise what says why a sheet could not be drawn with what is here."""
    pieces.require(db, sheet.hand_work)
    fonts.require(db, sheet.fonts)
    for picture in sheet.pictures:
        size = photos.size(db, picture.photo)
        if size is not None:
            picture.crop.check_on(*size)
    for photo in sheet.photos:
        if photo != sheet.picture.photo and photos.size(db, photo) is None:
            raise NotFoundError("A photo of this sheet is not here. Bring it in first.")


def _stepped(db: Connection, sheet_id: int, by: int) -> SheetRecord:
    with transaction(db):
        _moved(db, sheet_id, HISTORY.step_by(db, sheet_id, by))
    return one(db, sheet_id)


def _moved(db: Connection, sheet_id: int, document: str | None) -> bool:
    """Note the photo of the document that a sheet was moved to, if it was."""
    if document is not None:
        _note_photo(db, sheet_id, parsed(Sheet, document))
    return document is not None


def _note_photo(db: Connection, sheet_id: int, sheet: Sheet) -> None:
    db.execute(OF_PHOTO, {"sheet_id": sheet_id, "photo_id": sheet.picture.photo})


def _record(row: Row) -> SheetRecord:
    return SheetRecord(
        id=row["id"],
        revision=row["revision"],
        mark=mark_of(row["document_json"]),
        touched_at=row["touched_at"],
        sheet=parsed(Sheet, row["document_json"]),
        undo=row["words"] if row["step"] > 0 else None,
        redo=row["redo_words"],
    )
