"""The release: installed from a folder of wheels into an empty environment, it serves and draws."""

import json
import os
import subprocess
import sys
import tarfile
import time
import urllib.error
import urllib.request
import zipfile
from pathlib import Path

import pytest

from browser import free_port
from flinz.demo.scenario import picture

BUILD = Path(__file__).parents[1] / "build"
# Where a first look is compiled, on cores that others use too.
MOST_SECONDS, POLL_SECONDS = 300, 0.1


@pytest.fixture(scope="module")
def wheel():
    return next((BUILD / "release").glob("flinz-*.whl"))


@pytest.fixture(scope="module")
def flinz(wheel, tmp_path_factory):
    """Runs an installed Flinz: no Node, no network, nothing of this checkout."""
    folder = tmp_path_factory.mktemp("installed")
    # This environment's pip installs into it: one of its own would take as long as all the rest.
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", folder / "env"], check=True)
    python = folder / "env" / "bin" / "python"
    kept = {name: os.environ[name] for name in ("HOME", "LANG", "TMPDIR") if name in os.environ}
    # Whoever asks for the network finds nobody.
    nobody = dict.fromkeys(("http_proxy", "https_proxy"), "http://127.0.0.1:9")
    env = {**kept, **nobody, "PATH": str(python.parent), "PIP_CONFIG_FILE": os.devnull}
    pip = [sys.executable, "-m", "pip", "--python", python, "install", "--quiet"]
    wheels = ["--no-index", "--no-compile", "--find-links", BUILD / "wheels", wheel]
    subprocess.run([*pip, *wheels], check=True, env=env, cwd=folder)

    def command(*arguments):
        return [python.parent / "flinz", *map(str, arguments)], {"env": env, "cwd": folder}

    return command


def run(flinz, *arguments):
    command, options = flinz(*arguments)
    done = subprocess.run(command, capture_output=True, text=True, timeout=MOST_SECONDS, **options)
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_an_installed_flinz_serves_page_guide_and_demo_and_says_what_is_not_ready(flinz, tmp_path):
    port = free_port()
    command, options = flinz("demo", "--data", tmp_path / "demo", "--port", port)
    address, end = f"http://127.0.0.1:{port}", time.monotonic() + MOST_SECONDS

    def asked(path):
        """What an address answers: its status and body; asked again until there is a server."""
        while True:
            try:
                with urllib.request.urlopen(f"{address}{path}", timeout=150) as answer:
                    return answer.status, answer.read()
            except urllib.error.HTTPError as error:
                return error.code, error.read()
            except OSError:
                assert server.poll() is None and time.monotonic() < end
                time.sleep(POLL_SECONDS)

    with subprocess.Popen(command, **options) as server:
        try:
            assert b"<title>Flinz" in asked("/")[1]
            assert b"OFL-1.1" in asked("/assets/licences.txt")[1]
            assert b"seed packet" in asked("/guide/")[1].lower()
            status, body = asked("/api/sheets/3/picture?long_edge_px=64")
            # Its kernels are compiled in the background, unless this machine was as quick as that.
            assert body.startswith(b"\x89PNG") if status == 200 else status == 503
            if status == 503:
                assert "made ready for this machine" in json.loads(body)["detail"]
        finally:
            server.terminate()
            server.wait(60)


def test_an_installed_flinz_draws_one_photo_and_an_edition(flinz, tmp_path):
    plots, one, many = tmp_path / "plots", tmp_path / "one.png", tmp_path / "many"
    plots.mkdir()
    for name in ("pears.jpg", "snail.jpg"):
        (plots / name).write_bytes(picture(name))

    run(flinz, "render", plots / "pears.jpg", "--recipe", "threshold", "--dpi", 50, "-o", one)
    told = run(flinz, "edition", plots, "--recipe", "threshold", "--dpi", 50, "--names",
               "{title}", "-o", many)  # fmt: skip

    assert "2 of 2" in told
    assert (many / "pears.png").read_bytes() == one.read_bytes()


def test_the_release_carries_page_guide_photos_and_every_licence(wheel):
    with zipfile.ZipFile(wheel) as archive:
        names = archive.namelist()
        licences = archive.read("flinz/server/page/assets/licences.txt").decode()
    for part in ("server/page/index.html", "server/page/guide/index.html", "demo/photos/pears.jpg"):
        assert f"flinz/{part}" in names
    fonts = [name for name in names if name.endswith(".ttf")]
    assert fonts and all(f"{font.removesuffix('.ttf')}.licence.txt" in names for font in fonts)
    for carried in ("react-dom ", "bootstrap ", "@fontsource/vollkorn ", "font wood-type"):
        assert f"\n{carried}" in licences
    assert any(name.endswith("licenses/LICENSE") for name in names)
    source = next((BUILD / "release").glob("flinz-*.tar.gz"))
    with tarfile.open(source) as archive:
        inside = {name.partition("/")[2] for name in archive.getnames()}
    assert {"src/flinz/server/page/index.html", "pyproject.toml", "LICENSE"} <= inside
