"""Choosing and judging by eye on the real page: contact sheet, strips, watch spots, comparison."""

import json

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

import browser
from flinz.core.document.sheet import Sheet
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.demo.scenario import picture
from tests.ui.steps import (
    CONTACT_DONE,
    axe_faults,
    button,
    canvas_pixels,
    choose_look,
    click_on,
    face_in_pencil,
    find,
    find_path,
    ink_percent,
    press_key,
    settled,
    sheet_pixels,
    stage,
    stored,
    type_value,
    until,
)

PLACES = """
    const style = (css) => document.querySelector(css).style.cssText;
    return [style(".sheet-shadow"), style(".other-shadow")];
"""


@pytest.fixture
def bench(page, address):
    """A pencil drawing of the face of its own, whatever other tests have done."""
    page.get(f"{address}/sheets/{face_in_pencil(address)}")
    settled(page)
    return page


def pinned(page, x, y, wide=90, high=60):
    """Pin a watch spot by dragging from a place relative to the middle of the bed."""
    press_key(page, "o")
    layer = find(page, ".pin-layer")
    drag = ActionChains(page).move_to_element_with_offset(layer, x, y).click_and_hold()
    drag.move_by_offset(wide, high).release().perform()
    until(page, lambda d: not d.find_elements(By.CSS_SELECTOR, ".pin-layer"))
    settled(page)


def test_the_contact_sheet_leads_to_the_bench(page, address):
    page.get(address)
    find(page, ".photo-card .picture-button").click()

    browser.until(page, CONTACT_DONE)
    cards = page.find_elements(By.CSS_SELECTOR, ".contact-cards li")
    assert len(cards) > 34
    assert axe_faults(page) == []
    chosen = next(card for card in cards if "Zine copy" in card.text)
    click_on(page, chosen.find_element(By.TAG_NAME, "button"))

    settled(page)
    assert find(page, ".kind-row strong").text == "Photocopy"


def test_another_direction_keeps_the_work_as_a_pull(bench):
    type_value(bench, "Softness", 7)
    settled(bench)
    before = stored(bench)["sheet"]
    press_key(bench, "c")
    find(bench, ".contact-cards button")
    click_on(bench, find_path(bench, "//button[.//span[text()='Woodcut']]"))
    settled(bench)

    assert stored(bench)["sheet"]["plates"][0]["draw"]["look"] == "woodcut"
    press_key(bench, Keys.SHIFT, "k")
    assert find(bench, ".pull-name").get_attribute("value") == "Before woodcut"
    button(bench, "go back to it").click()
    until(bench, lambda d: stored(d)["sheet"] == before)


def test_what_is_under_the_pointer_stays_when_a_pulls_picture_comes(bench):
    blocked = {"urls": ["*/pulls/*/picture*"]}
    bench.execute_cdp_cmd("Network.enable", {})
    bench.execute_cdp_cmd("Network.setBlockedURLs", blocked)
    press_key(bench, Keys.SHIFT, "k")
    find(bench, ".pulls-keep input").send_keys("As it was", Keys.ENTER)
    place = find(bench, ".pulls li .book-acts").rect
    shown = "return document.querySelector('.pulls li img').naturalWidth > 0"
    assert not bench.execute_script(shown)

    bench.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    browser.until(bench, shown)
    assert find(bench, ".pulls li .book-acts").rect == place


def test_a_test_strip_takes_a_value_and_escape_takes_none(bench):
    before = stored(bench)["sheet"]
    find(bench, "[aria-label='Test strip of Softness']").click()
    until(
        bench,
        lambda d: (
            len(d.find_elements(By.CSS_SELECTOR, ".strip-proof[data-draft=false]"))
            == len(d.find_elements(By.CSS_SELECTOR, ".strip-cell"))
            == 9
        ),
    )
    assert axe_faults(bench) == []
    shown = [canvas_pixels(bench, ".strip-proof", k) for k in (0, 8)]
    assert not np.array_equal(*shown)
    press_key(bench, Keys.ESCAPE)
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".strip"))
    assert stored(bench)["sheet"] == before

    press_key(bench, "t")
    cell = bench.find_elements(By.CSS_SELECTOR, ".strip-cell")[7]
    words = cell.text
    cell.send_keys(Keys.ENTER)
    settled(bench)

    value = stored(bench)["sheet"]["plates"][0]["draw"]["softness"]
    assert words == f"softness {value:.1f} mm"
    assert value != before["plates"][0]["draw"]["softness"]
    button(bench, "Undo").click()
    until(bench, lambda d: stored(d)["sheet"] == before)


