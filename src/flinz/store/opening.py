"""Opens the store of a data folder for a server: is it ours, is it whole, can it be written?"""

import contextlib
import sqlite3
from pathlib import Path
from sqlite3 import Connection

from flinz.errors import StoreError
from flinz.store import pieces
from flinz.store.claim import Claim
from flinz.store.database import connect, connect_aside, migrate, shipped_migrations

STORE = "flinz.sqlite3"
OURS = {"photo", "sheet", "step"}
RESCUE = "`flinz rescue` copies what can be read into a new folder."
# What is in the tables, in the words of the page.
WORDS = {
    "photo": "photos",
    "sheet": "sheets",
    "step": "the steps of sheets",
    "pull": "pulls",
    "recipe": "recipes",
    "piece": "hand work",
    "font": "fonts",
    "edition": "editions",
    "edition_step": "the steps of editions",
    "edition_file": "what was drawn of editions",
    "job": "jobs",
}
# How many faults are looked for: one says enough.
FAULTS = 1


class Store:
    """The store of a data folder, held while it is served.

    read_only: why nothing can be saved, as a sentence; empty where all is well.
    """

    def __init__(self, folder: Path, address: str = "") -> None:
        """Raises StoreError if there is none that can be opened, or another server has it."""
        make_folder(folder)
        self.path = folder / STORE
        self._claim = Claim(folder, address)
        try:
            self.read_only = opened(self.path)
            # While one connection is open, others can read without a byte left on the disk.
            self._held = self.connect()
            self._held.execute("SELECT count(*) FROM sqlite_schema").fetchone()
        except BaseException:
            self._claim.release()
            raise

    def connect(self) -> Connection:
        """A connection, for one user at a time. Raises StoreError."""
        return connect_aside(self.path) if self.read_only else connect(self.path)

    def close(self) -> None:
        """Let others have the folder."""
        self._held.close()
        self._claim.release()


def make_folder(folder: Path) -> None:
    """Make a data folder where there is none. Raises StoreError."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreError(f"The folder {folder} cannot be made: {error.strerror}.") from error


def opened(path: Path) -> str:
    """Bring a store up to date; why that can only be read, or nothing.

    Raises StoreError if it is another program's, a newer Flinz's, or so damaged that nothing of it
    can be opened; none of these is changed.
    """
    if path.is_file() and path.stat().st_size > 0:
        check_ours(path)
        fault = damage(path)
        if fault:
            return f"{fault} What can be read is shown, and nothing can be changed. {RESCUE}"
    try:
        with contextlib.closing(connect(path)) as db:
            migrate(db)
            pieces.sweep(db)
    except StoreError as error:
        if not _is_current(path):
            raise
        return f"{error} What is there is shown, and nothing can be changed."
    return ""


def check_ours(path: Path) -> None:
    """Raise StoreError, without touching the file, if it holds tables and none of them is ours."""
    with contextlib.closing(connect_aside(path, immutable=True)) as db:
        names = {row["name"] for row in db.execute("SELECT name FROM sqlite_schema")}
    if names and not names >= OURS:
        raise StoreError(
            f"{path} is a database of another program. It was left untouched. Name another folder "
            "with --data."
        )


def damage(path: Path) -> str:
    """What of a store is damaged, as a sentence; nothing where all of it is whole.

    Raises StoreError where nothing of it can be read.
    """
    with contextlib.closing(connect_aside(path)) as db:
        if _is_whole(db):
            return ""
        named = [words for table, words in WORDS.items() if not _is_whole(db, table)]
    return f"The store is damaged, in: {', '.join(named) or 'the store itself'}."


def _is_whole(db: Connection, table: str = "") -> bool:
    try:
        found = db.execute(f"PRAGMA quick_check({table or FAULTS})").fetchone()
    except sqlite3.DatabaseError:
        return False
    # A table that an older Flinz did not have yet is none that is damaged.
    return found is None or found[0] == "ok"


def _is_current(path: Path) -> bool:
    try:
        with contextlib.closing(connect_aside(path)) as db:
            return bool(
                db.execute("PRAGMA user_version").fetchone()[0] == len(shipped_migrations())
            )
    except (StoreError, sqlite3.DatabaseError):
        return False
