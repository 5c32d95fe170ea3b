"""How each sheet left last: what was wished of its file, as JSON."""

from sqlite3 import Connection

from flinz.store.database import transaction

ONE = "SELECT wish_json FROM leaving WHERE sheet_id = :sheet_id"
KEEP = """
    INSERT INTO leaving (sheet_id, wish_json) VALUES (:sheet_id, :wish_json)
    ON CONFLICT (sheet_id) DO UPDATE SET wish_json = excluded.wish_json
"""


def last(db: Connection, sheet_id: int) -> str | None:
    """What was wished last; None where the sheet never left."""
    row = db.execute(ONE, {"sheet_id": sheet_id}).fetchone()
    return str(row["wish_json"]) if row is not None else None


def keep(db: Connection, sheet_id: int, wish_json: str) -> None:
    """Remember what is wished of a sheet that is there."""
    with transaction(db):
        db.execute(KEEP, {"sheet_id": sheet_id, "wish_json": wish_json})
