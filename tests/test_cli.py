import contextlib
import json
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request

import numpy as np
import pytest
from PIL import Image

from browser import free_port
from flinz.core.document import builtin
from flinz.core.document.setting import with_value
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile, packed
from flinz.store import photos
from flinz.store.database import connect, migrate
from flinz.store.photos import content_id
from tests.charts import png, ramp


def test_the_command_is_there_as_a_process_of_its_own():
    command = [sys.executable, "-m", "flinz", "recipes"]
    done = subprocess.run(command, capture_output=True, text=True, timeout=300)

    assert (done.returncode, done.stderr) == (0, "")
    assert done.stdout.startswith("contour-hatch")


@pytest.fixture
def chart(tmp_path):
    path = tmp_path / "ramp.png"
    path.write_bytes(png(ramp()))
    return path


def test_render_prints_nothing_and_is_exact(flinz, chart, tmp_path):
    out = tmp_path / "out.png"

    done = flinz("render", chart, "--recipe", "threshold", "--set", "draw.level=0.25", "-o", out)

    assert (done.returncode, done.stdout, done.stderr) == (0, "", "")
    with Image.open(out) as picture:
        drawn = np.asarray(picture)
    assert np.array_equal(drawn == 0, ramp() / 255 < 0.25)


def test_render_takes_a_recipe_file_and_a_size(flinz, chart, tmp_path):
    recipe = tmp_path / "mine.json"
    recipe.write_text(
        json.dumps({"format": "flinz-recipe", "version": 1, "name": "mine", "plates": [{}]})
    )
    out = tmp_path / "out.png"

    done = flinz("render", chart, "--recipe", recipe, "--dpi", 50, "-o", out)

    assert done.returncode == 0, done.stderr
    with Image.open(out) as picture:
        assert picture.size[0] == 394


@pytest.mark.parametrize(
    ("arguments", "part"),
    [
        (["nowhere.png", "--recipe", "pencil", "-o", "out.png"], "nowhere.png"),
        (["CHART", "--recipe", "oil", "-o", "out.png"], "pencil"),
        (["CHART", "--recipe", "pencil", "--set", "draw.softness=900", "-o", "out.png"], "40"),
        (["CHART", "--recipe", "pencil", "--set", "draw.softness", "-o", "out.png"], "VALUE"),
        (["CHART", "--recipe", "pencil", "-o", "no/where/out.png"], "no folder"),
        (["CHART", "--recipe", "pencil", "-o", "out.xyz"], ".png"),
        (["CHART", "--recipe", "pencil", "--long-edge", "0", "-o", "out.png"], "long_edge_px"),
        (["CHART", "--recipe", "pencil", "--dpi", "9", "-o", "out.png"], "dpi"),
        (["CHART", "--recipe", "pencil", "--depth", "2-bit", "-o", "out.png"], "depth"),
        (["TEXT", "--recipe", "pencil", "-o", "out.png"], "not a picture"),
        (["CHART", "-o", "out.png"], "--recipe"),
        (["CHART", "--sideways"], "--sideways"),
    ],
)
def test_a_mistake_is_one_sentence_and_leaves_no_file(
    flinz, arguments, part, chart, tmp_path, monkeypatch
):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "text.png").write_text("Dear allotment holders")
    named = {"CHART": chart, "TEXT": tmp_path / "text.png"}

    done = flinz("render", *[named.get(a, a) for a in arguments])

    assert done.returncode == 2
    assert part in done.stderr and done.stderr.count("\n") == 1 and "Traceback" not in done.stderr
    assert sorted(p.name for p in tmp_path.iterdir()) == ["ramp.png", "text.png"]


def test_a_full_disk_leaves_no_half_written_file(chart, tmp_path):
    """A file size limit of the shell stands in for a full disk."""
    out = tmp_path / "out.png"
    render = f"{sys.executable} -m flinz render {chart} --recipe pencil --long-edge 1500 -o {out}"
    command = f"ulimit -f 1; trap '' XFSZ; exec {render}"

    done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, timeout=300)

    assert done.returncode == 2
    assert "cannot be written" in done.stderr
    assert [p.name for p in tmp_path.iterdir()] == ["ramp.png"]