def test_a_strip_over_two_dials_takes_both(bench):
    press_key(bench, "t")
    find(bench, ".strip select").send_keys("with darkness")
    until(bench, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".strip-cell")) == 16)
    cell = bench.find_elements(By.CSS_SELECTOR, ".strip-cell")[0]
    assert "softness" in cell.text and "darkness" in cell.text
    ActionChains(bench).click(cell).perform()
    settled(bench)

    assert "softness" in stored(bench)["undo"] and "darkness" in stored(bench)["undo"]


def test_a_watch_spot_follows_a_dial_and_stays_with_the_sheet(bench):
    pinned(bench, -60, -60)
    before = canvas_pixels(bench, ".spot-proof")
    type_value(bench, "Darkness", 2.5)
    settled(bench)
    after = canvas_pixels(bench, ".spot-proof")
    assert after.mean() < before.mean() - 2

    bench.refresh()
    settled(bench)
    assert np.array_equal(canvas_pixels(bench, ".spot-proof"), after)
    assert axe_faults(bench) == []
    spot = stored(bench)["sheet"]["watch"][0]
    panel = find(bench, ".spot")
    panel.send_keys(Keys.ARROW_RIGHT)
    until(bench, lambda d: stored(d)["sheet"]["watch"][0]["left"] > spot["left"])
    panel.send_keys(Keys.DELETE)
    until(bench, lambda d: stored(d)["sheet"]["watch"] == [])


def test_the_middle_can_be_watched_without_a_pointer_and_eyes_set_the_level(bench):
    choose_look(bench, "Threshold")
    press_key(bench, "o")
    find(bench, ".pin-layer")
    press_key(bench, "o")
    settled(bench)
    tick = "[aria-label^='Level: take']"
    before = find(bench, tick).get_attribute("aria-label")

    # What the suggestion comes to depends on what is watched: only that it changes is asked.
    find(bench, ".spot-eye input").click()
    until(bench, lambda d: stored(d)["sheet"]["watch"][0]["is_eye"])
    settled(bench)

    until(bench, lambda d: find(d, tick).get_attribute("aria-label") != before)


def test_halves_show_the_drawing_and_the_photo(bench):
    press_key(bench, "h")
    settled(bench)
    until(bench, lambda d: find(d, ".other-canvas").get_attribute("data-ask") not in ("0", None))
    other, drawing = canvas_pixels(bench, ".other-canvas"), canvas_pixels(bench, ".sheet-canvas")

    assert other.shape == drawing.shape
    # The photo has colours, the drawing has none; both lie in the same place.
    assert np.ptp(other[..., :3].astype(int), axis=-1).max() > 60
    assert np.ptp(drawing[..., :3].astype(int), axis=-1).max() == 0
    assert np.array_equal(other[..., 3] > 0, drawing[..., 3] > 0)
    handle = find(bench, ".split-handle")
    clip = "return document.querySelector('.pane-other').style.clipPath"
    before = bench.execute_script(clip)
    handle.send_keys(Keys.ARROW_LEFT)
    until(bench, lambda d: d.execute_script(clip) != before)
    assert axe_faults(bench) == []


def test_side_by_side_shares_zoom_and_place(bench):
    press_key(bench, "b")
    until(bench, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".pane")) == 2)
    press_key(bench, ".")
    settled(bench)
    until(bench, lambda d: find(d, ".other-canvas").get_attribute("data-ask") not in ("0", None))

    drawing, other = bench.execute_script(PLACES)
    assert drawing == other


