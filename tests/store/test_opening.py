"""Stores as they are found: another program's, damaged, held by a server, on a full disk."""

import contextlib
import os
import resource
import sqlite3
import subprocess
import sys

import numpy as np
import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.errors import StoreError
from flinz.store import photos, sheets
from flinz.store.database import connect, connect_aside, migrate
from flinz.store.opening import STORE, Store, damage
from flinz.store.rescue import rescued
from tests.charts import png, ramp


@pytest.fixture
def folder(tmp_path):
    """A data folder with photos of some pages each, and a sheet of each."""
    folder = tmp_path / "data"
    folder.mkdir()
    noise = np.random.default_rng(7)
    with contextlib.closing(connect(folder / STORE)) as db:
        migrate(db)
        for number in range(4):
            photo = photos.add(db, png(noise.integers(0, 256, (120, 160))), f"Photo {number}")
            record = sheets.add(db, Sheet(picture=Picture(photo=photo.id), title=f"Sheet {number}"))
            for step in range(3):
                title = f"Sheet {number}, {step}"
                changed = record.sheet.model_copy(update={"title": title})
                record = sheets.change(db, record.id, record.revision, changed, "Title")
    return folder


def titles(folder):
    with contextlib.closing(connect_aside(folder / STORE)) as db:
        return sorted(each.sheet.title for each in sheets.every(db))


def spoilt(path, table):
    """Overwrite the middle page of a table, as a failing disk might."""
    with contextlib.closing(sqlite3.connect(path)) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        db.execute("PRAGMA journal_mode = DELETE")
        size = db.execute("PRAGMA page_size").fetchone()[0]
        pages = [
            row[0]
            for row in db.execute(
                "SELECT pageno FROM dbstat WHERE name = ? AND pagetype != 'internal'", (table,)
            )
        ]
    with path.open("r+b") as file:
        file.seek((pages[len(pages) // 2] - 1) * size)
        file.write(os.urandom(size))


def has_dbstat():
    with contextlib.closing(sqlite3.connect(":memory:")) as db:
        names = {row[0] for row in db.execute("SELECT name FROM pragma_module_list")}
        return "dbstat" in names


def test_the_database_of_another_program_is_left_untouched(tmp_path):
    path = tmp_path / STORE
    with contextlib.closing(sqlite3.connect(path)) as db:
        db.execute("CREATE TABLE bees (hive TEXT)")
    before = path.read_bytes()

    with pytest.raises(StoreError, match="another program"):
        Store(tmp_path)

    assert path.read_bytes() == before
    assert not list(tmp_path.glob("*-wal")) and not list(tmp_path.glob("*-shm"))


def test_a_second_server_is_refused_with_the_address_of_the_first(folder):
    first = Store(folder, "http://127.0.0.1:8123/")

    with pytest.raises(StoreError, match=r"http://127\.0\.0\.1:8123/"):
        Store(folder, "http://127.0.0.1:9000/")
    first.close()

    Store(folder).close()


def test_a_folder_is_free_again_when_its_server_was_killed(folder):
    held = "import sys, pathlib; from flinz.store.opening import Store; "
    held += "store = Store(pathlib.Path(sys.argv[1])); print('held', flush=True); sys.stdin.read()"
    command = [sys.executable, "-c", held, str(folder)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as other:
        assert other.stdout.readline() == b"held\n"
        with pytest.raises(StoreError, match="already"):
            Store(folder)
        other.kill()

    Store(folder).close()


@pytest.mark.parametrize("table, words", [("photo", "photos"), ("step", "the steps of sheets")])
def test_a_damaged_store_names_what_is_damaged_and_can_be_read(folder, table, words):
    if not has_dbstat():
        pytest.skip("This SQLite cannot tell where tables lie.")
    assert damage(folder / STORE) == ""
    spoilt(folder / STORE, table)

    store = Store(folder)

    assert words in store.read_only and "rescue" in store.read_only
    with contextlib.closing(store.connect()) as db, pytest.raises(StoreError, match="only be read"):
        photos.add(db, png(ramp()), "More")
    store.close()


@pytest.mark.parametrize("table", ["photo", "step"])
def test_what_can_be_read_is_rescued_and_the_damaged_folder_stays(folder, tmp_path, table):
    if not has_dbstat():
        pytest.skip("This SQLite cannot tell where tables lie.")
    whole = set(titles(folder))
    spoilt(folder / STORE, table)
    before = (folder / STORE).read_bytes()

    found = rescued(folder, tmp_path / "new")

    assert (folder / STORE).read_bytes() == before
    assert damage(tmp_path / "new" / STORE) == ""
    assert "Lost" in found.sentence
    kept = titles(tmp_path / "new")
    assert len(kept) >= (1 if table == "photo" else 0)
    assert {title.partition(",")[0] for title in kept} <= {t.partition(",")[0] for t in whole}


def test_a_whole_store_is_rescued_whole(folder, tmp_path):
    found = rescued(folder, tmp_path / "new")

    assert "Nothing was lost" in found.sentence
    assert titles(tmp_path / "new") == titles(folder)


def test_a_store_of_nonsense_is_refused_with_a_sentence(folder):
    path = folder / STORE
    path.write_bytes(path.read_bytes()[:100] + os.urandom(5000))

    with pytest.raises(StoreError) as refused:
        Store(folder)

    assert str(refused.value).endswith(".")


READ_ALL = """
import contextlib, pathlib, resource, sys
from flinz.errors import StoreError
from flinz.store import photos, sheets
from flinz.store.opening import Store
folder = pathlib.Path(sys.argv[1])
if sys.argv[2] == "from the start":
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
store = Store(folder)
resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
with contextlib.closing(store.connect()) as db:
    for record in sheets.every(db):
        photos.loaded(db, record.sheet.picture.photo)
        print(record.sheet.title)
    try:
        sheets.undo(db, record.id)
    except StoreError as error:
        print("refused:", error, store.read_only)
"""


@pytest.mark.parametrize("moment", ["from the start", "later"])
def test_all_can_be_read_where_not_a_byte_can_be_written(folder, moment):
    """A limit on files stands for a full disk: no file may grow."""
    command = [sys.executable, "-c", READ_ALL, str(folder), moment]
    found = subprocess.run(command, capture_output=True, text=True)

    lines = found.stdout.splitlines()
    assert sorted(lines[:4]) == titles(folder), found.stderr
    assert lines[4].startswith("refused: The store") and "." in lines[4]
    assert resource.getrlimit(resource.RLIMIT_FSIZE)[0] == resource.RLIM_INFINITY
