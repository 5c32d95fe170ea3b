"""A safe place for a whole studio: a consistent copy while it runs, and the way back."""

import contextlib
import os
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from flinz.errors import StoreError
from flinz.store.database import connect, connect_aside, shipped_migrations
from flinz.store.opening import OURS, STORE, make_folder
from flinz.store.whole import whole_file


def back_up(folder: Path, target: Path) -> None:
    """Copy the store of a data folder into one file, whole or not at all.

    Whoever works on it meanwhile goes on; the copy is as the store was at one moment.
    Raises StoreError if there is no store, or the copy cannot be written.
    """
    source = folder / STORE
    if not source.is_file():
        raise StoreError(f"There is no Flinz data in {folder}.")
    with contextlib.closing(connect(source)) as db, _written(target) as part:
        with contextlib.closing(sqlite3.connect(part)) as copy:
            db.backup(copy)
            # One file that stands alone, not one that waits for its journal.
            copy.execute("PRAGMA journal_mode = DELETE")
        _check(part, target)


def bring_back(source: Path, folder: Path) -> None:
    """Make a data folder from a copy. A folder that has a store already is left as it is.

    Raises StoreError if the copy is none, is damaged or is from a newer Flinz.
    """
    target = folder / STORE
    if not source.is_file():
        raise StoreError(f"There is no file {source}.")
    if target.exists():
        raise StoreError(
            f"There is Flinz data in {folder} already; it was left as it is. Name an empty folder."
        )
    _check(source, source)
    make_folder(folder)
    with (
        _written(target) as part,
        contextlib.closing(connect_aside(source, immutable=True)) as db,
        contextlib.closing(sqlite3.connect(part)) as copy,
    ):
        db.backup(copy)


def _check(path: Path, shown: Path) -> None:
    try:
        with contextlib.closing(connect_aside(path, immutable=True)) as db:
            version = db.execute("PRAGMA user_version").fetchone()[0]
            names = {row[0] for row in db.execute("SELECT name FROM sqlite_master")}
            fault = db.execute("PRAGMA quick_check(1)").fetchone()[0]
    except (StoreError, sqlite3.DatabaseError) as error:
        raise StoreError(f"{shown} is no copy of a Flinz studio, or it is damaged.") from error
    if not names >= OURS:
        raise StoreError(f"{shown} is no copy of a Flinz studio.")
    if fault != "ok":
        raise StoreError(f"{shown} is damaged ({fault}).")
    if version > len(shipped_migrations()):
        raise StoreError(f"{shown} was written by a newer Flinz. Update Flinz to bring it back.")


@contextlib.contextmanager
def _written(target: Path) -> Iterator[Path]:
    """A whole file that SQLite writes, synced to disk before it takes the target's place."""
    with whole_file(target) as part:
        try:
            yield part
        except sqlite3.OperationalError as error:
            raise StoreError(f"{target} cannot be written: {error}.") from error
        with part.open("rb") as file:
            os.fsync(file.fileno())
