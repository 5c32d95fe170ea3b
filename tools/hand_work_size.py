"""Measure what hand work takes: 2,000 made strokes on a sheet, then 1,000 edits, each saved.

python tools/hand_work_size.py [POINTS] prints how large the store became and how long an edit took.
"""

import contextlib
import statistics
import sys
import tempfile
import time
from functools import partial
from pathlib import Path

import numpy as np

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand import pieces as lists
from flinz.core.hand.strokes import Brush, Stroke
from flinz.demo.scenario import picture
from flinz.store import photos, pieces, sheets
from flinz.store.database import connect, migrate

STROKES, EDITS = 2000, 1000


def made(seed: int, points: int) -> Stroke:
    """A stroke that wanders and presses as a hand does."""
    rng = np.random.default_rng(seed)
    turning = np.cumsum(rng.normal(0, 0.15, points)) + rng.random() * 6
    way = np.cumsum(0.0008 * np.column_stack([np.cos(turning), np.sin(turning)]), axis=0)
    pressure = np.clip(0.5 + np.cumsum(rng.normal(0, 0.02, points)), 0, 1)
    return Stroke(Brush(verb="darken"), np.column_stack([way + rng.random(2), pressure]))


def main() -> None:
    """Print size and time."""
    points = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "flinz.sqlite3"
        with contextlib.closing(connect(path)) as db:
            migrate(db)
            photo = photos.add(db, picture("snail.jpg"), "Snail").id
            plates = [Plate(id=f"plate-{k}") for k in range(3)]
            record = sheets.add(db, Sheet(picture=Picture(photo=photo), plates=plates))
            get = partial(pieces.get, db)
            list_id = None
            for first in range(0, STROKES, 100):
                lot = [made(seed, points) for seed in range(first, first + 100)]
                edited = lists.appended(list_id, lot, get)
                pieces.put_all(db, edited.new)
                list_id = edited.id
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            begun = path.stat().st_size
            rng, times = np.random.default_rng(1), []
            for edit in range(EDITS):
                stroke = made(10_000 + edit, points)
                began = time.perf_counter()
                if edit % 2:
                    edited = lists.appended(list_id, [stroke], get)
                else:
                    edited = lists.replaced(list_id, {int(rng.integers(STROKES - 1)): []}, get)
                pieces.put_all(db, edited.new)
                list_id = edited.id
                painted = plates[0].model_copy(update={"hand": {"tone": list_id}})
                sheet = record.sheet.model_copy(update={"plates": [painted, *plates[1:]]})
                record = sheets.change(db, record.id, record.revision, sheet, "darken, 14 mm")
                times.append((time.perf_counter() - began) * 1000)
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            whole = path.stat().st_size
    photo_mb = len(picture("snail.jpg")) / 1e6
    print(f"{STROKES} strokes of {points} points: {begun / 1e6 - photo_mb:.1f} MB")
    print(f"with {EDITS} edits: {whole / 1e6 - photo_mb:.1f} MB")
    print(f"an edit: median {statistics.median(times):.1f} ms, at most {max(times):.1f} ms")


if __name__ == "__main__":
    main()
