"""Tracings, vectors and files for the press from the command line."""

import json
import re
import zipfile

import numpy as np
import pytest
from PIL import Image

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile, packed
from flinz.core.document.source import FromLettering
from flinz.core.ground.lettering import Lettering
from flinz.core.looks.registry import LOOKS
from flinz.core.stages.paper import OwnSize
from flinz.store.photos import content_id
from tests.charts import blobs, png

BARE = png(np.full((40, 60), 255, np.uint8))


@pytest.fixture
def blot(tmp_path):
    path = tmp_path / "blot.png"
    path.write_bytes(png(blobs(60, 80, seed=2) * 255))
    return path


@pytest.mark.parametrize("kind", ["svg", "pdf", "eps", "dxf"])
def test_a_drawing_is_traced_and_its_figures_are_written(kind, flinz, blot, tmp_path):
    out, told = tmp_path / f"out.{kind}", tmp_path / "figures.json"

    done = flinz(
        "trace", blot, "--recipe", "cut-paper", "--set", "paper.long_edge=60", "--closeness", 0.05,
        "--drop-paper", "-o", out, "--json", told,
    )  # fmt: skip

    assert (done.returncode, done.stdout, done.stderr) == (0, "", "")
    figures = json.loads(told.read_text())
    assert figures["shapes"] > 0 and figures["segments"] >= figures["shapes"]
    assert 0 <= figures["largest_distance_mm"] <= 0.1 and figures["outline_mm"] > 10
    assert out.stat().st_size > 500


def test_specks_corners_and_an_under_layer_are_taken(flinz, blot, tmp_path):
    out = tmp_path / "out.svg"
    options = ["--specks", 1, "--pinholes", 1, "--corners", 60, "--under-layer", -0.3]

    done = flinz("trace", blot, "--recipe", "threshold", *options, "--outline", 2, "-o", out)

    assert done.returncode == 0
    groups = re.findall(r'<g id="([^"]+)"', out.read_text())
    assert groups == ["paper", "outline", "under-layer", "plate-1"]


@pytest.mark.parametrize(
    "arguments, words",
    [
        (["trace", "-o", "out.png"], "a tracing is SVG, PDF, EPS or DXF"),
        (["trace", "--closeness", 0, "-o", "out.svg"], "closeness"),
        (["render", "--dpi", 300, "-o", "out.svg"], "has no use for --dpi"),
        (["trace", "--text", "-o", "out.eps"], "has no use for --text"),
        (["render", "--transparent", "-o", "out.jpg"], "has no use for --transparent"),
        (["render", "--tiles", "a7", "-o", "out.pdf"], "page"),
        (["render", "--tiles", "a4", "--overlap", 100, "--separations", "-o", "out.pdf"], "own"),
        (["render", "--tiles", "a4", "-o", "out.svg"], ".pdf"),
        (["render", "--plotter", 0, "-o", "out.svg"], "greater than"),
    ],
)
def test_what_a_format_cannot_be_asked_is_one_sentence(arguments, words, flinz, blot, tmp_path):
    *rest, name = arguments
    done = flinz(rest[0], blot, "--recipe", "threshold", *rest[1:], tmp_path / name)

    assert done.returncode == 2
    assert words in done.stderr and done.stderr.count("\n") == 1
    assert not (tmp_path / name).exists()


def test_separations_and_tiles_leave_by_their_options(flinz, blot, tmp_path):
    plates, pages = tmp_path / "plates.zip", tmp_path / "pages.pdf"

    one = flinz(
        "render", blot, "--recipe", "fair-poster-two-inks", "--separations", "--dpi", 100,
        "-o", plates,
    )  # fmt: skip
    other = flinz(
        "render", blot, "--recipe", "outline", "--set", "paper.long_edge=320", "--tiles", "a4",
        "--overlap", 5, "--mirrored", "-o", pages,
    )  # fmt: skip

    assert (one.returncode, other.returncode) == (0, 0)
    assert len(zipfile.ZipFile(plates).namelist()) == 2
    assert pages.read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize("command", ["render", "trace"])
def test_words_of_a_sheet_file_stay_text_where_that_is_asked(flinz, tmp_path, command):
    words = FromLettering(lettering=Lettering(words="Seed swap", size=4))
    sheet = Sheet(
        picture=Picture(photo=content_id(BARE)),
        paper=OwnSize(width=60, height=20),
        plates=[Plate(source=words, draw=LOOKS["threshold"].settings())],
    )
    photos = {sheet.picture.photo: PackedPhoto(BARE, PhotoWords(title="Bare"))}
    (tmp_path / "words.flinz").write_bytes(packed(SheetFile(sheet, photos)))
    out = tmp_path / "out.svg"

    assert flinz(command, tmp_path / "words.flinz", "--text", "-o", out).returncode == 0
    assert ">Seed swap</text>" in out.read_text()
    assert flinz(command, tmp_path / "words.flinz", "-o", out).returncode == 0
    assert "<text" not in out.read_text()


def test_ink_alone_is_written_without_paper(flinz, blot, tmp_path):
    out = tmp_path / "out.png"

    flinz("render", blot, "--recipe", "threshold", "--transparent", "-o", out)

    with Image.open(out) as picture:
        assert picture.mode == "RGBA" and picture.getchannel("A").getextrema() == (0, 255)


def test_a_plotter_draws_what_was_asked(flinz, blot, tmp_path):
    lines, drawn = tmp_path / "lines.svg", tmp_path / "drawn.png"

    first = flinz("render", blot, "--recipe", "contour-hatch", "--plotter", 0.4, "-o", lines)
    second = flinz("plot", lines, "-o", drawn)

    assert (first.returncode, second.returncode) == (0, 0)
    assert "min" in second.stdout
    with Image.open(drawn) as picture:
        assert picture.convert("L").getextrema() == (0, 255)
