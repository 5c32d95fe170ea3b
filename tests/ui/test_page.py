"""The real page in a real browser, over the demo's data."""

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.raster import PictureWish, picture
from flinz.core.document import builtin
from flinz.core.document.setting import with_value
from flinz.core.planes.decoding import decode
from flinz.core.press.press import Press
from tests.charts import blobs, png
from tests.ui.steps import (
    axe_faults,
    button,
    choose_look,
    click_on,
    downloaded,
    find,
    find_path,
    ink_percent,
    press_key,
    settled,
    stored,
    type_value,
    until,
)


@pytest.mark.usefixtures("shelf")
def test_a_photo_becomes_a_drawing_and_leaves_as_a_file(page, downloads, tmp_path):
    """Import, bench, dial, undo, download; the file's pixels are what the core draws."""
    data = png(blobs(300, 400) * 255)
    good, bad = tmp_path / "plot four.png", tmp_path / "letter.png"
    good.write_bytes(data)
    bad.write_text("Dear allotment holders")
    find(page, "input[type=file]").send_keys(f"{bad}\n{good}")
    until(page, lambda d: "not a picture" in find(d, ".uploads [role=alert]").text)
    until(page, lambda d: "plot four.png is on the shelf" in find(d, ".uploads").text)

    button(page, "Draw it").click()
    click_on(page, find_path(page, "//li//button[.//span[text()='Pencil']]"))
    settled(page)
    choose_look(page, "Threshold")
    type_value(page, "Level", 0.4)
    settled(page)
    light = ink_percent(page)
    type_value(page, "Level", 0.6)
    settled(page)
    assert ink_percent(page) > light
    button(page, "Undo").click()
    until(
        page,
        lambda d: find(d, "input[aria-label^='Level, value']").get_attribute("value") == "0.400",
    )
    settled(page)
    assert ink_percent(page) == light

    button(page, "Print room").click()
    find(page, "#by-photo").click()
    button(page, "Download the file").click()

    file = downloaded(page, downloads, "*.png")
    photo = decode(data, "x")
    sheet = with_value(builtin.named("threshold").on("x", ""), "draw.level", "0.4")
    expected, _ = picture(Delivery(Press(), photo, sheet), PictureWish(depth="grey"))
    assert np.array_equal(np.asarray(Image.open(file)), np.asarray(expected))


