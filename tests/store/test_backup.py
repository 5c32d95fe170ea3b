"""A copy of a studio: consistent while others write, brought back as it was."""

import contextlib
import sqlite3
import threading

import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.errors import StoreError
from flinz.store import photos, sheets
from flinz.store.backup import STORE, back_up, bring_back
from flinz.store.database import connect, migrate
from tests.charts import png, ramp


@pytest.fixture
def studio(tmp_path):
    """A data folder with a sheet, and a connection to it."""
    folder = tmp_path / "data"
    folder.mkdir()
    with contextlib.closing(connect(folder / STORE)) as db:
        migrate(db)
        photo = photos.add(db, png(ramp()), "Ramp")
        sheets.add(db, Sheet(picture=Picture(photo=photo.id), title="First"))
        yield folder, db


def shelf(folder):
    with contextlib.closing(connect(folder / STORE)) as db:
        found = sheets.every(db)
        return found, [photos.original(db, each.sheet.picture.photo) for each in found]


def test_what_is_brought_back_is_what_was_there(studio, tmp_path):
    folder, _ = studio
    copy = tmp_path / "safe.flinz-backup"

    back_up(folder, copy)
    bring_back(copy, tmp_path / "new" / "folder")

    assert shelf(tmp_path / "new" / "folder") == shelf(folder)
    # The copy is one file that stands alone.
    assert sorted(path.name for path in tmp_path.iterdir()) == ["data", "new", copy.name]


def test_a_copy_taken_while_others_write_is_of_one_moment(studio, tmp_path):
    folder, db = studio
    first = sheets.every(db)[0]
    begun, over = threading.Event(), threading.Event()

    def write():
        with contextlib.closing(connect(folder / STORE)) as other:
            record = sheets.one(other, first.id)
            number = 0
            while not over.is_set():
                number += 1
                sheet = record.sheet.model_copy(update={"title": f"Edit {number}"})
                record = sheets.change(other, first.id, record.revision, sheet, f"Edit {number}")
                begun.set()

    writer = threading.Thread(target=write)
    writer.start()
    assert begun.wait(30)
    try:
        for number in range(5):
            back_up(folder, tmp_path / f"copy {number}")
    finally:
        over.set()
        writer.join()

    for number in range(5):
        target = tmp_path / f"back {number}"
        bring_back(tmp_path / f"copy {number}", target)
        with contextlib.closing(connect(target / STORE)) as copy:
            (record,) = sheets.every(copy)
            # The newest document is that of the newest step, and every step is there.
            assert record.sheet.title == record.undo == f"Edit {record.revision - 1}"
            for before in reversed(range(record.revision - 1)):
                title = sheets.undo(copy, record.id).sheet.title
                assert title == (f"Edit {before}" if before else "First")


def test_a_folder_that_has_a_store_is_left_as_it_is(studio, tmp_path):
    folder, _ = studio
    back_up(folder, tmp_path / "copy")
    before = shelf(folder)

    with pytest.raises(StoreError, match="already"):
        bring_back(tmp_path / "copy", folder)

    assert shelf(folder) == before


def foreign(path):
    with contextlib.closing(sqlite3.connect(path)) as db:
        db.execute("CREATE TABLE letters (x)")
        db.commit()


def newer(path):
    with contextlib.closing(sqlite3.connect(path)) as db:
        db.execute("PRAGMA user_version = 999")


def torn(path):
    data = path.read_bytes()
    path.write_bytes(data[: len(data) // 2])


@pytest.mark.parametrize(
    ("harm", "part"),
    [
        (lambda path: path.write_text("Dear allotment holders"), "no copy"),
        (lambda path: path.write_bytes(b""), "no copy"),
        (lambda path: (path.unlink(), foreign(path)), "no copy"),
        (newer, "newer Flinz"),
        (torn, "damaged"),
        (lambda path: path.unlink(), "no file"),
    ],
)
def test_what_is_no_copy_is_said_and_nothing_is_made(studio, tmp_path, harm, part):
    folder, _ = studio
    copy = tmp_path / "copy"
    back_up(folder, copy)
    harm(copy)

    with pytest.raises(StoreError, match=part):
        bring_back(copy, tmp_path / "new")

    assert not (tmp_path / "new" / STORE).exists()


def test_a_folder_without_data_has_nothing_to_copy(tmp_path):
    with pytest.raises(StoreError, match="no Flinz data"):
        back_up(tmp_path, tmp_path / "copy")

    assert list(tmp_path.iterdir()) == []


def test_a_place_that_cannot_be_written_leaves_nothing(studio, tmp_path):
    folder, _ = studio
    with pytest.raises(StoreError, match="cannot be written"):
        back_up(folder, tmp_path / "nowhere" / "copy")
