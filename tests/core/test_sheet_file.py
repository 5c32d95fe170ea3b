"""Sheet files: the same sheet and photo come out as went in, and nothing else gets in."""

import io
import json
import zipfile

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document import builtin
from flinz.core.document.sheet_file import (
    MAX_BYTES,
    MAX_ENTRIES,
    PackedPhoto,
    PhotoWords,
    SheetFile,
    packed,
    unpacked,
)
from flinz.core.hand import pieces
from flinz.core.hand.strokes import Brush, Stroke
from flinz.errors import DocumentError
from flinz.store.photos import content_id
from tests.charts import png, ramp

DATA = png(ramp())
KEY = content_id(DATA)
WORDS = PhotoWords(title="Ramp", caption="From dark to light")


def file_of(recipe="pencil", title="A ramp"):
    sheet = builtin.named(recipe).on(KEY, title)
    return SheetFile(sheet, {KEY: PackedPhoto(DATA, WORDS)})


def changed(change):
    """A sheet file's bytes with its parts changed by a function of {name: bytes}."""
    with zipfile.ZipFile(io.BytesIO(packed(file_of()))) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in change(parts).items():
            archive.writestr(name, data)
    return out.getvalue()


def with_part(name, data):
    return lambda parts: {**parts, name: data}


def with_sheet(**fields):
    def change(parts):
        return {**parts, "sheet.json": json.dumps({**json.loads(parts["sheet.json"]), **fields})}

    return change


@given(st.sampled_from(sorted(builtin.built_in())), st.text(max_size=200))
def test_what_was_packed_comes_out(recipe, title):
    file = file_of(recipe, title)

    assert unpacked(packed(file)) == file


def test_equal_sheets_give_equal_bytes():
    assert packed(file_of()) == packed(file_of())


def test_a_file_can_be_looked_into_with_any_zip_program():
    with zipfile.ZipFile(io.BytesIO(packed(file_of()))) as archive:
        assert archive.testzip() is None
        assert archive.namelist() == ["sheet.json", "about.json", f"photos/{KEY}"]
        assert json.loads(archive.read("sheet.json"))["title"] == "A ramp"
        assert archive.read(f"photos/{KEY}") == DATA


@pytest.mark.parametrize(
    ("change", "part"),
    [
        (with_part("../escape", b"x"), "outside of itself"),
        (with_part("photos/../../escape", b"x"), "outside of itself"),
        (with_part("/etc/passwd", b"x"), "outside of itself"),
        (with_part("C:\\windows", b"x"), "outside of itself"),
        (with_part("sheet.json", b"[1"), "not a JSON document"),
        (with_part("sheet.json", b" " * 5_000_000), "too large"),
        (with_part(f"photos/{KEY}", DATA + b"x"), "altered"),
        (with_part("zeros", bytes(MAX_BYTES)), "larger than 300 MB"),
        (lambda parts: {n: d for n, d in parts.items() if n != "sheet.json"}, "lacks sheet.json"),
        (lambda parts: {n: d for n, d in parts.items() if n != f"photos/{KEY}"}, "lacks the photo"),
        (lambda parts: {**parts, **{f"x{k}": b"" for k in range(MAX_ENTRIES)}}, "parts"),
        (with_sheet(version=999), "newer Flinz"),
        (with_sheet(format="flinz-recipe"), "flinz-sheet"),
        (with_sheet(plates=[]), "plates"),
        (with_sheet(picture={"photo": "../../etc/passwd"}), "lacks the photo"),
    ],
)
def test_a_file_that_is_not_right_says_why(change, part):
    with pytest.raises(DocumentError, match=part):
        unpacked(changed(change))


def painted_file():
    """A sheet file with strokes, and the id of their list."""
    stroke = Stroke(Brush(verb="darken"), np.full((5, 3), 0.25))
    edited = pieces.appended(None, [stroke] * 20, lambda piece: b"")
    file = file_of()
    plate = file.sheet.plates[0].model_copy(update={"hand": {"clean": edited.id}})
    sheet = file.sheet.model_copy(update={"plates": [plate]})
    return SheetFile(sheet, file.photos, dict(edited.new)), edited.id


def test_hand_work_goes_along_with_all_its_pieces():
    file, _ = painted_file()

    assert unpacked(packed(file)) == file
    assert packed(file) == packed(painted_file()[0])


def test_hand_work_that_is_missing_or_altered_is_named():
    file, strokes = painted_file()
    chunk = next(key for key, data in file.hand.items() if not pieces.named_by(data))
    for lost in (strokes, chunk):
        less = {key: data for key, data in file.hand.items() if key != lost}
        with pytest.raises(DocumentError, match="lacks hand work"):
            unpacked(packed(SheetFile(file.sheet, file.photos, less)))
    altered = {**file.hand, chunk: file.hand[chunk][:-1] + b"x"}
    with pytest.raises(DocumentError, match="was altered"):
        unpacked(packed(SheetFile(file.sheet, file.photos, altered)))


@given(st.binary(max_size=400))
def test_no_bytes_but_those_of_a_sheet_file_open(data):
    with pytest.raises(DocumentError, match="no sheet file"):
        unpacked(data)


@given(st.integers(0, len(packed(file_of())) - 1), st.integers(1, 255))
def test_a_flipped_byte_is_noticed_or_harmless(place, flip):
    """Whatever is damaged, the photo that comes out is the one that went in."""
    data = bytearray(packed(file_of()))
    data[place] ^= flip
    try:
        found = unpacked(bytes(data))
    except DocumentError:
        return
    assert all(content_id(photo.data) == key for key, photo in found.photos.items())


@given(st.integers(0, len(packed(file_of())) - 1))
def test_a_file_that_ends_early_is_refused(length):
    with pytest.raises(DocumentError):
        unpacked(packed(file_of())[:length])
