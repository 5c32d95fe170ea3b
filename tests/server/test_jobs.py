"""Long work: progress, stopping, and honest ends."""

import threading

import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.core.press.press import Press
from flinz.errors import NotReadyError, PhotoError, Stopped
from flinz.server.jobs import Jobs
from flinz.store import jobs as store
from flinz.store import photos, sheets
from flinz.store.database import connect, migrate
from tests.charts import png, ramp


@pytest.fixture
def shop(tmp_path):
    """A store with one sheet, and the jobs of it."""
    path = tmp_path / "flinz.sqlite3"
    db = connect(path)
    migrate(db)
    photo = photos.add(db, png(ramp()), "Ramp")
    sheet = sheets.add(db, Sheet(picture=Picture(photo=photo.id)))
    runner = Jobs(lambda: connect(path), tmp_path / "exports", Press())
    yield db, sheet.id, runner
    runner.close()
    db.close()


def begun(shop, work):
    db, sheet_id, runner = shop
    job = store.add(db, sheet_id, "export", "drawing.png")
    runner.start(job.id, work)
    return job.id


def ended(shop, job_id):
    """The record of a job once it has ended."""
    db, sheet_id, runner = shop
    # Jobs run one after another: when one that came later writes, all before it have ended.
    over = threading.Event()
    last = store.add(db, sheet_id, "export", "last.png")
    runner.start(last.id, lambda path, press, progress, stop: over.set() or path.write_bytes(b""))
    assert over.wait(30)
    return store.one(db, job_id)


def leaving(data):
    """Work that leaves a file with these bytes."""
    return lambda path, press, progress, stop: path.write_bytes(data)


def test_a_job_leaves_its_file_and_is_done(shop):
    job = begun(shop, leaving(b"drawing"))

    record = ended(shop, job)

    assert (record.state, record.share, record.message) == ("done", 1.0, "")
    assert shop[2].result_path(job).read_bytes() == b"drawing"


def test_progress_is_told_as_it_comes(shop):
    halfway, go_on = threading.Event(), threading.Event()

    def work(path, press, progress, stop):
        progress(0.5)
        halfway.set()
        go_on.wait(30)
        path.write_bytes(b"")

    job = begun(shop, work)
    assert halfway.wait(30)
    record = store.one(shop[0], job)
    go_on.set()

    assert (record.state, record.share) == ("running", 0.5)
    assert ended(shop, job).state == "done"


def test_tiny_steps_are_not_written_one_by_one(shop, tmp_path):
    told = []

    def work(path, press, progress, stop):
        db = connect(tmp_path / "flinz.sqlite3")
        for k in range(1000):
            progress(k / 1000)
            told.append(store.one(db, k_job).share)
        db.close()
        path.write_bytes(b"")

    db, sheet_id, runner = shop
    k_job = store.add(db, sheet_id, "export", "drawing.png").id
    runner.start(k_job, work)
    ended(shop, k_job)

    assert len(set(told)) <= 51 and told == sorted(told)


def test_a_running_job_stops_when_asked_and_leaves_no_file(shop):
    running = threading.Event()

    def work(path, press, progress, stop):
        running.set()
        while not stop():
            progress(0.1)
        raise Stopped("stopped")

    job = begun(shop, work)
    assert running.wait(30)
    shop[2].stop(job)
    record = ended(shop, job)

    assert record.state == "stopped" and "as it was" in record.message
    assert not shop[2].result_path(job).exists()


def test_a_waiting_job_that_is_stopped_never_begins(shop):
    go_on, ran = threading.Event(), []
    first = begun(shop, lambda path, *_: go_on.wait(30) and path.write_bytes(b""))
    second = begun(shop, lambda path, *_: ran.append(1))
    shop[2].stop(second)
    go_on.set()

    assert ended(shop, second).state == "stopped" and not ran
    assert ended(shop, first).state == "done"


@pytest.mark.parametrize(
    ("error", "part"),
    [
        (PhotoError("This photo is damaged."), "This photo is damaged."),
        (OSError(28, "No space left on device"), "No space left"),
        (MemoryError(), "not enough memory"),
    ],
)
def test_a_job_that_fails_says_why(shop, error, part):
    def work(path, press, progress, stop):
        progress(0.3)
        raise error

    record = ended(shop, begun(shop, work))

    assert record.state == "failed" and part in record.message and record.share == 0.3


def test_what_a_failed_job_had_written_goes_at_once(shop, tmp_path):
    def work(path, press, progress, stop):
        path.write_bytes(b"half of it")
        raise OSError(28, "No space left on device")

    job = begun(shop, work)

    assert ended(shop, job).state == "failed"
    left = {path.stem for path in (tmp_path / "exports").iterdir()}
    assert str(job) not in left


def test_a_mistake_of_ours_is_owned_and_the_next_job_runs(shop):
    def work(path, press, progress, stop):
        raise ZeroDivisionError

    job = begun(shop, work)
    following = begun(shop, leaving(b"next"))

    assert ended(shop, following).state == "done"
    assert "made a mistake" in store.one(shop[0], job).message


def test_old_files_are_cleared_away_at_the_next_start(shop, tmp_path):
    job = begun(shop, leaving(b"drawing"))
    ended(shop, job)
    assert shop[2].result_path(job).exists()

    again = Jobs(lambda: connect(tmp_path / "flinz.sqlite3"), tmp_path / "exports", Press())

    assert not again.result_path(job).exists()
    again.close()


def test_jobs_run_in_the_order_in_which_they_came(shop):
    order = []
    last = 0
    for k in range(5):
        last = begun(shop, lambda path, *_, k=k: order.append(k) or path.write_bytes(b""))
    ended(shop, last)

    assert order == [0, 1, 2, 3, 4]


def test_a_job_ends_for_all_to_see_though_the_store_takes_nothing_more(shop):
    db, _, runner = shop
    parts = []

    def work(path, press, progress, stop):
        path.write_bytes(b"half a drawing")
        parts.append(path)
        # From here on the disk has no room for a page of the store.
        full = connect(db.execute("PRAGMA database_list").fetchone()["file"])
        full.execute("PRAGMA max_page_count = 1")
        runner._connect = lambda: limited(full)
        raise OSError(28, "No space left on device")

    job = begun(shop, work)
    wait_for(lambda: runner.record(db, job).state in store.ENDED)

    record = runner.record(db, job)
    assert (record.state, store.one(db, job).state) == ("failed", "running")
    assert "No space left" in record.message
    assert not parts[0].exists()


def limited(db):
    """A connection that can read and not write."""
    db.execute("PRAGMA query_only = ON")
    return db


def wait_for(is_so):
    """Return once something is so."""
    ended = threading.Event()
    while not is_so():
        assert not ended.wait(0.02)


def test_of_many_finished_files_the_oldest_go(shop, monkeypatch):
    monkeypatch.setattr("flinz.server.jobs.MAX_FILES", 2)
    found = [begun(shop, leaving(b"drawing")) for _ in range(4)]
    ended(shop, found[-1])

    # The one that showed that all have ended is a file too.
    wait_for(lambda: [job for job in found if shop[2].result_path(job).exists()] == found[-1:])


def test_no_more_jobs_wait_than_may(shop, monkeypatch):
    monkeypatch.setattr("flinz.server.jobs.MAX_WAITING", 1)
    go_on = threading.Event()
    shop[2].refuse_more()
    job = begun(shop, lambda path, press, progress, stop: go_on.wait(30) and path.write_bytes(b""))

    with pytest.raises(NotReadyError, match="wait"):
        shop[2].refuse_more()
    go_on.set()
    assert ended(shop, job).state == "done"
