"""A served demo and a browser."""

import shutil

import pytest

from flinz.demo.scenario import fill
from tests.ui.steps import chromium, emptied, saving_to, served


@pytest.fixture(scope="session")
def filled(tmp_path_factory):
    """The demo's data, made once for all: it takes as long as some tests."""
    folder = tmp_path_factory.mktemp("filled")
    fill(folder)
    return folder


@pytest.fixture
def demo_data(filled, tmp_path):
    """A folder of its own with the demo's data."""
    return shutil.copytree(filled, tmp_path / "demo")


@pytest.fixture(scope="module")
def address(filled, tmp_path_factory):
    folder = shutil.copytree(filled, tmp_path_factory.mktemp("demo") / "data")
    with served("demo", "--data", str(folder)) as address:
        yield address


@pytest.fixture(scope="session")
def browser():
    """One browser for all: to start one takes longer than most tests."""
    with chromium() as driver:
        yield driver


@pytest.fixture
def downloads(tmp_path):
    return tmp_path / "downloads"


@pytest.fixture
def page(browser, address, downloads):
    downloads.mkdir()
    saving_to(browser, downloads)
    browser.get_log("browser")
    browser.get(address)
    yield browser
    severe = [e for e in browser.get_log("browser") if e["level"] == "SEVERE"]
    emptied(browser)
    # A refused upload is a failed request, which the browser notes by itself.
    assert [e for e in severe if "422" not in e["message"]] == []