def test_recipes_are_listed_as_json(flinz):
    rows = json.loads(flinz("recipes", "--json").stdout)

    assert {"name", "look", "purpose"} == set(rows[0])
    assert {"pencil", "threshold"} <= {row["name"] for row in rows}


def test_figures_tell_the_ink(flinz, chart):
    found = json.loads(flinz("figures", chart, "--recipe", "threshold", "--long-edge", 256).stdout)

    assert found["ink"] == pytest.approx(0.5, abs=0.01)


def test_the_core_needs_no_web_package():
    script = (
        "import sys, flinz.core.judge.lost, flinz.core.deliver.registry; "
        "print([m for m in ('fastapi', 'starlette', 'uvicorn', 'sqlite3') if m in sys.modules])"
    )

    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)

    assert done.stdout.strip() == "[]"


def test_a_taken_port_is_said(flinz, tmp_path):
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        done = flinz("serve", "--data", tmp_path, "--port", taken.getsockname()[1])

    assert done.returncode == 2 and "taken" in done.stderr


def test_what_can_be_read_is_rescued_into_a_new_folder(flinz, tmp_path):
    with contextlib.closing(connect(tmp_path / "flinz.sqlite3")) as db:
        migrate(db)
        photos.add(db, png(ramp()), "Ramp")

    done = flinz("rescue", tmp_path / "new", "--data", tmp_path)
    again = flinz("rescue", tmp_path / "new", "--data", tmp_path)

    assert done.returncode == 0 and "1 of photos" in done.stdout
    assert again.returncode == 2 and "already" in again.stderr


def test_a_short_key_is_refused(flinz, tmp_path):
    done = flinz("serve", "--data", tmp_path, "--host", "0.0.0.0", "--key", "pear")

    assert done.returncode == 2 and "16" in done.stderr


def test_who_serves_others_without_a_key_is_given_one_once(tmp_path):
    port = free_port()
    command = [sys.executable, "-m", "flinz", "serve", "--data", str(tmp_path), "--port", str(port)]
    with subprocess.Popen(
        [*command, "--host", "0.0.0.0"], stdout=subprocess.PIPE, text=True
    ) as server:
        try:
            said = server.stdout.readline()
            key = said.split()[3]
            address = f"http://127.0.0.1:{port}/api/sheets"
            assert server.stdout.readline().startswith("Flinz is at")
            wait_until_it_listens(port)

            with pytest.raises(urllib.error.HTTPError) as refused:
                urllib.request.urlopen(address, timeout=150)
            refused.value.close()
            with urllib.request.urlopen(f"{address}?key={key}", timeout=150) as answer:
                assert answer.status == 200
        finally:
            server.kill()

    assert refused.value.code == 403 and len(key) >= 16


def wait_until_it_listens(port):
    end = time.monotonic() + 150
    while time.monotonic() < end:
        with contextlib.suppress(ConnectionError), socket.create_connection(("127.0.0.1", port)):
            return
    raise AssertionError("The server does not listen.")


def test_a_newer_store_is_left_untouched(flinz, tmp_path):
    import sqlite3

    path = tmp_path / "flinz.sqlite3"
    with sqlite3.connect(path) as db:
        db.execute("PRAGMA user_version = 999")
    db.close()
    before = path.read_bytes()

    done = flinz("serve", "--data", tmp_path, "--port", free_port())

    assert done.returncode == 2 and "newer Flinz" in done.stderr
    assert path.read_bytes()[100:] == before[100:]


def test_a_sheet_file_is_drawn_with_no_server(flinz, chart, tmp_path):
    data = chart.read_bytes()
    sheet = with_value(builtin.named("threshold").on(content_id(data), "Ramp"), "draw.level", 0.25)
    file = SheetFile(sheet, {sheet.picture.photo: PackedPhoto(data, PhotoWords(title="Ramp"))})
    (tmp_path / "ramp.flinz").write_bytes(packed(file))
    out = tmp_path / "out.png"

    assert flinz("render", tmp_path / "ramp.flinz", "-o", out).returncode == 0

    with Image.open(out) as picture:
        drawn = np.asarray(picture)
    assert np.array_equal(drawn == 0, ramp() / 255 < 0.25)
    refused = flinz("render", tmp_path / "ramp.flinz", "--recipe", "pencil", "-o", out)
    assert refused.returncode == 2 and "own recipe" in refused.stderr


