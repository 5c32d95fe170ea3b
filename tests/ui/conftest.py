"""A served demo and a browser."""

import pytest

from tests.ui.steps import chromium, emptied, saving_to, served


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    with served("demo", "--data", str(tmp_path_factory.mktemp("demo"))) as address:
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
