"""Ink pots: colours that somebody mixed and named."""

from sqlite3 import Connection

from pydantic import BaseModel

from flinz.errors import DocumentError, NotFoundError
from flinz.store.database import now_utc, transaction

MAX_POTS = 60
ADD = "INSERT INTO pot (name, colour, made_at) VALUES (:name, :colour, :at)"
ALL = "SELECT id, name, colour FROM pot ORDER BY id"
COUNT = "SELECT count(*) FROM pot"
REMOVE = "DELETE FROM pot WHERE id = :id"


class PotRecord(BaseModel):
    """A named colour, #rrggbb."""

    id: int
    name: str
    colour: str


def every(db: Connection) -> list[PotRecord]:
    """All own pots, first mixed first."""
    return [PotRecord(**dict(row)) for row in db.execute(ALL)]


def add(db: Connection, name: str, colour: str) -> PotRecord:
    """Keep a colour by a name. Raises DocumentError where there are too many."""
    with transaction(db):
        if db.execute(COUNT).fetchone()[0] >= MAX_POTS:
            raise DocumentError(f"There are {MAX_POTS} pots on the shelf. Take one away first.")
        row = {"name": name, "colour": colour, "at": now_utc()}
        pot_id = db.execute(ADD, row).lastrowid
    assert pot_id is not None  # noqa: S101  (SQLite gives one after every INSERT)
    return PotRecord(id=pot_id, name=name, colour=colour)


def remove(db: Connection, pot_id: int) -> None:
    """Take a pot away. Sheets that print its colour keep it."""
    with transaction(db):
        if db.execute(REMOVE, {"id": pot_id}).rowcount == 0:
            raise NotFoundError("There is no such pot.")
