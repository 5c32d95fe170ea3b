"""Two tabs on one sheet, a slow line from room to room, and a server that stops under the page."""

import pytest
from selenium.webdriver.common.by import By

from tests.ui.steps import (
    button,
    chromium,
    find,
    find_path,
    free_port,
    served,
    settled,
    stored,
    type_value,
    until,
)


@pytest.fixture
def bench(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    return page


def test_a_second_tab_is_told_and_can_take_over(bench, address):
    first = bench.current_window_handle
    bench.switch_to.new_window("tab")
    bench.get(f"{address}/sheets/3")
    until(bench, lambda d: "open in another tab" in find(d, ".bed-trouble").text)
    assert find(bench, ".bench-side").get_attribute("inert") is not None

    button(bench, "Work here instead").click()
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".bed-trouble"))
    type_value(bench, "Softness", 9)
    settled(bench)

    second = bench.current_window_handle
    bench.switch_to.window(first)
    until(bench, lambda d: "open in another tab" in find(d, ".bed-trouble").text)
    button(bench, "Work here instead").click()
    field = "input[aria-label^='Softness, value']"
    until(bench, lambda d: find(d, field).get_attribute("value") == "9.0")
    bench.switch_to.window(second)
    bench.close()
    bench.switch_to.window(first)


def test_a_second_tab_can_open_a_copy(bench, address):
    bench.switch_to.new_window("tab")
    bench.get(f"{address}/sheets/3")
    button(bench, "Open a copy").click()

    until(bench, lambda d: not d.current_url.endswith("/sheets/3"))
    settled(bench)
    assert find(bench, ".title-field").get_attribute("value").endswith(", copy")


@pytest.fixture
def slow_line(bench):
    """A line on which each answer takes longer than it takes to go to the next room."""
    bench.execute_cdp_cmd("Network.enable", {})
    line = {"offline": False, "downloadThroughput": -1, "uploadThroughput": -1}
    bench.execute_cdp_cmd("Network.emulateNetworkConditions", line | {"latency": 400})
    yield bench
    bench.execute_cdp_cmd("Network.emulateNetworkConditions", line | {"latency": 0})
    bench.execute_cdp_cmd("Network.disable", {})


def test_the_print_room_has_what_was_painted_and_turned_last(slow_line):
    page = slow_line
    type_value(page, "Softness", 7)
    find_path(page, "//nav//button[.//strong[text()='Tone']]").click()
    button(page, "Hand").click()
    find(page, ".paint-layer").send_keys(" ")
    find_path(page, "//a[text()='Print room']").click()
    find(page, "[data-testid=export-size]")

    type_value(page, "Long edge", 180)

    until(page, lambda d: stored(d)["sheet"]["paper"]["long_edge"] == 180)
    assert page.find_elements(By.CSS_SELECTOR, ".print-panel .alert, .trouble") == []
    plate = stored(page)["sheet"]["plates"][0]
    assert plate["draw"]["softness"] == 7
    assert plate["hand"].get("tone") is not None


def test_what_is_done_while_the_server_is_stopped_arrives_and_undo_reaches_back_across(demo_data):
    port = free_port()

    def serving():
        return served("demo", "--data", str(demo_data), port=port)

    def stopped(page):
        until(page, lambda d: "does not answer" in find(d, ".bed-trouble").text)

    with chromium() as page:
        with serving() as address:
            page.get(f"{address}/sheets/3")
            settled(page)
            before = stored(page)["sheet"]
            type_value(page, "Softness", 9)
            settled(page)
        stopped(page)
        # The picture stays, and what is changed and painted meanwhile is kept.
        assert find(page, ".sheet-canvas").get_attribute("data-ask") != "0"
        type_value(page, "Darkness", 2)
        until(page, lambda d: find(d, ".saving").get_attribute("data-saving") == "offline")
        find_path(page, "//nav//button[.//strong[text()='Tone']]").click()
        button(page, "Hand").click()
        find(page, ".paint-layer").send_keys(" ")

        with serving():
            until(page, lambda d: not d.find_elements(By.CSS_SELECTOR, ".bed-trouble"))
            until(page, lambda d: tone_of(d) is not None)
            settled(page)
            first = tone_of(page)
            draw = stored(page)["sheet"]["plates"][0]["draw"]
            assert (draw["softness"], draw["darkness"]) == (9, 2)
        stopped(page)
        find(page, ".paint-layer").send_keys(" ")
        # Even if the page is closed meanwhile.
        page.get("about:blank")

        with serving() as address:
            page.get(f"{address}/sheets/3")
            until(page, lambda d: tone_of(d) not in (None, first))
            settled(page)
            button(page, "Undo").click()
            until(page, lambda d: tone_of(d) == first)
            button(page, "Undo").click()
            until(page, lambda d: "Darkness" in (stored(d)["undo"] or ""))
            button(page, "Undo").click()
            until(page, lambda d: "Softness" in (stored(d)["undo"] or ""))
            button(page, "Undo").click()
            until(page, lambda d: stored(d)["sheet"] == before)


def tone_of(page):
    """The strokes at Tone of the first plate, by their id."""
    return stored(page)["sheet"]["plates"][0]["hand"].get("tone")
