"""Editions from the command line."""

import io
import json
import re
import subprocess
import sys
import zipfile

import numpy as np
import pytest
from PIL import Image

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile, packed
from flinz.core.document.source import FromLettering
from flinz.core.ground.lettering import Lettering
from flinz.core.hand.pieces import id_of
from flinz.core.stages.paper import AsPicture
from tests.charts import blobs, png

SMALL = ("--long-edge", 120, "--jobs", 1)


@pytest.fixture
def plots(tmp_path):
    """A folder of two pictures, and what is none."""
    folder = tmp_path / "plots"
    folder.mkdir()
    for seed, name in enumerate(("leeks.png", "runner_beans.png")):
        (folder / name).write_bytes(png(blobs(60, 80, seed=seed) * 255))
    (folder / "notes.txt").write_text("Plot nine wants water.")
    return folder


@pytest.fixture
def packet(tmp_path):
    """A finished sheet with a plate of words, as a file."""
    data = png(blobs(60, 80, seed=9) * 255)
    words = FromLettering(lettering=Lettering(words="Name", size=6))
    sheet = Sheet(
        picture={"photo": id_of(data)},
        paper=AsPicture(long_edge=60),
        plates=[Plate(draw={"look": "threshold"}), Plate(id="name", source=words)],
    )
    path = tmp_path / "packet.flinz"
    photos = {id_of(data): PackedPhoto(data, PhotoWords(title="Peas"))}
    path.write_bytes(packed(SheetFile(sheet, photos)))
    return path


def test_a_folder_is_drawn_into_a_folder_as_each_photo_alone(flinz, plots, tmp_path):
    out, alone = tmp_path / "out", tmp_path / "alone.png"

    done = flinz("edition", plots, "--recipe", "threshold", "-o", out, *SMALL)
    flinz("render", plots / "leeks.png", "--recipe", "threshold", "--long-edge", 120, "-o", alone)

    assert done.returncode == 0 and "1 other file, left alone" in done.stderr
    assert sorted(each.name for each in out.glob("*.png")) == ["1 leeks.png", "2 runner beans.png"]
    assert (out / "1 leeks.png").read_bytes() == alone.read_bytes()


def test_a_disk_that_fills_costs_the_photos_that_it_has_no_room_for(flinz, tmp_path):
    """A file size limit of the shell stands in for a full disk."""
    folder, out = tmp_path / "plots", tmp_path / "out"
    folder.mkdir()
    (folder / "snow.png").write_bytes(png(np.full((60, 80), 255)))
    (folder / "twigs.png").write_bytes(png(blobs(60, 80, seed=3) * 255))
    ask = ("edition", folder, "--recipe", "pencil", "-o", out, "--long-edge", 600, "--jobs", 2)
    command = " ".join(str(each) for each in (sys.executable, "-m", "flinz", *ask))
    full = f"ulimit -f 16; trap '' XFSZ; exec {command}"

    done = subprocess.run(["bash", "-c", full], capture_output=True, text=True, timeout=300)

    assert done.returncode == 2 and "twigs" in done.stderr
    assert [each.name for each in out.glob("*.png")] == ["1 snow.png"]
    assert not list(out.glob("*.part")) and not list(out.glob(".*.part"))
    again = flinz(*ask, "--resume")
    assert again.returncode == 0 and len(list(out.glob("*.png"))) == 2


def test_resumed_it_draws_only_what_is_missing_or_was_drawn_otherwise(flinz, plots, tmp_path):
    out, draw = tmp_path / "out", ("edition", plots, "-o", tmp_path / "out", "--json", *SMALL)

    def states(*options):
        lines = flinz(*draw, *options).stdout.splitlines()
        return {json.loads(line)["file"]: json.loads(line)["state"] for line in lines}

    beans, leeks = "2 runner beans.png", "1 leeks.png"
    assert states("--recipe", "threshold") == {leeks: "done", beans: "done"}
    (out / beans).unlink()
    assert states("--recipe", "threshold", "--resume") == {leeks: "kept", beans: "done"}
    assert states("--recipe", "pencil", "--resume") == {leeks: "done", beans: "done"}
    (plots / "leeks.png").write_bytes(png(blobs(60, 80, seed=5) * 255))
    assert states("--recipe", "pencil", "--resume") == {leeks: "done", beans: "kept"}
    # Nobody asked to go on.
    assert states("--recipe", "pencil") == {leeks: "done", beans: "done"}


