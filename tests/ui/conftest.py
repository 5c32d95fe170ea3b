"""A served demo and a browser."""

import pytest

from tests.ui.steps import chromium, served


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    with served("demo", "--data", str(tmp_path_factory.mktemp("demo"))) as address:
        yield address


@pytest.fixture
def downloads(tmp_path):
    return tmp_path / "downloads"


@pytest.fixture
def page(address, downloads):
    downloads.mkdir()
    with chromium(downloads=downloads) as driver:
        driver.get(address)
        yield driver
        severe = [e for e in driver.get_log("browser") if e["level"] == "SEVERE"]
        # A refused upload is a failed request, which the browser notes by itself.
        assert [e for e in severe if "422" not in e["message"]] == []
