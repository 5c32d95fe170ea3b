import sqlite3

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.errors import NotFoundError, PhotoError, StaleError, StoreError
from flinz.store import database, jobs, leaving, photos, sheets
from tests.charts import png, ramp


def open_store(path=":memory:"):
    db = database.connect(path)
    database.migrate(db)
    return db


@pytest.fixture
def db():
    db = open_store()
    yield db
    db.close()


@pytest.fixture
def photo(db):
    return photos.add(db, png(ramp()), "Ramp")


def titled(photo, title):
    """A sheet of a photo."""
    return Sheet(picture=Picture(photo=photo), title=title)


def test_a_photo_is_kept_as_its_own_bytes_once(db):
    data = png(ramp())

    first, second = photos.add(db, data, "one"), photos.add(db, data, "two")

    assert first.id == second.id
    assert photos.original(db, first.id) == data
    assert len(photos.every(db)) == 1


def test_a_bad_photo_leaves_nothing(db):
    with pytest.raises(PhotoError):
        photos.add(db, b"nonsense", "x")

    assert photos.every(db) == []


def test_a_removed_photo_comes_back(db, photo):
    photos.set_removed(db, photo.id, True)
    assert photos.every(db) == []

    photos.set_removed(db, photo.id, False)
    assert [p.id for p in photos.every(db)] == [photo.id]


def test_a_stale_change_is_refused_and_changes_nothing(db, photo):
    record = sheets.add(db, titled(photo.id, "0"))
    sheets.change(db, record.id, record.revision, titled(photo.id, "1"), "first")

    with pytest.raises(StaleError):
        sheets.change(
            db,
            record.id,
            record.revision,
            titled(photo.id, "2"),
            "late",
        )

    assert sheets.one(db, record.id).sheet.title == "1"


def test_changes_of_one_gesture_are_one_step(db, photo):
    record = sheets.add(db, titled(photo.id, "0"))
    for title in "123":
        sheet = titled(photo.id, title)
        record = sheets.change(db, record.id, record.revision, sheet, f"to {title}", "drag-1")

    assert (record.undo, record.sheet.title) == ("to 3", "3")
    assert sheets.undo(db, record.id).sheet.title == "0"
    assert sheets.redo(db, record.id).sheet.title == "3"


class History(RuleBasedStateMachine):
    """The store's undo against a plain list."""

    def __init__(self):
        super().__init__()
        self.db = open_store()
        self.photo = photos.add(self.db, png(ramp()), "Ramp").id
        self.id = sheets.add(self.db, self.sheet("start")).id
        self.states, self.here = ["start"], 0

    def sheet(self, title):
        return titled(self.photo, title)

    @rule(title=st.text("abc", min_size=1, max_size=3))
    def change(self, title):
        base = sheets.one(self.db, self.id).revision
        sheets.change(self.db, self.id, base, self.sheet(title), title)
        self.states = [*self.states[: self.here + 1], title]
        self.here += 1

    @rule(number=st.integers(0, 12))
    def go_to(self, number):
        if number < len(self.states):
            sheets.go_to(self.db, self.id, number)
            self.here = number
        else:
            with pytest.raises(NotFoundError):
                sheets.go_to(self.db, self.id, number)

    @rule()
    def undo(self):
        sheets.undo(self.db, self.id)
        self.here = max(0, self.here - 1)

    @rule()
    def redo(self):
        sheets.redo(self.db, self.id)
        self.here = min(len(self.states) - 1, self.here + 1)

    @invariant()
    def agrees(self):
        record = sheets.one(self.db, self.id)
        assert record.sheet.title == self.states[self.here]
        assert (record.undo is None) == (self.here == 0)
        assert (record.redo is None) == (self.here == len(self.states) - 1)
        steps = sheets.steps(self.db, self.id)
        assert [step.words for step in steps] == ["Begin", *self.states[1:]]
        assert [step.number for step in steps if step.is_here] == [self.here]

    def teardown(self):
        self.db.close()


