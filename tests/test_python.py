"""The public interface: what it offers, and that its manual is true."""

import re
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

import flinz
from flinz.demo.scenario import PHOTOS, picture
from tests.charts import blobs, png

MANUAL = Path(__file__).parents[1] / "docs" / "python.md"
PUBLIC = {
    "flinz": ["Drawing", "FlinzError", "MadePhoto", "Tracing", "draw", "edition", "open_sheet",
              "recipes"],
    "Drawing": ["array", "document", "marks", "save", "set", "size_mm", "title", "trace"],
    "Tracing": ["figures", "save"],
    "MadePhoto": ["message", "name", "path", "said", "seconds", "state", "title"],
}  # fmt: skip


def public(thing) -> list[str]:
    fields = getattr(thing, "__dataclass_fields__", {})
    return sorted({name for name in [*dir(thing), *fields] if not name.startswith("_")})


def test_nothing_else_is_public():
    assert sorted(flinz.__all__) == PUBLIC["flinz"]
    for name in ("Drawing", "Tracing", "MadePhoto"):
        assert public(getattr(flinz, name)) == PUBLIC[name]
    assert all(getattr(flinz, name).__doc__ for name in flinz.__all__)
    with pytest.raises(AttributeError, match="no attribute 'press'"):
        flinz.press  # noqa: B018


def test_to_import_it_loads_nothing_before_it_is_used():
    script = "import flinz, sys; print('numpy' in sys.modules, 'numba' in sys.modules)"

    told = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=True
    )

    assert told.stdout.split() == ["False", "False"]


def test_every_example_of_the_manual_runs(tmp_path, monkeypatch, capsys):
    for photo in PHOTOS:
        (tmp_path / photo.file).write_bytes(picture(photo.file))
    monkeypatch.chdir(tmp_path)
    names: dict[str, object] = {}

    for example in re.findall(r"```python\n(.*?)```", MANUAL.read_text(), re.DOTALL):
        exec(compile(example, MANUAL.name, "exec"), names)

    told = capsys.readouterr().out
    assert "pears.png done" in told and "['done', 'done']" in told and "level" in told
    written = {path.name for path in tmp_path.iterdir()} - {photo.file for photo in PHOTOS}
    assert written == {"pears.png", "scarecrow.svg", "scarecrow.pdf", "scarecrow.flinz", "packets"}


def test_a_drawing_is_what_the_command_line_draws_and_never_changes(tmp_path, flinz_command):
    (tmp_path / "blot.png").write_bytes(png(blobs(60, 80) * 255))
    drawing = flinz.draw(tmp_path / "blot.png", "threshold")
    other = drawing.set("draw.level", 0.3)

    drawing.save(tmp_path / "own.png", long_edge_px=200)

    flinz_command("render", tmp_path / "blot.png", "--recipe", "threshold", "--long-edge", 200,
                  "-o", tmp_path / "other.png")  # fmt: skip
    assert (tmp_path / "own.png").read_bytes() == (tmp_path / "other.png").read_bytes()
    assert (drawing.array() != other.array()).any() and drawing.title == "blot"
    assert drawing.array(long_edge=90).shape[1] == 90
    assert drawing.marks() is None


def test_a_sheet_file_comes_back_as_it_was(tmp_path):
    (tmp_path / "blot.png").write_bytes(png(blobs(60, 80) * 255))
    drawing = flinz.draw(tmp_path / "blot.png", "pencil").set("tone.contrast", 0.2)

    drawing.save(tmp_path / "sheet.flinz")
    again = flinz.open_sheet(tmp_path / "sheet.flinz")

    assert again.document == drawing.document
    assert np.array_equal(again.array(), drawing.array())


@pytest.mark.parametrize(
    ("work", "words"),
    [
        (lambda: flinz.draw("gone.jpg"), "There is no file gone.jpg"),
        (lambda: flinz.draw(b"x"), "picture"),
        (lambda: flinz.draw(np.zeros((4, 4))), "uint8 or uint16"),
        (lambda: flinz.draw(np.zeros((4, 4, 2), np.uint8)), "uint8 or uint16"),
        (lambda: flinz.draw(grey(), "no such"), "no such"),
        (lambda: flinz.draw(grey()).set("draw.level", 3, plate=2), "no plate 2"),
        (lambda: flinz.draw(grey()).save("x.gif"), "does not end in a format"),
        (lambda: flinz.draw(grey()).save("x.flinz"), "came as pixels"),
        (lambda: flinz.draw(grey()).save("x.svg", dpi=3), "no use for"),
        (lambda: flinz.draw(grey()).array(long_edge=3, dpi=3), "not both"),
        (lambda: flinz.draw(grey(), "threshold").trace().save("x.png"), "holds pixels"),
        (lambda: flinz.edition([], "pencil", "out"), "no pictures"),
    ],
)
def test_what_is_wrong_is_said_in_a_sentence(work, words, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(flinz.FlinzError, match=words):
        work()
    assert not list(tmp_path.iterdir())


def grey() -> np.ndarray:
    return np.full((12, 16), 128, np.uint8)


@pytest.fixture
def flinz_command(request):
    return request.getfixturevalue("flinz")