def test_two_plates_multiplied_give_the_pixels_of_the_core(bench):
    find(bench, ".disc-add").click()
    find(bench, ".add-plate .find-recipe").send_keys("dot screen")
    find_path(bench, "//*[@role='dialog']//li//button[.//span[text()='Dot screen']]").click()
    until(bench, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".disc")) == 3)
    settled(bench)

    record = stored(bench)
    assert record["undo"] == "Plates: add Dot screen"
    sheet = Sheet.model_validate(record["sheet"])
    assert [plate.draw.look for plate in sheet.plates] == ["pencil", "dot-screen"]
    photo = decode(picture("scarecrow.jpg"), sheet.picture.photo)
    seen = sheet_pixels(bench)
    drawn = Press().proof(photo, sheet, whole(sheet, photo, max(seen.shape)))
    height, width = min(seen.shape[0], drawn.shape[0]), min(seen.shape[1], drawn.shape[1])
    gap = np.abs(seen[:height, :width, 0] - np.rint(drawn * 255)[:height, :width])
    assert gap.max() == 0

    words = find(bench, "[data-testid=plate-ink]").text
    assert words.startswith("alone ") and "without" in words
    ActionChains(bench).key_down(Keys.ALT).perform()
    bench.find_elements(By.CSS_SELECTOR, ".disc")[1].send_keys(Keys.ARROW_LEFT)
    ActionChains(bench).key_up(Keys.ALT).perform()
    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["draw"]["look"] == "dot-screen")
    both = ink_percent(bench)
    button(bench, "hide").click()
    settled(bench)
    assert ink_percent(bench) < both
    find(bench, "[aria-label='Remove this plate']").click()
    until(bench, lambda d: len(stored(d)["sheet"]["plates"]) == 1)


def test_lost_detail_is_shown_and_leads_to_its_worst_place(bench):
    choose_look(bench, "Threshold")
    until(bench, lambda d: find(d, ".figures").get_attribute("data-fresh") == "true")
    assert float(find(bench, "[data-testid=lost]").text.split()[0]) > 0

    press_key(bench, "x")
    until(bench, lambda d: find(d, ".lost-map").get_property("naturalWidth") > 100)
    assert axe_faults(bench) == []
    before = find(bench, ".sheet-shadow").size["width"]
    find(bench, "[aria-label='Go to place 1']").click()
    until(bench, lambda d: find(d, ".sheet-shadow").size["width"] > before)
    button(bench, "To the dial Shadows").click()
    until(bench, lambda d: find(d, "#dials-title").text == "Tone")
    label = "return document.activeElement.closest('.dial')?.querySelector('label').innerText"
    until(bench, lambda d: d.execute_script(label) == "Shadows")


def test_specks_are_ringed_and_clean_takes_them_away(bench):
    choose_look(bench, "Threshold")
    until(bench, lambda d: find(d, ".figures").get_attribute("data-fresh") == "true")
    specks = "//footer//button[contains(., 'speck')]"
    count = bench.find_element(By.XPATH, specks).text
    bench.find_element(By.XPATH, specks).click()
    assert bench.find_elements(By.CSS_SELECTOR, ".rings circle")

    button(bench, "To the dial Specks").click()
    until(bench, lambda d: find(d, "#dials-title").text == "Clean")
    type_value(bench, "Specks", 1)
    settled(bench)
    until(bench, lambda d: find(d, ".figures").get_attribute("data-fresh") == "true")
    assert bench.find_element(By.XPATH, specks).text != count
    assert "0 specks" in bench.find_element(By.XPATH, specks).text


def is_on_top(driver, element):
    """Whether a click on an element's middle would reach it."""
    return driver.execute_script(
        """
        const box = arguments[0].getBoundingClientRect();
        const x = box.x + box.width / 2, y = box.y + box.height / 2;
        return arguments[0].contains(document.elementFromPoint(x, y));
        """,
        element,
    )


