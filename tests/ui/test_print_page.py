"""The print room: files of shapes, for the press, and over many pages."""

import re
import zipfile

import numpy as np
import pypdfium2
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

import browser
from screenshots import ANSWERED
from tests.charts import blobs, png
from tests.ui.steps import axe_faults, button, client_of, downloaded, find, sheet_pixels, until

POSTER, TEE, STICKER = 4, 5, 6
LONG_EDGE = "[aria-label='Long edge in pixels']"


def sized_as(web, record, like, long_edge):
    """The number of a sheet, once it is like another but so many mm long."""
    sheet = like | {"paper": like["paper"] | {"long_edge": long_edge}}
    body = {"base": record["revision"], "sheet": sheet, "words": "Sized"}
    web.put(f"/api/sheets/{record['id']}", json=body).raise_for_status()
    return record["id"]


@pytest.fixture
def tee(address):
    """Sheets like the one-colour tee, so many mm long: less to trace than all of it."""
    with client_of(address) as web:

        def of(long_edge):
            like = web.get(f"/api/sheets/{TEE}").json()["sheet"]
            record = browser.begun_of(web, like["picture"]["photo"], "threshold")
            return sized_as(web, record, like, long_edge)

        yield of


@pytest.fixture
def print_room(page, address):
    def opened(sheet):
        page.get(f"{address}/sheets/{sheet}/print")
        find(page, "[data-testid=export-size]")
        return page

    return opened


def choose_format(page, name):
    Select(find(page, "#format")).select_by_value(name)


def left_as(page, downloads, ending):
    button(page, "Download the file").click()
    return downloaded(page, downloads, f"*.{ending}")


def test_a_tee_leaves_as_shapes_without_paper_on_an_under_layer(print_room, downloads, tee):
    page = print_room(tee(100.0))
    choose_format(page, "svg")
    until(page, lambda d: "as shapes" in find(d, ".leaves-as").text)
    assert page.find_elements(By.ID, "by-dpi") == []
    find(page, "#drop-paper").click()
    find(page, "#under-layer").click()
    find(page, "#choice-it-reaches-out-in-below-by-mm")
    assert axe_faults(page) == []

    text = left_as(page, downloads, "svg").read_text()

    groups = re.findall(r'<g id="([^"]+)"', text)
    assert groups[0] == "under-layer" and "paper" not in groups


def test_a_poster_leaves_as_separations(print_room, downloads):
    page = print_room(POSTER)
    choose_format(page, "separations-zip")
    until(page, lambda d: "marigold, #" in find(d, ".leaves-as").text)
    find(page, "#by-dpi").click()
    field = find(page, "[aria-label='Dots an inch']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("60")
    until(page, lambda d: "60 dots" in find(d, "[data-testid=export-size]").text)

    with zipfile.ZipFile(left_as(page, downloads, "zip")) as archive:
        names = archive.namelist()

    assert len(names) >= 2 and all(name.endswith(".tiff") for name in names)


@pytest.fixture
def blots(address):
    """A sheet of a few blots, a little larger than a page has room for."""
    with client_of(address) as web:
        record = browser.begun(web, png(blobs(90, 120, seed=8) * 255), "threshold")
        return sized_as(web, record, record["sheet"], 290.0)


def test_pages_to_glue_are_shown_over_the_sheet_and_leave_as_they_are_shown(
    print_room, downloads, blots
):
    page = print_room(blots)
    choose_format(page, "tiles")
    until(page, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".page-boxes > div")) > 1)
    shown = [each.text for each in page.find_elements(By.CSS_SELECTOR, ".page-boxes > div")]
    find(page, "#mirrored").click()

    pages = pypdfium2.PdfDocument(left_as(page, downloads, "pdf"))

    assert len(pages) == 1 + len(shown)
    said = pages[1].get_textpage().get_text_bounded()
    assert shown[0] in said and "mirrored" in said


def test_what_was_wished_is_kept_for_another_format_and_another_time(print_room):
    page = print_room(STICKER)
    kept = f"return fetch('/api/sheets/{STICKER}/leaving').then((r) => r.json())"
    find(page, LONG_EDGE).send_keys(Keys.CONTROL, "a")
    find(page, LONG_EDGE).send_keys("1200")
    until(page, lambda d: d.execute_script(kept).get("long_edge_px") == 1200)
    page.refresh()
    until(page, lambda d: find(d, LONG_EDGE).get_property("value") == "1200")
    choose_format(page, "svg")
    find(page, "#drop-paper").click()
    choose_format(page, "png")
    choose_format(page, "pdf")
    until(page, lambda d: find(d, "#drop-paper").is_selected())

    until(page, lambda d: d.execute_script(kept)["format"] == "pdf")
    page.refresh()

    until(page, lambda d: find(d, "#drop-paper").is_selected())
    assert find(page, "#format").get_property("value") == "pdf"


def test_a_mend_clears_what_a_machine_could_not_hold(print_room, tee):
    page = print_room(tee(100.0))
    Select(find(page, "#machine")).select_by_value("screen-cloth")
    thin = "//*[@data-testid='checks']/li[contains(., 'has lines of')]//button"
    until(page, lambda d: d.find_element(By.XPATH, f"{thin}[.='Show where']")).click()
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, ".check-spots span"))
    assert axe_faults(page) == []

    page.find_element(By.XPATH, f"{thin}[starts-with(., 'Thicken')]").click()

    until(page, lambda d: "has lines of" not in find(d, "[data-testid=checks]").text)
    assert page.find_elements(By.CSS_SELECTOR, ".check-spots span") == []


def test_a_bad_day_is_seen_whole_or_beside_the_good_print(print_room):
    page = print_room(STICKER)
    browser.until(page, ANSWERED)
    first = sheet_pixels(page)
    middle = first.shape[1] // 2

    def apart(one, side):
        return np.abs(sheet_pixels(page)[:, side].astype(float) - one[:, side]).mean()

    find(page, "#bad-day").click()
    until(page, lambda d: apart(first, slice(middle + 2, None)) > 2)
    browser.until(page, ANSWERED)
    bad = sheet_pixels(page)
    find(page, "#bad-half").click()

    until(page, lambda d: apart(bad, slice(0, middle - 2)) > 2)
    until(page, lambda d: apart(bad, slice(middle + 2, None)) < 1)


def test_what_a_pen_will_draw_is_shown_and_how_long_it_takes(print_room, tee, downloads):
    page = print_room(tee(100.0))
    browser.until(page, ANSWERED)
    before = sheet_pixels(page)

    choose_format(page, "plotter")
    said = until(page, lambda d: d.find_elements(By.CSS_SELECTOR, "[data-testid=plotted]"))[0].text
    browser.until(page, ANSWERED)

    after = sheet_pixels(page)
    assert (
        "m drawn" in said
        and said.split(", about")[0] in left_as(page, downloads, "svg").read_text()
    )
    # Lines of a pen leave less black than full shapes do, and paper as it was.
    assert after.shape == before.shape and (after != before).any()
    assert after[before == 255].mean() > 230
