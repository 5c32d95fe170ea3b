"""Small pictures that are kept beside the store."""

from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document.sheet import Sheet
from flinz.store.pictures import KeptPictures, key_of


def made(data, log):
    def make():
        log.append(data)
        return data

    return make


def test_a_picture_is_made_once_also_for_the_next_start(tmp_path):
    log = []
    for _ in range(2):
        kept = KeptPictures(tmp_path / "pictures")
        assert kept.get("a" * 64, made(b"picture", log)) == b"picture"

    assert log == [b"picture"]
    assert [path.name for path in (tmp_path / "pictures").iterdir()] == ["a" * 64]


@given(st.lists(st.integers(1, 60), min_size=5, max_size=40))
@settings(max_examples=20, deadline=None)
def test_they_stay_within_their_room_and_the_last_is_there(tmp_path_factory, sizes):
    folder = tmp_path_factory.mktemp("pictures")
    kept = KeptPictures(folder, most_bytes=120)
    for number, size in enumerate(sizes):
        kept.put(f"{number:064d}", b"x" * size)

    files = list(folder.iterdir())
    assert sum(path.stat().st_size for path in files) <= 120 + 60
    assert f"{len(sizes) - 1:064d}" in {path.name for path in files}


def test_where_nothing_can_be_kept_it_is_made_each_time(tmp_path):
    (tmp_path / "file").write_text("in the way")
    kept, log = KeptPictures(tmp_path / "file"), []

    for _ in range(2):
        assert kept.get("b" * 64, made(b"picture", log)) == b"picture"
    assert len(log) == 2


def test_what_a_sheet_is_called_is_in_no_picture_of_it_and_all_else_is():
    sheet = Sheet()

    keys = {
        key_of("photo", sheet, 560),
        key_of("photo", sheet.model_copy(update={"title": "Other"}), 560),
    }

    assert len(keys) == 1
    plate = sheet.plates[0].model_copy(update={"shown": False})
    others = key_of("else", sheet, 560), key_of("photo", sheet, 320)
    assert len({*keys, *others, key_of("photo", sheet.with_plate(plate), 560)}) == 4
