"""A served demo and a browser."""

import shutil

import pytest

from flinz.demo.scenario import fill
from tests.ui.steps import BLANK, chromium, client_of, emptied, saving_to, served


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


@pytest.fixture(scope="session")
def demo(filled, tmp_path_factory):
    """One served demo for all: to start one takes as long as some tests."""
    folder = shutil.copytree(filled, tmp_path_factory.mktemp("demo") / "data")
    with served("demo", "--data", str(folder)) as address:
        yield address


KINDS = ("editions", "sheets", "photos")


def records(web, kind):
    """All of a kind that is on the shelf, by number."""
    ids = [each["id"] for each in web.get(f"/api/{kind}").json()]
    return {number: web.get(f"/api/{kind}/{number}").json() for number in ids}


@pytest.fixture(scope="session")
def at_first(demo):
    with client_of(demo) as web:
        return {kind: records(web, kind) for kind in KINDS}


@pytest.fixture(scope="module")
def address(demo, at_first):
    """The demo, in which each file of tests finds the shelf and its sheets as they came."""
    yield demo
    with client_of(demo) as web:
        for kind in KINDS:
            now = records(web, kind)
            for number in now.keys() - at_first[kind].keys():
                web.delete(f"/api/{kind}/{number}").raise_for_status()
            for number in at_first[kind].keys() - now.keys():
                web.post(f"/api/{kind}/{number}/restore").raise_for_status()
        for number, first in at_first["sheets"].items():
            now = web.get(f"/api/sheets/{number}").json()
            if now["sheet"] != first["sheet"]:
                body = {"base": now["revision"], "sheet": first["sheet"], "words": "As it came"}
                web.put(f"/api/sheets/{number}", json=body).raise_for_status()


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
    """A page that shows nothing yet; tests go where they begin."""
    downloads.mkdir()
    saving_to(browser, downloads)
    browser.get_log("browser")
    browser.get(f"{address}/{BLANK}")
    yield browser
    severe = [e for e in browser.get_log("browser") if e["level"] == "SEVERE"]
    emptied(browser, address)
    # A refused upload is a failed request, and so is the icon of a page that shows nothing: the
    # browser notes both by itself.
    expected = ("422", "favicon.ico")
    assert [e for e in severe if not any(words in e["message"] for words in expected)] == []


@pytest.fixture
def shelf(page, address):
    page.get(address)
    return page