def test_a_bad_value_says_what_is_allowed_and_keeps_the_last(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    before = find(page, "input[aria-label^='Softness, value']").get_attribute("value")

    field = type_value(page, "Softness", 99)

    assert "0.1 to 40.0 mm" in find(page, ".dial-refused").text
    assert field.get_attribute("value") == before


def test_holding_the_key_shows_the_photo(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    colours = """
        const c = document.querySelector(".sheet-canvas");
        const d = c.getContext("2d").getImageData(c.width / 2, c.height / 2, 80, 80).data;
        let most = 0;
        for (let k = 0; k < d.length; k += 4) most = Math.max(most, Math.abs(d[k] - d[k + 2]));
        return most;
    """
    assert page.execute_script(colours) == 0

    press = (
        "document.dispatchEvent(new KeyboardEvent('{}', {{key: 'p', code: 'KeyP', bubbles: true}}))"
    )
    page.execute_script(press.format("keydown"))
    until(page, lambda d: d.execute_script(colours) > 30)
    page.execute_script(press.format("keyup"))
    until(page, lambda d: d.execute_script(colours) == 0)


def test_arrow_keys_turn_a_dial_and_it_is_saved_across_a_reload(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    dial = find(page, ".dial input[type=range]")
    before = float(dial.get_attribute("value"))

    dial.send_keys(Keys.ARROW_RIGHT)
    dial.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    settled(page)
    page.refresh()
    settled(page)

    after = float(find(page, ".dial input[type=range]").get_attribute("value"))
    assert after == pytest.approx(before + 1.1)
    button(page, "Undo").click()
    until(
        page, lambda d: float(find(d, ".dial input[type=range]").get_attribute("value")) == before
    )


def test_past_fit_the_visible_part_is_drawn_sharp(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    before = page.find_element(By.CSS_SELECTOR, ".sheet-shadow").size["width"]

    button(page, "1:1").click()
    settled(page)

    assert page.find_element(By.CSS_SELECTOR, ".sheet-shadow").size["width"] == 2000 > before
    sharpness = """
        const c = document.querySelector(".sheet-canvas");
        const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
        let jumps = 0;
        for (let k = 4; k < d.length; k += 4) jumps += Math.abs(d[k] - d[k - 4]) > 60;
        return jumps / (d.length / 4);
    """
    sharp = page.execute_script(sharpness)
    assert sharp > 0.02


@pytest.mark.parametrize("path", ["/sheets/3", "/sheets/999"])
def test_no_serious_fault_of_accessibility(page, address, path):
    page.get(address + path)
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, "h1, .trouble"))
    if path == "/sheets/3":
        settled(page)

    assert axe_faults(page) == []


def test_keys_reach_the_bench_from_a_slider_and_enter_leaves_a_field(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    field = find(page, "input[aria-label^='Softness, value']")
    field.click()
    field.send_keys(Keys.CONTROL, "a", Keys.NULL, "5.5", Keys.ENTER)
    until(page, lambda d: d.switch_to.active_element.get_attribute("type") == "range")
    slider = page.switch_to.active_element

    # With the slider focused: halves on, and off again; then undo.
    slider.send_keys("h")
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, "[role=separator], .split-handle"))
    slider.send_keys("h")
    slider.send_keys(Keys.CONTROL, "z", Keys.NULL)
    until(page, lambda d: field.get_attribute("value") != "5.5")

    # What is typed and left with Esc is dropped.
    before = field.get_attribute("value")
    field.send_keys(Keys.CONTROL, "a", Keys.NULL, "9", Keys.ESCAPE)
    until(page, lambda d: field.get_attribute("value") == before)
    field.click()
    field.send_keys(Keys.CONTROL, "z", Keys.NULL)
    settled(page)


def test_no_key_acts_behind_the_keys_page_and_esc_closes_it(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)
    opener = find(page, "button.figures-keys")
    opener.click()
    until(page, lambda d: d.find_elements(By.ID, "keys-title"))

    body = page.switch_to.active_element
    body.send_keys("h")
    body.send_keys("c")
    assert page.current_url.endswith("/sheets/3")
    page.switch_to.active_element.send_keys(Keys.ESCAPE)
    until(page, lambda d: not d.find_elements(By.ID, "keys-title"))

    assert not page.find_elements(By.CSS_SELECTOR, "[role=separator], .split-handle")
    until(page, lambda d: d.switch_to.active_element == opener)


def test_the_keys_page_lists_what_is_bound(page, address):
    page.get(f"{address}/sheets/3")
    settled(page)

    key = "{key: '?', code: 'Slash', shiftKey: true, bubbles: true}"
    page.execute_script(f"document.dispatchEvent(new KeyboardEvent('keydown', {key}))")

    # The page of keys fades in, and has no text to be seen before.
    until(page, lambda d: "See the photo" in find(d, ".modal-body").text)


def test_a_sheet_from_the_shelf_shows_its_last_picture_until_it_is_drawn(page, address):
    page.get(address)
    # Whichever comes first: some of the demo's take long to be drawn.
    come = (
        "return [...document.querySelectorAll('.sheet-card a')]"
        ".find((a) => a.querySelector('img').naturalWidth)"
    )
    card = until(page, lambda d: d.execute_script(come))
    # Looks at every frame from now on: the picture may be there for a few of them only.
    page.execute_script("""
        window.shown = [];
        (function look() {
            const last = document.querySelector("img.bed-last");
            const canvas = document.querySelector(".sheet-canvas");
            if (last?.naturalWidth) window.shown.push(["last", boxes(last)]);
            if (Number(canvas?.dataset.ask) > 0) window.shown.push(["drawn", last === null]);
            requestAnimationFrame(look);
        })();
        function boxes(last) {
            const sheet = document.querySelector(".sheet-shadow").getBoundingClientRect();
            const own = last.getBoundingClientRect();
            return [own.left - sheet.left, own.top - sheet.top, own.width - sheet.width];
        }
    """)
    click_on(page, card)
    settled(page)

    kinds = page.execute_script("return window.shown")
    assert kinds[0] == ["last", [0, 0, 0]]
    assert kinds[-1] == ["drawn", True]


def test_a_sheet_file_is_taken_along_and_opened(page, address, downloads):
    page.get(f"{address}/sheets/3")
    settled(page)
    before = stored(page)["sheet"]
    button(page, "Keep").click()
    button(page, "Take along as a sheet file").click()
    file = downloaded(page, downloads, "*.flinz")

    page.get(address)
    count = len(until(page, lambda d: d.find_elements(By.CSS_SELECTOR, ".shelf-sheets li")))
    find(page, "input[type=file]").send_keys(str(file))
    until(page, lambda d: "on the shelf" in find(d, ".uploads").text)
    until(page, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".shelf-sheets li")) == count + 1)
    find(page, ".shelf-sheets li a").click()
    settled(page)

    assert not page.current_url.endswith("/sheets/3")
    assert stored(page)["sheet"] == before


def test_the_keys_page_leads_to_the_guide_which_is_served_in_its_own_style(page, address):
    page.get(address)
    find(page, ".shelf-photos img")
    press_key(page, "?")
    path = find_path(page, "//a[starts-with(., 'Guide')]").get_attribute("href")
    page.get(path)

    assert "Vollkorn" in find(page, "h1").value_of_css_property("font-family")
    assert axe_faults(page) == []
    find_path(page, "//a[contains(., 'A sticker')]").click()
    until(page, lambda d: find(d, "h1").text == "A sticker")
    until(page, lambda d: d.execute_script("return document.images[0].naturalWidth > 0"))
    page.get(f"{address}/assets/licences.txt")
    assert "OFL-1.1" in find(page, "body").text
