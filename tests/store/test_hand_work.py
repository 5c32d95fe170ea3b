"""Hand work in the store: named by its bytes, there before its sheet, swept when unnamed."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import packed, unpacked
from flinz.core.hand import pieces as lists
from flinz.core.hand.strokes import Brush, Stroke
from flinz.errors import DocumentError, NotFoundError, StoreError
from flinz.store import photos, pieces, pulls, sheets
from flinz.store.database import connect, migrate
from tests.charts import png, ramp

LATER = datetime.now(UTC) + 2 * pieces.GRACE


@pytest.fixture
def db(tmp_path):
    db = connect(tmp_path / "flinz.sqlite3")
    migrate(db)
    yield db
    db.close()


@pytest.fixture
def photo(db):
    return photos.add(db, png(ramp()), "Ramp").id


def stroke(seed):
    points = np.random.default_rng(seed).random((30, 3))
    return Stroke(Brush(verb="lighten"), points)


def drawn(db, count, of=None):
    """A list of strokes that is kept; its id."""
    made = [stroke(seed) for seed in range(count)]
    edited = lists.appended(of, made, lambda piece: pieces.get(db, piece))
    pieces.put_all(db, edited.new)
    return edited.id


def sheet_of(photo, list_id, title="Painted"):
    plate = Plate(hand={} if list_id is None else {"tone": list_id})
    return Sheet(picture=Picture(photo=photo), plates=[plate], title=title)


def held(db):
    return {row[0] for row in db.execute("SELECT id FROM piece")}


def test_bytes_that_are_not_what_their_name_says_are_refused(db):
    good = drawn(db, 3)
    data = pieces.get(db, good)

    with pytest.raises(DocumentError, match="altered on its way"):
        pieces.put(db, "0" * 64, data)
    with pytest.raises(DocumentError, match="damaged"):
        pieces.put(db, lists.id_of(b"no piece"), b"no piece")
    pieces.put(db, good, data)
    assert pieces.get(db, good) == data


def test_what_a_piece_names_must_be_there_first(db):
    edited = lists.appended(None, [stroke(1)], lambda piece: b"")
    (list_id, data) = next((i, d) for i, d in edited.new.items() if i == edited.id)

    with pytest.raises(DocumentError, match="Send those first"):
        pieces.put(db, list_id, data)

    assert held(db) == set()
    assert set(pieces.announced(db, edited.new)) == set(edited.new)


def test_a_sheet_cannot_name_what_is_not_there(db, photo):
    record = sheets.add(db, sheet_of(photo, None))

    with pytest.raises(DocumentError, match="not here"):
        sheets.change(db, record.id, record.revision, sheet_of(photo, "a" * 64), "paint")
    with pytest.raises(DocumentError, match="not here"):
        sheets.add(db, sheet_of(photo, "a" * 64))

    assert sheets.one(db, record.id) == record
    assert len(sheets.every(db)) == 1


def test_what_history_pulls_and_removed_sheets_name_stays(db, photo):
    undone, before, pulled, removed, loose = (drawn(db, count) for count in (3, 5, 7, 9, 11))
    record = sheets.add(db, sheet_of(photo, before))
    record = sheets.change(db, record.id, record.revision, sheet_of(photo, None), "rub")
    record = sheets.change(db, record.id, record.revision, sheet_of(photo, undone), "paint")
    sheets.undo(db, record.id)
    pulls.keep(db, record.id, "Pull", sheet_of(photo, pulled))
    other = sheets.add(db, sheet_of(photo, removed))
    sheets.set_removed(db, other.id, True)

    pieces.sweep(db, LATER)

    for list_id, count in ((undone, 3), (before, 5), (pulled, 7), (removed, 9)):
        assert len(lists.read(list_id, lambda piece: pieces.get(db, piece))) == count
    with pytest.raises(NotFoundError):
        pieces.get(db, loose)
    assert sheets.redo(db, record.id).sheet.hand_work == [undone]


def test_what_was_sent_a_moment_ago_waits_for_its_document(db, photo):
    list_id = drawn(db, 4)

    assert pieces.sweep(db) == 0
    assert pieces.sweep(db, datetime.now(UTC) + pieces.GRACE / 2) == 0
    assert pieces.sweep(db, LATER) == 3
    assert held(db) == set()
    assert pieces.announced(db, [list_id]) == [list_id]


def test_what_is_announced_again_is_not_swept_before_its_document_comes(db):
    list_id, other = drawn(db, 4), drawn(db, 5)
    db.execute("UPDATE piece SET touched_at = ?", ((LATER - timedelta(days=9)).isoformat(),))

    assert pieces.announced(db, [list_id]) == []

    assert pieces.sweep(db) == 3
    assert pieces.missing(db, [list_id, other]) == [other]
    assert len(lists.read(list_id, lambda piece: pieces.get(db, piece))) == 4


def test_a_document_that_cannot_be_read_still_keeps_its_hand_work(db, photo):
    list_id = drawn(db, 4)
    record = sheets.add(db, sheet_of(photo, list_id))
    db.execute("UPDATE step SET document_json = 'broken ' || document_json")
    with pytest.raises(DocumentError):
        sheets.one(db, record.id)

    pieces.sweep(db, LATER)

    assert list_id in held(db)


def test_all_hand_work_is_bounded_and_the_refusal_has_its_number(db, photo, monkeypatch):
    kept = drawn(db, 20)
    sheets.add(db, sheet_of(photo, kept))
    monkeypatch.setattr(pieces, "MAX_BYTES", 20_000)

    with pytest.raises(StoreError, match="GB of hand work"):
        drawn(db, 200)

    assert kept in held(db)


def test_a_sheet_file_carries_hand_work(db, photo, tmp_path):
    list_id = drawn(db, 40)
    record = sheets.add(db, sheet_of(photo, list_id))
    data = packed(sheets.as_file(db, record.id))
    elsewhere = connect(tmp_path / "other.sqlite3")
    migrate(elsewhere)

    opened = sheets.add_file(elsewhere, unpacked(data))

    assert opened.sheet == record.sheet
    assert len(lists.read(list_id, lambda piece: pieces.get(elsewhere, piece))) == 40
    assert packed(sheets.as_file(elsewhere, opened.id)) == data
    elsewhere.close()