def test_a_studio_is_copied_and_brought_back(flinz, chart, tmp_path):
    folder, copy, new = tmp_path / "data", tmp_path / "copy", tmp_path / "new"
    folder.mkdir()
    with contextlib.closing(connect(folder / "flinz.sqlite3")) as db:
        migrate(db)
        photos.add(db, chart.read_bytes(), "Ramp")

    assert flinz("backup", copy, "--data", folder).returncode == 0
    assert flinz("backup", copy, "--data", new, "--bring-back").returncode == 0

    with contextlib.closing(connect(new / "flinz.sqlite3")) as db:
        assert [photo.title for photo in photos.every(db)] == ["Ramp"]
    again = flinz("backup", copy, "--data", new, "--bring-back")
    assert again.returncode == 2 and "already" in again.stderr


def test_a_copy_that_does_not_fit_leaves_the_one_before_it(tmp_path):
    folder, copy = tmp_path / "data", tmp_path / "copy"
    folder.mkdir()
    copy.write_text("the copy of last week")
    with contextlib.closing(connect(folder / "flinz.sqlite3")) as db:
        migrate(db)
        noise = np.random.default_rng(1).integers(0, 256, (500, 700))
        photos.add(db, png(noise), "Noise, which cannot be squeezed")
    # A hundred kilobytes are enough for the store's own bookkeeping, and not for the copy.
    backup = f"{sys.executable} -m flinz backup {copy} --data {folder}"
    command = f"ulimit -f 100; trap '' XFSZ; exec {backup}"

    done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, timeout=300)

    assert done.returncode == 2 and "cannot be written" in done.stderr
    assert copy.read_text() == "the copy of last week"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["copy", "data"]


@pytest.fixture
def disc(tmp_path):
    """A bright disc on a dark ground, as a file."""
    rows, columns = np.mgrid[0:120, 0:160]
    values = np.where(np.hypot(columns - 80, rows - 60) < 35, 220, 40).astype(np.uint8)
    path = tmp_path / "disc.png"
    path.write_bytes(png(values))
    return path


def test_cutout_writes_the_alpha_of_the_photos_own_pixels(flinz, disc, tmp_path):
    out = tmp_path / "alpha.png"
    strokes = ("--keep", "0.4,0.5,0.6,0.5", "--drop", "0.05,0.05,0.95,0.05", "--size", "3")
    for said in ((), strokes):
        done = flinz("cutout", disc, *said, "-o", out)

        assert (done.returncode, done.stderr) == (0, "")
        alpha = Image.open(out)
        assert (alpha.mode, alpha.size) == ("L", (160, 120))
        assert (np.asarray(alpha)[60, 80], np.asarray(alpha)[10, 10]) == (255, 0)


def test_render_draws_a_part(flinz, disc, tmp_path):
    ink = {}
    for part in ("whole", "subject", "backdrop"):
        out = tmp_path / f"{part}.png"
        done = flinz(
            *("render", disc, "--recipe", "threshold", "--set", "draw.level=1.0"),
            *("--part", part, "-o", out),
        )
        assert (done.returncode, done.stderr) == (0, "")
        drawn = np.asarray(Image.open(out).convert("L"))
        ink[part] = drawn[60, 80] < 128, drawn[10, 10] < 128

    assert ink == {"whole": (True, True), "subject": (True, False), "backdrop": (False, True)}


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (("--keep", "1,2,3"), "is no stroke"),
        (("--drop", "0.5"), "is no stroke"),
        (("--size", "-3"), "size of a stroke"),
    ],
)
def test_cutout_refuses_what_is_no_stroke(flinz, disc, tmp_path, said, words):
    done = flinz("cutout", disc, *said, "-o", tmp_path / "alpha.png")

    assert done.returncode == 2 and words in done.stderr
    assert not (tmp_path / "alpha.png").exists()