History.TestCase.settings = settings(max_examples=25, stateful_step_count=20, deadline=None)
test_history_is_a_list_with_a_place = History.TestCase


def test_what_is_missing_is_said(db):
    for ask in (lambda: sheets.one(db, 7), lambda: photos.one(db, "x"), lambda: jobs.one(db, 7)):
        with pytest.raises(NotFoundError):
            ask()


def test_a_failing_migration_leaves_nothing_of_itself():
    db = database.connect(":memory:")
    steps = ["CREATE TABLE a (x)", "CREATE TABLE b (x); CREATE TABLE a (x)"]

    with pytest.raises(StoreError):
        database.migrate(db, steps)

    names = [row["name"] for row in db.execute("SELECT name FROM sqlite_master")]
    assert names == ["a"]
    assert db.execute("PRAGMA user_version").fetchone()[0] == 1
    db.close()


def test_a_semicolon_within_a_statement_parts_none():
    db = database.connect(":memory:")
    trigger = (
        "CREATE TRIGGER t AFTER INSERT ON a BEGIN DELETE FROM a; INSERT INTO a VALUES ('x;y'); END"
    )
    steps = [f"CREATE TABLE a (x DEFAULT 'one; two'); -- once; only\n{trigger};\n"]

    database.migrate(db, steps)
    db.execute("INSERT INTO a DEFAULT VALUES")

    assert [row["x"] for row in db.execute("SELECT x FROM a")] == ["x;y"]
    db.close()


def test_a_newer_database_is_refused(tmp_path):
    db = database.connect(tmp_path / "store")
    db.execute("PRAGMA user_version = 99")

    with pytest.raises(StoreError, match="newer Flinz"):
        database.migrate(db)
    db.close()


def test_a_file_that_is_no_database_is_refused(tmp_path):
    path = tmp_path / "store"
    path.write_text("Dear allotment holders, " * 99)

    with pytest.raises(StoreError, match="not a Flinz store"):
        database.connect(path)
    assert path.read_text().startswith("Dear")


def test_a_full_disk_refuses_the_change_and_keeps_the_rest(tmp_path):
    db = open_store(tmp_path / "store")
    photo = photos.add(db, png(ramp()), "Ramp")
    record = sheets.add(db, titled(photo.id, "safe"))
    pages = db.execute("PRAGMA page_count").fetchone()[0]
    db.execute(f"PRAGMA max_page_count = {pages}")

    with pytest.raises(StoreError, match="full"):
        for _ in range(50):
            sheet = titled(photo.id, "lost " * 30)
            record_now = sheets.one(db, record.id)
            sheets.change(db, record.id, record_now.revision, sheet, "write")

    db.execute("PRAGMA max_page_count = 1000000")
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    now = sheets.one(db, record.id)
    sheets.change(db, record.id, now.revision, titled(photo.id, "again"), "write")
    assert sheets.one(db, record.id).sheet.title == "again"
    db.close()


def test_unfinished_jobs_are_honest_after_a_restart(db, photo):
    sheet = sheets.add(db, Sheet(picture=Picture(photo=photo.id)))
    running, done = (jobs.add(db, sheet.id, "export", "x.png") for _ in "ab")
    jobs.change(db, running.id, "running", 0.4)
    jobs.change(db, done.id, "done", 1.0)

    jobs.end_unfinished(db)

    assert jobs.one(db, running.id).state == "failed"
    assert jobs.one(db, done.id).state == "done"


def test_foreign_keys_hold(db):
    with pytest.raises(sqlite3.IntegrityError):
        sheets.add(db, Sheet(picture=Picture(photo="nobody")))


def test_how_a_sheet_left_last_is_remembered_with_it(db, photo):
    first, second = (sheets.add(db, titled(photo.id, title)).id for title in "ab")

    leaving.keep(db, first, '{"dpi": 300}')
    leaving.keep(db, first, '{"dpi": 600}')

    assert leaving.last(db, first) == '{"dpi": 600}'
    assert leaving.last(db, second) is None
