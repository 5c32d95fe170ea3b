"""Sheets: the newest document, every step that led to it, and undo."""

from functools import partial
from sqlite3 import Connection, Row

from pydantic import BaseModel

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile
from flinz.core.hand.pieces import with_parts
from flinz.errors import NotFoundError, StaleError
from flinz.store import fonts, photos, pieces
from flinz.store.database import now_utc, transaction
from flinz.store.marks import mark_of
from flinz.store.unreadable import readable
from flinz.store.within import renewed

ADD = """
    INSERT INTO sheet (photo_id, revision, step, made_at, touched_at)
    VALUES (:photo_id, 1, 0, :at, :at)
"""
ADD_STEP = """
    INSERT INTO step (sheet_id, number, words, gesture, document_json, made_at)
    VALUES (:sheet_id, :number, :words, :gesture, :document_json, :at)
"""
CHANGE_STEP = """
    UPDATE step SET words = :words, document_json = :document_json, made_at = :at
    WHERE sheet_id = :sheet_id AND number = :number
"""
DROP_LATER = "DELETE FROM step WHERE sheet_id = :sheet_id AND number > :number"
MOVE = """
    UPDATE sheet SET revision = revision + 1, step = :number, photo_id = :photo_id,
        touched_at = :at
    WHERE id = :sheet_id
"""
ONE = """
    SELECT sheet.id, sheet.revision, sheet.step, sheet.touched_at, sheet.photo_id,
        here.document_json, here.words, here.gesture, later.words AS redo_words
    FROM sheet
    JOIN step AS here ON here.sheet_id = sheet.id AND here.number = sheet.step
    LEFT JOIN step AS later ON later.sheet_id = sheet.id AND later.number = sheet.step + 1
"""
ONE_BY_ID = f"{ONE} WHERE sheet.id = :sheet_id"
ALL = f"{ONE} WHERE sheet.removed_at IS NULL ORDER BY sheet.touched_at DESC, sheet.id DESC"
STEP_DOCUMENT = """
    SELECT document_json FROM step WHERE sheet_id = :sheet_id AND number = :number
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
        _add_step(db, sheet_id, 0, "Begin", "", sheet, at)
    return one(db, sheet_id)


def change(
    db: Connection, sheet_id: int, base: int, sheet: Sheet, words: str, gesture: str = ""
) -> SheetRecord:
    """Save a change that was made to revision base, as one step.

    Steps that were undone are dropped. A change of the same gesture as the newest step becomes
    part of that step, so that a drag is undone as one.
    Raises StaleError if the sheet has changed since base.
    """
    at = now_utc()
    with transaction(db):
        _require(db, sheet)
        present = _row(db, sheet_id)
        if present["revision"] != base:
            raise StaleError(
                "This sheet was changed elsewhere (another tab or window) since it was opened "
                "here. Nothing was overwritten. Load the newest version to go on."
            )
        number = present["step"]
        db.execute(DROP_LATER, {"sheet_id": sheet_id, "number": number})
        if gesture and gesture == present["gesture"]:
            row = {
                "sheet_id": sheet_id,
                "number": number,
                "words": words,
                "document_json": sheet.model_dump_json(),
                "at": at,
            }
            db.execute(CHANGE_STEP, row)
        else:
            number += 1
            _add_step(db, sheet_id, number, words, gesture, sheet, at)
        _move(db, sheet_id, number, sheet, at)
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
        _row(db, sheet_id)
        if not _move_to(db, sheet_id, number):
            raise NotFoundError("This step is not there any more: other work came in its place.")
    return one(db, sheet_id)


def steps(db: Connection, sheet_id: int) -> list[StepRecord]:
    """Every step that led here and every one that was undone, in order."""
    here = _row(db, sheet_id)["step"]
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
    record = _record(_row(db, sheet_id))
    sheet = renewed(record.sheet, lambda number: _record(_row(db, number)).sheet)
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
        _move_to(db, sheet_id, _row(db, sheet_id)["step"] + by)
    return one(db, sheet_id)


def _move_to(db: Connection, sheet_id: int, number: int) -> bool:
    """Go to a step, if it is there."""
    found = db.execute(STEP_DOCUMENT, {"sheet_id": sheet_id, "number": number}).fetchone()
    if found is not None:
        _move(db, sheet_id, number, parsed(Sheet, found["document_json"]), now_utc())
    return found is not None


def _add_step(
    db: Connection, sheet_id: int, number: int, words: str, gesture: str, sheet: Sheet, at: str
) -> None:
    row = {
        "sheet_id": sheet_id,
        "number": number,
        "words": words,
        "gesture": gesture,
        "document_json": sheet.model_dump_json(),
        "at": at,
    }
    db.execute(ADD_STEP, row)


def _move(db: Connection, sheet_id: int, number: int, sheet: Sheet, at: str) -> None:
    row = {"sheet_id": sheet_id, "number": number, "photo_id": sheet.picture.photo, "at": at}
    db.execute(MOVE, row)


def _row(db: Connection, sheet_id: int) -> Row:
    row: Row | None = db.execute(ONE_BY_ID, {"sheet_id": sheet_id}).fetchone()
    if row is None:
        raise NotFoundError(f"There is no sheet {sheet_id}. It may have been deleted.")
    return row


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
