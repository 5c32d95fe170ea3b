import os
import sys
from dataclasses import dataclass
from pathlib import Path

import hypothesis
import pytest

from flinz.cli import main
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.demo.scenario import picture

# Processes that tests start share what Python makes of sources, wherever that is forbidden, too.
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)

# Two workers and what they start share few cores: threads that wait are not to keep one busy.
os.environ.setdefault("OMP_WAIT_POLICY", "PASSIVE")

# The first call of a compiled kernel takes longer than any later one. What passes once passes
# again; FLINZ_SEARCH has other examples tried each time, and more of them.
SEARCH = "FLINZ_SEARCH" in os.environ
hypothesis.settings.register_profile(
    "flinz", deadline=None, derandomize=not SEARCH, max_examples=100 if SEARCH else 60
)
hypothesis.settings.load_profile("flinz")


@dataclass
class Done:
    returncode: int
    stdout: str
    stderr: str


@pytest.fixture
def flinz(capsys, monkeypatch):
    """Runs a command as the shell would, without a process of its own."""

    def run(*arguments):
        monkeypatch.setattr(sys, "argv", ["flinz", *map(str, arguments)])
        with pytest.raises(SystemExit) as ended:
            main()
        return Done(ended.value.code or 0, *capsys.readouterr())

    return run


@pytest.fixture(scope="session")
def face() -> Photo:
    return decode(picture("scarecrow.jpg"), "face")


@pytest.fixture(scope="session")
def pears() -> Photo:
    return decode(picture("pears.jpg"), "pears")


HERE = Path(__file__).parent

# Fixtures of whole photos: what draws them is left out of quick runs.
PHOTOS = {"face", "pears", "photos"}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    # What takes longest begins first, so that no worker is left with it at the end: the page, then
    # commands.
    items.sort(key=lambda item: ("ui" not in item.path.parts, item.path.parent != HERE))
    for item in items:
        if PHOTOS & set(getattr(item, "fixturenames", ())):
            item.add_marker(pytest.mark.photo)
