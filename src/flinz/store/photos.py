"""Photos: original bytes, stored once per content."""

import hashlib
import json
from sqlite3 import Connection

from pydantic import BaseModel

from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.errors import NotFoundError
from flinz.store.database import now_utc, transaction

# Values of a photo by column.
Row = dict[str, object]

COLUMNS = "id, title, caption, format, width, height, notes_json, added_at"
ADD = """
    INSERT INTO photo (id, title, caption, format, width, height, notes_json, bytes, added_at)
    VALUES (:id, :title, :caption, :format, :width, :height, :notes_json, :bytes, :added_at)
    ON CONFLICT (id) DO UPDATE SET removed_at = NULL
"""
ALL = f"SELECT {COLUMNS} FROM photo WHERE removed_at IS NULL ORDER BY added_at DESC, rowid DESC"
ONE = f"SELECT {COLUMNS} FROM photo WHERE id = :id"
BYTES = "SELECT bytes FROM photo WHERE id = :id"
RENAME = "UPDATE photo SET title = :title, caption = :caption WHERE id = :id"
REMOVE = "UPDATE photo SET removed_at = :removed_at WHERE id = :id"


class PhotoRecord(BaseModel):
    """What is known of a stored photo. width and height are pixels, upright."""

    id: str
    title: str
    caption: str
    format: str
    width: int
    height: int
    notes: list[str]
    added_at: str


def add(db: Connection, data: bytes, title: str, caption: str = "") -> PhotoRecord:
    """Bring in a photo. The same bytes again give the photo that is there.

    Raises PhotoError if the bytes are no picture that can be drawn from.
    """
    return put(db, prepared(data, title, caption))


def prepared(data: bytes, title: str, caption: str = "") -> Row:
    """A photo as it will be stored, decoded to see that it can be. Raises PhotoError."""
    photo = decode(data, content_id(data))
    return {
        "id": photo.key,
        "title": title[:200],
        "caption": caption[:500],
        "format": photo.format,
        "width": photo.width,
        "height": photo.height,
        "notes_json": json.dumps(photo.notes),
        "bytes": data,
        "added_at": now_utc(),
    }


def put(db: Connection, row: Row) -> PhotoRecord:
    """Store a prepared photo."""
    with transaction(db):
        db.execute(ADD, row)
    return one(db, str(row["id"]))


def content_id(data: bytes) -> str:
    """The id that bytes are stored under."""
    return hashlib.sha256(data).hexdigest()


def every(db: Connection) -> list[PhotoRecord]:
    """All photos, newest first."""
    return [_record(row) for row in db.execute(ALL)]


def one(db: Connection, photo_id: str) -> PhotoRecord:
    """One photo's record, removed or not."""
    row = db.execute(ONE, {"id": photo_id}).fetchone()
    if row is None:
        raise NotFoundError("There is no such photo here. It may have been removed.")
    return _record(row)


def size(db: Connection, photo_id: str) -> tuple[int, int] | None:
    """Width and height in pixels, upright; None where there is no such photo."""
    row = db.execute(ONE, {"id": photo_id}).fetchone()
    return None if row is None else (int(row["width"]), int(row["height"]))


def original(db: Connection, photo_id: str) -> bytes:
    """The bytes as they were brought in."""
    row = db.execute(BYTES, {"id": photo_id}).fetchone()
    if row is None:
        raise NotFoundError("There is no such photo here. It may have been removed.")
    return bytes(row["bytes"])


def loaded(db: Connection, photo_id: str, least_px: int | None = None) -> Photo:
    """The decoded photo; with least_px of its long edge it may have fewer pixels than the file."""
    return decode(original(db, photo_id), photo_id, least_px)


def rename(db: Connection, photo_id: str, title: str, caption: str) -> PhotoRecord:
    """Give a photo another title and caption. Raises NotFoundError."""
    with transaction(db):
        db.execute(RENAME, {"id": photo_id, "title": title, "caption": caption})
    return one(db, photo_id)


def set_removed(db: Connection, photo_id: str, removed: bool) -> None:
    """Take a photo off the shelf, or put it back. Sheets that use it keep working."""
    with transaction(db):
        row = {"id": photo_id, "removed_at": now_utc() if removed else None}
        if db.execute(REMOVE, row).rowcount == 0:
            raise NotFoundError("There is no such photo here.")


def _record(row: dict[str, object]) -> PhotoRecord:
    values = dict(row)
    notes = json.loads(str(values.pop("notes_json")))
    return PhotoRecord.model_validate({**values, "notes": notes})