def test_a_damaged_photo_is_named_and_the_others_are_drawn(flinz, plots, tmp_path):
    (plots / "slug.jpg").write_bytes(b"not a picture")
    files = [plots / "slug.jpg", plots / "leeks.png", plots / "gone.png"]

    done = flinz("edition", *files, "--recipe", "threshold", "-o", tmp_path / "out.zip", *SMALL)

    assert done.returncode == 2
    assert (
        "2 of 3 photos failed. slug.jpg: " in done.stderr and "gone.png: There is no" in done.stderr
    )
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        assert archive.namelist() == ["2 leeks.png"]
    # What was drawn is kept until all are.
    files[0].unlink()
    (plots / "slug.jpg").write_bytes(png(blobs(60, 80, seed=4) * 255))
    again = flinz(
        "edition",
        *files[:2],
        "--recipe",
        "threshold",
        "-o",
        tmp_path / "out.zip",
        "--resume",
        *SMALL,
    )
    assert again.returncode == 0 and "2 leeks.png  was there" in again.stdout
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        assert archive.namelist() == ["1 slug.png", "2 leeks.png"]
        assert Image.open(io.BytesIO(archive.read("1 slug.png"))).size == (120, 90)
    assert not list(tmp_path.glob(".*"))


def test_words_and_names_come_from_photos_and_a_table(flinz, plots, packet, tmp_path):
    table = tmp_path / "table.csv"
    table.write_text("photo,Latin\nleeks,Allium\n")
    out = tmp_path / "out"
    options = ["--words", "2={latin}", "--table", table, "--names", "{title}", "--format", "svg"]

    done = flinz("edition", plots, "--recipe", packet, "-o", out, "--jobs", 1, *options)

    assert done.returncode == 2 and "runner_beans.png: The table has no line for" in done.stderr
    assert [each.name for each in out.glob("*.svg")] == ["leeks.svg"]
    # Set as letters, which differ from those of the sheet.
    alone = tmp_path / "alone.svg"
    flinz("render", packet, "-o", alone)
    assert letters(out / "leeks.svg") != letters(alone)


def letters(file):
    """The outlines of the second plate."""
    return re.search(r'<g id="name".*?</g>', file.read_text(), re.DOTALL)[0]


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["--format", "gif"], "no format 'gif' here; there are"),
        (["--names", "{titel} {number}"], "no {titel} here; there are title, caption, number"),
        (["--format", "svg", "--dpi", 300], "has no use for --dpi"),
        (["--jobs", 2, "--dask", "tcp://x:1"], "no --jobs"),
        (["--words", "{title}"], "no lettering"),
        (["--words", "3=x"], "no lettering|plate 3"),
        (["--set", "draw.nothing=1"], "nothing"),
        (["--dpi", 300, "--long-edge", 100], "not both"),
    ],
)
def test_what_cannot_be_asked_is_one_sentence(arguments, words, flinz, plots, tmp_path):
    done = flinz("edition", plots, "--recipe", "pencil", "-o", tmp_path / "out", *arguments)

    assert done.returncode == 2 and not done.stdout and not list(tmp_path.glob("out/*"))
    assert any(word in done.stderr for word in words.split("|"))


def test_a_folder_without_pictures_and_a_file_in_the_way_are_said(flinz, tmp_path, plots):
    (tmp_path / "empty").mkdir()
    (tmp_path / "file").write_text("")
    nothing = flinz("edition", tmp_path / "empty", "--recipe", "pencil", "-o", tmp_path / "out")
    in_way = flinz("edition", plots, "--recipe", "pencil", "-o", tmp_path / "file")

    assert nothing.returncode == 2 and "no pictures" in nothing.stderr
    assert in_way.returncode == 2 and "is a file" in in_way.stderr


def test_a_cluster_draws_the_same_files_and_one_out_of_reach_is_said(
    flinz, plots, tmp_path, monkeypatch
):
    from distributed import LocalCluster

    here, there = tmp_path / "here", tmp_path / "there"
    draw = ("edition", plots, "--recipe", "threshold", "--long-edge", 120)
    with LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as local:
        done = flinz(*draw, "-o", there, "--dask", local.scheduler_address)
    assert done.returncode == 0 and "2 of 2" in done.stdout
    monkeypatch.setattr("flinz.core.edition.cluster.REACH_SECONDS", 0.5)
    nowhere = flinz(*draw, "-o", here, "--dask", "tcp://127.0.0.1:9")
    assert nowhere.returncode == 2 and "No Dask cluster can be reached" in nowhere.stderr

    flinz(*draw, "-o", here, "--jobs", 1)

    for file in here.glob("*.png"):
        assert (there / file.name).read_bytes() == file.read_bytes()
