"""Pulls: versions of a sheet that were kept, to compare with and to go back to."""

from sqlite3 import Connection, Row

from pydantic import BaseModel

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.errors import NotFoundError
from flinz.store.database import now_utc, transaction
from flinz.store.marks import mark_of
from flinz.store.unreadable import readable

ADD = """
    INSERT INTO pull (sheet_id, name, document_json, made_at)
    VALUES (:sheet_id, :name, :document_json, :at)
"""
COLUMNS = "id, sheet_id, name, document_json, made_at"
ALL = f"""
    SELECT {COLUMNS} FROM pull WHERE sheet_id = :sheet_id AND removed_at IS NULL
    ORDER BY id DESC
"""
ONE = f"SELECT {COLUMNS} FROM pull WHERE sheet_id = :sheet_id AND id = :id"
RENAME = "UPDATE pull SET name = :name WHERE sheet_id = :sheet_id AND id = :id"
REMOVE = "UPDATE pull SET removed_at = :removed_at WHERE sheet_id = :sheet_id AND id = :id"


class PullRecord(BaseModel):
    """A kept version of a sheet. mark: of its document, in any data folder."""

    id: int
    mark: str
    name: str
    made_at: str
    sheet: Sheet


def every(db: Connection, sheet_id: int) -> list[PullRecord]:
    """A sheet's pulls that can be read, newest first."""
    return readable(db.execute(ALL, {"sheet_id": sheet_id}), _record)


def one(db: Connection, sheet_id: int, pull_id: int) -> PullRecord:
    """One pull. Raises NotFoundError."""
    row = db.execute(ONE, {"sheet_id": sheet_id, "id": pull_id}).fetchone()
    if row is None:
        raise NotFoundError("There is no such pull of this sheet.")
    return _record(row)


def keep(db: Connection, sheet_id: int, name: str, sheet: Sheet) -> PullRecord:
    """Keep a version under a name."""
    row = {
        "sheet_id": sheet_id,
        "name": name,
        "document_json": sheet.model_dump_json(),
        "at": now_utc(),
    }
    with transaction(db):
        pull_id = db.execute(ADD, row).lastrowid
    assert pull_id is not None  # noqa: S101  (SQLite gives one after every INSERT)
    return one(db, sheet_id, pull_id)


def rename(db: Connection, sheet_id: int, pull_id: int, name: str) -> PullRecord:
    """Give a pull another name."""
    with transaction(db):
        db.execute(RENAME, {"sheet_id": sheet_id, "id": pull_id, "name": name})
    return one(db, sheet_id, pull_id)


def set_removed(db: Connection, sheet_id: int, pull_id: int, removed: bool) -> None:
    """Delete a pull, or bring it back."""
    row = {"sheet_id": sheet_id, "id": pull_id, "removed_at": now_utc() if removed else None}
    with transaction(db):
        if db.execute(REMOVE, row).rowcount == 0:
            raise NotFoundError("There is no such pull of this sheet.")


def _record(row: Row) -> PullRecord:
    return PullRecord(
        id=row["id"],
        mark=mark_of(row["document_json"]),
        name=row["name"],
        made_at=row["made_at"],
        sheet=parsed(Sheet, row["document_json"]),
    )
