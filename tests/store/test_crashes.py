"""Killed in the midst of it, nothing that was stored is lost and nothing is there by half."""

import contextlib
import itertools
import shutil
from pathlib import Path

import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.core.hand import pieces as lists
from flinz.store import photos, pieces, pulls, sheets
from flinz.store.database import connect, migrate
from tests.charts import png, ramp
from tests.store import crashes

KEPT = Path(__file__).parents[1] / "kept" / "v1" / "flinz.sqlite3"


def opened(path):
    return contextlib.closing(connect(path))


def said(db):
    """Every sheet and pull of a store, read."""
    return [(record.id, record.sheet) for record in sheets.every(db)], pulls.every(db, 1)


def test_a_kill_at_any_statement_of_an_upgrade_loses_nothing(tmp_path):
    path = tmp_path / "flinz.sqlite3"
    shutil.copy(KEPT, path)
    with opened(path) as db:
        migrate(db)
        whole = said(db)

    for statement in itertools.count(1):
        for leftover in tmp_path.iterdir():
            leftover.unlink()
        shutil.copy(KEPT, path)
        has_ended = crashes.survives(crashes.upgrade, path, statement=statement)

        with opened(path) as db:
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            migrate(db)
            found, found_pulls = said(db)
            # Each change is there in full or not at all; all else is as it was.
            title = dict(found)[1].title
            assert title in (dict(whole[0])[1].title, "After the upgrade")
            assert [each for each in sorted(found) if each[0] != 1] == [
                each for each in sorted(whole[0]) if each[0] != 1
            ]
            assert found_pulls[-len(whole[1]) :] == whole[1]
        if has_ended:
            break
    assert statement > 10


def test_a_kill_at_any_statement_of_painting_leaves_every_sheet_with_all_its_strokes(tmp_path):
    path = tmp_path / "flinz.sqlite3"
    begun = tmp_path / "begun.sqlite3"
    with opened(begun) as db:
        migrate(db)
        photo = photos.add(db, png(ramp()), "Ramp").id
        sheets.add(db, Sheet(picture=Picture(photo=photo)))
        db.execute("PRAGMA journal_mode = DELETE")

    seen = set()
    for statement in itertools.count(1, 3):
        for leftover in tmp_path.glob("flinz.*"):
            leftover.unlink()
        shutil.copy(begun, path)
        has_ended = crashes.survives(crashes.paint, path, 3, statement=statement)

        with opened(path) as db:
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            record = sheets.one(db, 1)
            count = record.revision - 1
            for back in range(count, -1, -1):
                strokes = [
                    stroke
                    for piece in record.sheet.hand_work
                    for stroke in lists.read(piece, lambda each: pieces.get(db, each))
                ]
                assert len(strokes) == back
                record = sheets.undo(db, 1)
            seen.add(count)
        if has_ended:
            break
    assert seen == {0, 1, 2, 3}


@pytest.fixture(scope="module")
def studio(tmp_path_factory):
    """A data folder with some megabytes in it, and what it holds."""
    folder = tmp_path_factory.mktemp("studio")
    with opened(folder / "flinz.sqlite3") as db:
        migrate(db)
        for number in range(60):
            photo = photos.add(db, png(ramp(64 + number)) + bytes(400_000), f"Photo {number}")
            sheets.add(db, Sheet(picture=Picture(photo=photo.id), title=f"Sheet {number}"))
        return folder, said(db)


@pytest.mark.parametrize("seconds", [0.02, 0.06, 0.1, 0.2])
def test_a_backup_that_is_killed_is_whole_or_not_there(studio, tmp_path, seconds):
    folder, whole = studio
    copy = tmp_path / "copy.flinz-backup"

    crashes.killed_after(crashes.back_up, folder, copy, seconds=seconds)

    if copy.exists():
        with opened(copy) as db:
            assert said(db) == whole
    with opened(folder / "flinz.sqlite3") as db:
        assert said(db) == whole
    # What was left beside it is in nobody's way.
    crashes.back_up(folder, copy)
    with opened(copy) as db:
        assert said(db) == whole


@pytest.mark.parametrize("seconds", [0.02, 0.06, 0.1, 0.2])
def test_a_studio_being_brought_back_is_whole_or_not_there(studio, tmp_path, seconds):
    folder, whole = studio
    copy, new = tmp_path / "copy.flinz-backup", tmp_path / "new"
    crashes.back_up(folder, copy)

    crashes.killed_after(crashes.bring_back, copy, new, seconds=seconds)

    if not (new / "flinz.sqlite3").exists():
        crashes.bring_back(copy, new)
    with opened(new / "flinz.sqlite3") as db:
        assert said(db) == whole
