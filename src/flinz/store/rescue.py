"""What can be read of a damaged store, copied into a new one, row by row."""

import contextlib
import itertools
import sqlite3
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection, Row

from flinz.errors import StoreError
from flinz.store.claim import Claim
from flinz.store.database import connect, connect_aside, migrate, transaction
from flinz.store.opening import STORE, WORDS, check_ours, make_folder

# In this order every row finds what it refers to.
TABLES = (
    "photo", "piece", "font", "recipe", "sheet", "step", "pull", "edition", "edition_step",
)  # fmt: skip
# Steps are numbered by what they are of.
STEPS = {"step": "sheet", "edition_step": "edition"}
BACK = """
    UPDATE {thing} SET step = coalesce(
        (SELECT max(number) FROM {steps} WHERE {thing}_id = {thing}.id AND number <= {thing}.step),
        (SELECT min(number) FROM {steps} WHERE {thing}_id = {thing}.id),
        step
    )
"""
# Of tables by number: how many missing ones in a row mean that there are no more.
GIVE_UP_AFTER = 20_000


@dataclass(frozen=True)
class Rescued:
    """How many rows came over, and how many could not be read or had lost what they refer to."""

    kept: dict[str, int]
    lost: dict[str, int]

    @property
    def sentence(self) -> str:
        """What came of it, for the person at the screen."""
        kept = ", ".join(f"{count:,} of {WORDS[table]}" for table, count in self.kept.items())
        lost = ", ".join(
            f"{count:,} of {WORDS[table]}" for table, count in self.lost.items() if count
        )
        return f"Rescued: {kept}. " + (f"Lost: {lost}." if lost else "Nothing was lost.")


def rescued(folder: Path, target: Path) -> Rescued:
    """Make a data folder of all that can be read in another; that one is left as it is.

    Raises StoreError if there is no store, nothing of it can be opened, or the target has one.
    """
    source, new = folder / STORE, target / STORE
    if not source.is_file():
        raise StoreError(f"There is no Flinz data in {folder}.")
    if new.exists():
        raise StoreError(f"There is Flinz data in {target} already. Name an empty folder.")
    check_ours(source)
    make_folder(target)
    claim = Claim(target)
    try:
        with (
            contextlib.closing(connect_aside(source)) as old,
            contextlib.closing(connect(new)) as db,
        ):
            migrate(db)
            # Rows come over first; those that lost what they refer to go after.
            db.execute("PRAGMA foreign_keys = OFF")
            with transaction(db):
                lost = {table: _copied(old, db, table) for table in TABLES}
                for table, count in _orphans_dropped(db).items():
                    lost[table] += count
            kept = {table: _count(db, table) for table in TABLES}
    finally:
        claim.release()
    return Rescued(kept, lost)


def _copied(old: Connection, db: Connection, table: str) -> int:
    """Copy what can be read of a table; how many rows could not be."""
    columns = [row["name"] for row in db.execute(f"PRAGMA table_info({table})")]
    there = {row["name"] for row in old.execute(f"PRAGMA table_info({table})")}
    shared = [column for column in columns if column in there]
    if not shared:
        return 0
    names, marks = ", ".join(shared), ", ".join("?" * len(shared))
    add = f"INSERT OR IGNORE INTO {table} ({names}) VALUES ({marks})"
    lost = 0
    for row in _rows(old, table, names):
        if row is None:
            lost += 1
            continue
        try:
            db.execute(add, tuple(row))
        except sqlite3.IntegrityError:
            # What is there breaks the rules of its table: it was damaged in itself.
            lost += 1
    return lost


def _rows(old: Connection, table: str, names: str) -> Iterator[Row | None]:
    """Every row that can be read; None for one that is there and cannot be."""
    if table in STEPS:
        yield from _steps(old, table, names)
        return
    try:
        highest = old.execute(f"SELECT max(rowid) FROM {table}").fetchone()[0] or 0
        numbers: Iterable[int] = range(1, highest + 1)
    except sqlite3.DatabaseError:
        highest, numbers = None, itertools.count(1)
    missing = 0
    for number in numbers:
        if highest is None and missing == GIVE_UP_AFTER:
            return
        try:
            row = old.execute(f"SELECT {names} FROM {table} WHERE rowid = ?", (number,)).fetchone()
        except sqlite3.DatabaseError:
            missing += 1
            # Where nobody knows how many there are, a stretch of them counts once.
            if highest is not None or missing == 1:
                yield None
            continue
        missing = 0 if row is not None else missing + 1
        if row is not None:
            yield row


def _steps(old: Connection, table: str, names: str) -> Iterator[Row | None]:
    """Steps are numbered by what they are of, within which they follow one another."""
    thing, things = STEPS[table], list[int]()
    try:
        things = [row[0] for row in old.execute(f"SELECT id FROM {thing}")]
    except sqlite3.DatabaseError:
        things = list(range(1, GIVE_UP_AFTER))
    for number in things:
        try:
            query = f"SELECT {names} FROM {table} WHERE {thing}_id = ?"
            yield from old.execute(query, (number,))
        except sqlite3.DatabaseError:
            yield None


def _orphans_dropped(db: Connection) -> dict[str, int]:
    """Take away what refers to rows that are gone; how many of each table."""
    gone = dict.fromkeys(TABLES, 0)
    # What has steps stands at the newest that is left.
    for steps, thing in STEPS.items():
        db.execute(BACK.format(steps=steps, thing=thing))
    for table, orphans in (
        ("sheet", "id NOT IN (SELECT sheet_id FROM step)"),
        ("sheet", "photo_id IS NOT NULL AND photo_id NOT IN (SELECT id FROM photo)"),
        ("step", "sheet_id NOT IN (SELECT id FROM sheet)"),
        ("pull", "sheet_id NOT IN (SELECT id FROM sheet)"),
        ("edition", "id NOT IN (SELECT edition_id FROM edition_step)"),
        ("edition_step", "edition_id NOT IN (SELECT id FROM edition)"),
    ):
        gone[table] += db.execute(f"DELETE FROM {table} WHERE {orphans}").rowcount
    return gone


def _count(db: Connection, table: str) -> int:
    return int(db.execute(f"SELECT count(*) FROM {table}").fetchone()[0])
