"""Work on a store in a process of its own, which is killed in the midst of it."""

import multiprocessing
import os
import signal
import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any

# A child is forked from a process that has all of this loaded and nothing running.
PROCESSES = multiprocessing.get_context("forkserver")
PROCESSES.set_forkserver_preload(
    ["flinz.store.sheets", "flinz.store.backup", "tests.store.crashes"]
)

Work = Callable[..., Any]


def survives(work: Work, path: Path, *arguments: Any, statement: int) -> bool:
    """Do work on a store and die before its n-th statement; whether it ended before that."""
    child = PROCESSES.Process(target=_dying, args=(work, path, arguments, statement))
    child.start()
    child.join(60)
    return child.exitcode == 0


def killed_after(work: Work, *arguments: Any, seconds: float) -> bool:
    """Do work and be killed after a while; whether it had ended before that."""
    child = PROCESSES.Process(target=work, args=arguments)
    child.start()
    child.join(seconds)
    child.kill()
    child.join(60)
    return child.exitcode == 0


def _dying(work: Work, path: Path, arguments: tuple[Any, ...], statement: int) -> None:
    from flinz.store import database

    counted = 0

    def die(sql: str) -> None:
        nonlocal counted
        counted += 1
        if counted == statement:
            os.kill(os.getpid(), signal.SIGKILL)

    db = database.connect(path)
    db.set_trace_callback(die)
    work(db, *arguments)
    db.set_trace_callback(None)
    db.close()


def upgrade(db: sqlite3.Connection) -> None:
    """Bring a store up to date, then change, pull and undo an upgraded sheet."""
    from flinz.store import database, pulls, sheets

    database.migrate(db)
    record = sheets.one(db, 1)
    changed = record.sheet.model_copy(update={"title": "After the upgrade"})
    record = sheets.change(db, 1, record.revision, changed, "Title")
    pulls.keep(db, 1, "Pull", record.sheet)
    sheets.undo(db, 1)


def paint(db: sqlite3.Connection, strokes: int) -> None:
    """Add strokes to a sheet, one a step, and sweep."""
    from datetime import UTC, datetime, timedelta

    from flinz.core.hand import pieces as lists
    from flinz.store import pieces, sheets

    for number in range(strokes):
        record = sheets.one(db, 1)
        plate = record.sheet.plates[0]
        edited = lists.appended(
            plate.hand.get("tone"), [made(number)], lambda piece: pieces.get(db, piece)
        )
        pieces.put_all(db, edited.new)
        plate = plate.model_copy(update={"hand": {"tone": edited.id}})
        sheet = record.sheet.model_copy(update={"plates": [plate, *record.sheet.plates[1:]]})
        sheets.change(db, 1, record.revision, sheet, f"darken {number}")
        pieces.sweep(db, datetime.now(UTC) + timedelta(days=9))


def made(number: int) -> Any:
    """A short stroke of its own."""
    import numpy as np

    from flinz.core.hand.strokes import Brush, Stroke

    return Stroke(Brush(verb="darken"), np.full((3, 3), 0.1 + number / 1000))


def back_up(folder: Path, target: Path) -> None:
    """Copy a studio."""
    from flinz.store import backup

    backup.back_up(folder, target)


def bring_back(source: Path, folder: Path) -> None:
    """Make a studio from a copy."""
    from flinz.store import backup

    backup.bring_back(source, folder)
