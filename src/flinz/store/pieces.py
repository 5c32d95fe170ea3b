"""Hand work: pieces under the hash of their bytes, kept while anything names them."""

import re
from collections.abc import Iterable, Mapping
from datetime import UTC, datetime, timedelta
from sqlite3 import Connection

from flinz.core.hand import pieces as hand
from flinz.errors import DocumentError, NotFoundError, StoreError
from flinz.store.database import now_utc, transaction

# All hand work of a studio.
MAX_BYTES = 4_000_000_000
# What is sent is named by a document soon after; what nobody has named by then is swept.
GRACE = timedelta(days=1)
ID = re.compile(r"[0-9a-f]{64}")
PUT = """
    INSERT INTO piece (id, bytes, size, touched_at) VALUES (:id, :bytes, :size, :at)
    ON CONFLICT (id) DO UPDATE SET touched_at = excluded.touched_at
"""
ONE = "SELECT bytes FROM piece WHERE id = :id"
HELD = "SELECT coalesce(sum(size), 0) FROM piece"
TOUCH = "UPDATE piece SET touched_at = :at WHERE id = :id"
IS_THERE = "SELECT 1 FROM piece WHERE id = :id"
ALL = "SELECT id, touched_at FROM piece"
DROP = "DELETE FROM piece WHERE id = :id"
# Whatever may name hand work; removed sheets, pulls and recipes too, since they can be put back.
NAMING = ("step", "pull", "recipe")


def put(db: Connection, piece_id: str, data: bytes) -> None:
    """Keep a piece under the hash of its bytes. The same again changes nothing.

    Raises DocumentError if the bytes are not those of the id or are no piece, StoreError if there
    is no room.
    """
    if hand.id_of(data) != piece_id:
        raise DocumentError(
            "This hand work is not what its name says: it was altered on its way. It was not kept."
        )
    hand.check(data)
    put_all(db, {piece_id: data})


def put_all(db: Connection, new: Mapping[str, bytes]) -> None:
    """Keep pieces that were written or checked by flinz.core.hand.pieces, all of them or none.

    Those that they name must be there then.
    """
    with transaction(db):
        held = _held(db) + sum(map(len, new.values()))
        if held > MAX_BYTES and sweep(db):
            held = _held(db) + sum(map(len, new.values()))
        if held > MAX_BYTES:
            raise StoreError(
                f"There would be {held / 1e9:.1f} GB of hand work; up to {MAX_BYTES / 1e9:.0f} GB "
                "are kept. Nothing was lost; delete sheets that you no longer need."
            )
        at = now_utc()
        for piece_id, data in new.items():
            row = {"id": piece_id, "bytes": data, "size": len(data), "at": at}
            db.execute(PUT, row)
        lacking = missing(db, (name for data in new.values() for name in hand.named_by(data)))
        if lacking:
            raise DocumentError(
                f"This hand work names {len(lacking)} pieces that are not here. Send those first."
            )


def get(db: Connection, piece_id: str) -> bytes:
    """The bytes of a piece. Raises NotFoundError."""
    row = db.execute(ONE, {"id": piece_id}).fetchone()
    if row is None:
        raise NotFoundError("There is no such hand work here.")
    return bytes(row["bytes"])


def missing(db: Connection, ids: Iterable[str]) -> list[str]:
    """Those of some ids that are not here, each once."""
    wanted = dict.fromkeys(ids)
    return [each for each in wanted if db.execute(IS_THERE, {"id": each}).fetchone() is None]


def announced(db: Connection, ids: Iterable[str]) -> list[str]:
    """Those of some ids that must be sent; the others stay while their document is on its way."""
    wanted = dict.fromkeys(ids)
    with transaction(db):
        db.executemany(TOUCH, [{"id": each, "at": now_utc()} for each in wanted])
        return missing(db, wanted)


def require(db: Connection, ids: Iterable[str]) -> None:
    """Raise DocumentError if hand work that a document names is not here."""
    lacking = missing(db, ids)
    if lacking:
        raise DocumentError(
            f"This sheet names hand work that is not here ({lacking[0][:12]}…). "
            "Nothing was changed."
        )


def sweep(db: Connection, now: datetime | None = None) -> int:
    """Forget what no step of history, pull or recipe names. Returns how many pieces went.

    An id is looked for in the text of the documents, so that one that cannot be read any more still
    keeps its hand work. What was touched within GRACE of now stays, with all that it names.
    """
    before = ((now or datetime.now(UTC)) - GRACE).isoformat(timespec="milliseconds")
    with transaction(db):
        touched = {row["id"]: row["touched_at"] for row in db.execute(ALL)}
        old = {piece_id for piece_id, at in touched.items() if at < before}
        if not old:
            return 0
        reached: set[str] = set()
        waiting = _named(db) | (touched.keys() - old)
        while waiting:
            piece_id = waiting.pop()
            row = db.execute(ONE, {"id": piece_id}).fetchone()
            if piece_id not in reached and row is not None:
                reached.add(piece_id)
                waiting |= set(hand.named_by(bytes(row["bytes"]))) - reached
        gone = old - reached
        db.executemany(DROP, [{"id": piece_id} for piece_id in gone])
        return len(gone)


def _held(db: Connection) -> int:
    return int(db.execute(HELD).fetchone()[0])


def _named(db: Connection) -> set[str]:
    named: set[str] = set()
    for table in NAMING:
        for row in db.execute(f"SELECT document_json FROM {table}"):
            named.update(ID.findall(row["document_json"]))
    return named
