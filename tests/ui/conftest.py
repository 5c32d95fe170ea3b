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


def on_the_shelf(web):
    """The numbers of all that is there, by kind."""
    return {kind: {each["id"] for each in web.get(f"/api/{kind}").json()} for kind in KINDS}


@pytest.fixture(scope="session")
def at_first(demo):
    """What is on the shelf of the demo as it came, and its sheets."""
    with client_of(demo) as web:
        there = on_the_shelf(web)
        return there, {id: web.get(f"/api/sheets/{id}").json()["sheet"] for id in there["sheets"]}


@pytest.fixture(scope="module")
def address(demo, at_first):
    """The demo, in which each file of tests finds the shelf and its sheets as they came."""
    yield demo
    there, sheets = at_first
    with client_of(demo) as web:
        now = on_the_shelf(web)
        for kind in KINDS:
            for number in now[kind] - there[kind]:
                web.delete(f"/api/{kind}/{number}").raise_for_status()
            for number in there[kind] - now[kind]:
                web.post(f"/api/{kind}/{number}/restore").raise_for_status()
        for number, first in sheets.items():
            record = web.get(f"/api/sheets/{number}").json()
            if record["sheet"] != first:
                body = {"base": record["revision"], "sheet": first, "words": "As it came"}
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
    """The page at the shelf."""
    page.get(address)