def test_pulls_are_kept_compared_and_deleted(bench):
    press_key(bench, "k")
    until(bench, lambda d: "“Pull 1” is kept." in find(d, ".bed-said").text)
    type_value(bench, "Darkness", 2)
    settled(bench)
    press_key(bench, Keys.SHIFT, "k")
    until(bench, lambda d: find(d, ".pulls img").get_property("naturalWidth") > 0)
    assert axe_faults(bench) == []

    button(bench, "compare").click()
    until(bench, lambda d: find(d, ".other-canvas").get_attribute("data-ask") not in ("0", None))
    assert "pull: Pull 1" in find(bench, ".split-handle").text
    other, now = canvas_pixels(bench, ".other-canvas"), canvas_pixels(bench, ".sheet-canvas")
    assert now[..., 0].mean() < other[..., 0].mean()

    press_key(bench, Keys.SHIFT, "k")
    # The panel slides in, and its pictures push what lies beneath them.
    until(bench, lambda d: is_on_top(d, button(d, "delete")))
    click_on(bench, button(bench, "delete"))
    button(bench, "Put it back").click()
    until(bench, lambda d: find(d, ".pull-name").get_attribute("value") == "Pull 1")


def test_print_size_follows_the_measured_screen(bench):
    find(bench, "[aria-label^='mm, the size']").click()
    bar = find(bench, ".ruler-bar")
    until(bench, lambda d: bar.size["width"] > 0)
    button(bench, "The bar is as long").click()
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".ruler-bar"))
    settled(bench)

    # 200 mm at 96 CSS pixels an inch.
    width = find(bench, ".sheet-shadow").size["width"]
    edge = stored(bench)["sheet"]["paper"]["long_edge"]
    assert width == pytest.approx(edge * 96 / 25.4, abs=1.5)


def test_a_recipe_is_kept_exported_deleted_and_imported(bench, address, downloads):
    type_value(bench, "Softness", 5)
    stage(bench, "Tone")
    button(bench, "Keep").click()
    button(bench, "Keep as recipe…").click()
    until(bench, lambda d: d.switch_to.active_element.get_attribute("maxlength") == "120")
    bench.switch_to.active_element.send_keys("Barnaby soft")
    until(bench, lambda d: axe_faults(d) == [])
    button(bench, "Keep it in the book").click()
    until(bench, lambda d: "“Barnaby soft” is in the recipe book." in find(d, ".bed-said").text)

    bench.get(f"{address}/recipes")
    find(bench, "[aria-label='export Barnaby soft']").click()
    until(bench, lambda d: (downloads / "barnaby-soft.json").exists())
    assert axe_faults(bench) == []
    find(bench, "[aria-label='delete Barnaby soft']").click()
    until(bench, lambda d: "was deleted" in find(d, ".book-cards .gone").text)
    bad = downloads / "bad.json"
    raw = json.loads((downloads / "barnaby-soft.json").read_text())
    raw["plates"][0]["tone"]["contrast"] = 7
    bad.write_text(json.dumps(raw))
    files = bench.find_element(By.CSS_SELECTOR, "input[type=file]")
    files.send_keys(f"{bad}\n{downloads / 'barnaby-soft.json'}")

    until(bench, lambda d: "is in the book" in find(d, ".book-said").text)
    assert "plates.0.tone.contrast is 7" in find(bench, ".book-said").text
    assert find(bench, "[aria-label='Barnaby soft'] h3").text == "Barnaby soft"
    # The refused file is a failed request, which the browser notes by itself.
    bench.get_log("browser")


def test_another_photo_under_a_finished_sheet(bench):
    choose_look(bench, "Threshold")
    before = stored(bench)["sheet"]
    stage(bench, "Photo")
    button(bench, "Another photo under this sheet…").click()
    until(bench, lambda d: d.find_elements(By.CSS_SELECTOR, ".other-photos button"))
    bench.find_element(
        By.XPATH, "//*[contains(@class, 'other-photos')]//button[contains(., 'Two pears')]"
    ).click()

    until(bench, lambda d: "Fitted to it: plate 1: Draw, level." in find(d, ".bed-said").text)
    settled(bench)
    after = stored(bench)["sheet"]
    assert after["picture"]["photo"] != before["picture"]["photo"]
    assert after["plates"][0]["draw"]["level"] != before["plates"][0]["draw"]["level"]
    button(bench, "Undo").click()
    until(bench, lambda d: stored(d)["sheet"] == before)
