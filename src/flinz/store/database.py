"""Opens the SQLite file, brings its schema up to date, and runs transactions."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path
from sqlite3 import Connection

from flinz.errors import StoreError

BUSY_SECONDS = 20
# Refusals that are mistakes of this program, and say nothing of the disk.
MISTAKES = (sqlite3.IntegrityError, sqlite3.ProgrammingError)


def connect(path: Path | str) -> Connection:
    """Open a database for use, in WAL mode with foreign keys on.

    The connection may be used from another thread than the one that opened it, by one at a time.
    Raises StoreError if the file is no database or cannot be opened.
    """
    try:
        db = sqlite3.connect(
            path, timeout=BUSY_SECONDS, isolation_level=None, check_same_thread=False
        )
        db.row_factory = sqlite3.Row
        db.execute("PRAGMA foreign_keys = ON")
        db.execute("PRAGMA journal_mode = WAL")
        # A change that was acknowledged must survive a power cut too.
        db.execute("PRAGMA synchronous = FULL")
    except sqlite3.DatabaseError as error:
        raise said(error, str(path)) from error
    return db


def connect_aside(path: Path, *, immutable: bool = False) -> Connection:
    """Open a database only to read it, on a full or read-only disk too.

    immutable: as the file is, leaving what a journal beside it may hold; nothing is made beside it
    then. Raises StoreError if it is no database or cannot be opened.
    """
    file = path.absolute().as_uri()
    journal = path.with_name(f"{path.name}-wal")
    aside = f"{file}?mode=ro&immutable=1"
    if immutable:
        ways = [aside]
    elif journal.is_file() and journal.stat().st_size > 0:
        # Where the journal's index cannot be made on disk, it is kept in memory.
        ways = [file, f"{file}?vfs=unix-excl"]
    else:
        ways = [file, aside]
    failure: sqlite3.DatabaseError | None = None
    for way in ways:
        db = sqlite3.connect(
            way, uri=True, timeout=BUSY_SECONDS, isolation_level=None, check_same_thread=False
        )
        try:
            db.row_factory = sqlite3.Row
            db.execute("PRAGMA query_only = ON")
            db.execute("SELECT count(*) FROM sqlite_schema").fetchone()
            return db
        except sqlite3.DatabaseError as error:
            db.close()
            failure = error
    raise said(failure or sqlite3.DatabaseError("no way in"), str(path))


def migrate(db: Connection, migrations: list[str] | None = None) -> None:
    """Apply the steps this store has not had, each with its number in one transaction.

    Raises StoreError, leaving the file untouched, if a newer Flinz wrote it.
    """
    steps = shipped_migrations() if migrations is None else migrations
    done = db.execute("PRAGMA user_version").fetchone()[0]
    if done > len(steps):
        raise StoreError(
            f"This store was written by a newer Flinz (schema {done}; this one knows "
            f"{len(steps)}). It was left untouched. Update Flinz to open it."
        )
    for number, statements in enumerate(steps[done:], start=done + 1):
        with transaction(db):
            for statement in _parted(statements):
                db.execute(statement)
            db.execute(f"PRAGMA user_version = {number}")


def _parted(text: str) -> Iterator[str]:
    """The statements of a schema file; a semicolon in a text or a trigger parts none."""
    statement = ""
    for part in text.split(";"):
        statement += f"{part};"
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""


def shipped_migrations() -> list[str]:
    """The schema files in order."""
    folder = resources.files("flinz.store") / "schema"
    files = sorted((f for f in folder.iterdir() if f.name.endswith(".sql")), key=lambda f: f.name)
    return [file.read_text() for file in files]


@contextmanager
def transaction(db: Connection) -> Iterator[Connection]:
    """All of the block or nothing of it; within another, part of that one.

    Raises StoreError when the disk refuses.
    """
    if db.in_transaction:
        yield db
        return
    try:
        db.execute("BEGIN IMMEDIATE")
        yield db
        db.execute("COMMIT")
    except BaseException as error:
        # A full disk may already have rolled the transaction back.
        if db.in_transaction:
            db.execute("ROLLBACK")
        if isinstance(error, sqlite3.DatabaseError) and not isinstance(error, MISTAKES):
            raise said(error, "The store") from error
        raise


def said(error: sqlite3.DatabaseError, place: str) -> StoreError:
    """What a refusal of the store means, in a sentence."""
    text = str(error)
    if "full" in text:
        return StoreError(
            "The disk is full, so this change was not saved; everything before it is safe. "
            "Free some space, then try again."
        )
    if "locked" in text or "busy" in text:
        return StoreError("The store is in use by another program. Try again in a moment.")
    if "not a database" in text:
        return StoreError(f"{place} is not a Flinz store. It was left untouched.")
    if "readonly" in text:
        return StoreError(
            "The store can only be read, so this change was not saved; everything before it is "
            "there. Look whether its folder or disk is read-only."
        )
    if "malformed" in text:
        return StoreError(
            f"{place} is damaged, so that this cannot be read. `flinz rescue` copies what can be "
            "read into a new folder."
        )
    if "disk I/O" in text or "unable to open" in text:
        return StoreError(
            f"{place} cannot be used: the disk refuses ({text}). Look whether it is full, "
            "read-only or gone."
        )
    return StoreError(f"{place} cannot be used ({text}).")


def now_utc() -> str:
    """The present moment as ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")
