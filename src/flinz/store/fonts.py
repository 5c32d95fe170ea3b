"""Fonts that somebody brought: their bytes, once per content."""

import hashlib
from collections.abc import Iterable, Mapping
from sqlite3 import Connection

from pydantic import BaseModel

from flinz.core.ground.faces import brought
from flinz.errors import DocumentError, NotFoundError
from flinz.store.database import now_utc, transaction

MAX_FONTS = 200
ADD = """
    INSERT INTO font (id, name, bytes, added_at) VALUES (:id, :name, :bytes, :at)
    ON CONFLICT (id) DO NOTHING
"""
ALL = "SELECT id, name FROM font ORDER BY name, id"
ONE = "SELECT id, name FROM font WHERE id = :id"
BYTES = "SELECT bytes FROM font WHERE id = :id"
COUNT = "SELECT count(*) FROM font"


class FontRecord(BaseModel):
    """A font by its id, and what it is called."""

    id: str
    name: str


def add(db: Connection, data: bytes, name: str) -> FontRecord:
    """Keep a font. The same bytes again give the one that is there.

    Raises DocumentError for what cannot be set, or must not be put into other files.
    """
    named = brought(data).name or name
    row = {"id": hashlib.sha256(data).hexdigest(), "name": named[:120], "bytes": data}
    with transaction(db):
        if db.execute(COUNT).fetchone()[0] >= MAX_FONTS:
            raise DocumentError(f"There are {MAX_FONTS} fonts here, which is as many as are kept.")
        db.execute(ADD, row | {"at": now_utc()})
    return one(db, row["id"])  # type: ignore[arg-type]


def every(db: Connection) -> list[FontRecord]:
    """All fonts, by name."""
    return [FontRecord(**dict(row)) for row in db.execute(ALL)]


def one(db: Connection, font_id: str) -> FontRecord:
    """A font's record. Raises NotFoundError."""
    row = db.execute(ONE, {"id": font_id}).fetchone()
    if row is None:
        raise NotFoundError("A font of this sheet is not here. Bring it in, or choose a face.")
    return FontRecord(**dict(row))


def get(db: Connection, font_id: str) -> bytes:
    """A font's bytes. Raises NotFoundError."""
    one(db, font_id)
    return bytes(db.execute(BYTES, {"id": font_id}).fetchone()["bytes"])


def put_all(db: Connection, fonts: Mapping[str, bytes]) -> None:
    """Keep fonts that came with a sheet file. Raises DocumentError as add does."""
    for data in fonts.values():
        add(db, data, "Font")


def require(db: Connection, ids: Iterable[str]) -> None:
    """Raise NotFoundError for a font that is not here."""
    for font_id in ids:
        one(db, font_id)
