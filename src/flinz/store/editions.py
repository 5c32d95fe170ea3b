"""Editions: the newest document, the steps that led to it, and what became of each file."""

from sqlite3 import Connection, Row
from typing import Literal

from pydantic import BaseModel

from flinz.core.document.reading import parsed
from flinz.core.edition.plan import Edition
from flinz.errors import NotFoundError
from flinz.store import photos
from flinz.store.database import now_utc, transaction
from flinz.store.history import History
from flinz.store.unreadable import readable

HISTORY = History("edition", "edition_step")
ADD = "INSERT INTO edition (revision, step, made_at, touched_at) VALUES (1, 0, :at, :at)"
ALL = f"""
    {HISTORY.joined} WHERE edition.removed_at IS NULL
    ORDER BY edition.touched_at DESC, edition.id DESC
"""
REMOVE = "UPDATE edition SET removed_at = :removed_at WHERE id = :id"
FILES = """
    SELECT entry, mark, state, message, seconds FROM edition_file WHERE edition_id = :edition_id
"""
NOTE_FILE = """
    INSERT INTO edition_file (edition_id, entry, mark, state, message, seconds)
    VALUES (:edition_id, :entry, :mark, :state, :message, :seconds)
    ON CONFLICT (edition_id, entry) DO UPDATE SET mark = excluded.mark, state = excluded.state,
        message = excluded.message, seconds = excluded.seconds
"""
FORGET_FILES = "DELETE FROM edition_file WHERE edition_id = :edition_id"


class Kept(BaseModel):
    """A stored edition. undo and redo say in words what they would undo or do again."""

    id: int
    revision: int
    touched_at: str
    edition: Edition
    undo: str | None
    redo: str | None


class MadeFile(BaseModel):
    """What became of a photo's file. mark: of all that it was drawn from."""

    entry: int
    mark: str
    state: Literal["done", "failed"]
    message: str = ""
    seconds: float = 0.0


def add(db: Connection, edition: Edition) -> Kept:
    """Begin an edition."""
    with transaction(db):
        _require(db, edition)
        edition_id = db.execute(ADD, {"at": now_utc()}).lastrowid
        assert edition_id is not None  # noqa: S101  (SQLite gives one after every INSERT)
        HISTORY.begin(db, edition_id, edition)
    return one(db, edition_id)


def change(
    db: Connection, edition_id: int, base: int, edition: Edition, words: str, gesture: str = ""
) -> Kept:
    """Save a change that was made to revision base, as one step. Raises StaleError."""
    with transaction(db):
        _require(db, edition)
        HISTORY.change(db, edition_id, base, edition, words, gesture)
    return one(db, edition_id)


def undo(db: Connection, edition_id: int) -> Kept:
    """Go back one step; at the first nothing changes."""
    return _stepped(db, edition_id, -1)


def redo(db: Connection, edition_id: int) -> Kept:
    """Do the next undone step again; without one nothing changes."""
    return _stepped(db, edition_id, +1)


def one(db: Connection, edition_id: int) -> Kept:
    """An edition as it is now. Raises NotFoundError."""
    return _record(HISTORY.row(db, edition_id))


def every(db: Connection) -> list[Kept]:
    """All editions that can be read, last touched first."""
    return readable(db.execute(ALL), _record)


def set_removed(db: Connection, edition_id: int, removed: bool) -> None:
    """Take an edition off the shelf, or put it back; what is known of its files goes."""
    with transaction(db):
        row = {"id": edition_id, "removed_at": now_utc() if removed else None}
        if db.execute(REMOVE, row).rowcount == 0:
            raise NotFoundError(f"There is no edition {edition_id}.")
        db.execute(FORGET_FILES, {"edition_id": edition_id})


def files(db: Connection, edition_id: int) -> dict[int, MadeFile]:
    """What became of the files that were drawn, by the entry."""
    rows = db.execute(FILES, {"edition_id": edition_id})
    return {row["entry"]: MadeFile.model_validate(dict(row)) for row in rows}


def note_file(db: Connection, edition_id: int, made: MadeFile) -> None:
    """Note what became of a photo's file."""
    with transaction(db):
        db.execute(NOTE_FILE, {"edition_id": edition_id, **made.model_dump()})


def _require(db: Connection, edition: Edition) -> None:
    for entry in edition.entries:
        photos.one(db, entry.photo)


def _stepped(db: Connection, edition_id: int, by: int) -> Kept:
    with transaction(db):
        HISTORY.step_by(db, edition_id, by)
    return one(db, edition_id)


def _record(row: Row) -> Kept:
    return Kept(
        id=row["id"],
        revision=row["revision"],
        touched_at=row["touched_at"],
        edition=parsed(Edition, row["document_json"]),
        undo=row["words"] if row["step"] > 0 else None,
        redo=row["redo_words"],
    )
