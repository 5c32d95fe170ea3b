"""Manners of the page: by keys alone, at every size, words, and what a checker of access finds."""

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.charts import blobs, png
from tests.ui.steps import (
    axe_faults,
    button,
    canvas_pixels,
    choose_look,
    click_on,
    downloaded,
    find,
    find_path,
    press_key,
    settled,
    sized,
    stage,
    stored,
    type_value,
    until,
)

POSTER, TEE = 4, 5
# What of the controls that show lies outside the window or is cut off by what it lies in.
CUT_OFF = """
const cut = [];
for (const each of document.querySelectorAll("button, a[href], input, select")) {
    const box = each.getBoundingClientRect();
    if (box.width === 0 || each.closest(".skip-links, .dials, .print-panel, [hidden]")) continue;
    if (each.type === "file") continue;
    if (box.left < -1 || box.right > innerWidth + 1 || box.top < -1 || box.bottom > innerHeight + 1)
        cut.push(each.outerHTML.slice(0, 120));
}
return cut;
"""
FOCUS = "return document.activeElement"
HAS_RING = """
const style = getComputedStyle(document.activeElement);
return style.outlineStyle !== "none" && parseFloat(style.outlineWidth) >= 2;
"""


@pytest.fixture
def bench(page, address):
    """The pencil of the demo on the bench."""
    page.get(f"{address}/sheets/3")
    settled(page)
    return page


def press(page, *keys):
    """Press keys one after another, where the focus is."""
    actions = ActionChains(page)
    for key in keys:
        actions.send_keys(key)
    actions.perform()


def focus_of(page):
    """What has the focus: the name it is given, or its text."""
    element = page.execute_script(FOCUS)
    return element.get_attribute("aria-label") or element.text


@pytest.mark.parametrize(("width", "height"), [(1920, 1000), (1280, 657), (1024, 700), (900, 600)])
def test_nothing_of_the_bench_is_cut_off_at_any_size(bench, width, height):
    sized(bench, width, height)
    settled(bench)

    assert bench.execute_script(CUT_OFF) == []
    steps = bench.find_elements(By.CSS_SELECTOR, ".run-step")
    assert len(steps) == 7
    for step in steps:
        assert step.rect["y"] + step.rect["height"] <= height
    dials = [
        each
        for each in bench.find_elements(By.CSS_SELECTOR, ".dials .dial")
        if each.rect["y"] + each.rect["height"] <= height
    ]
    assert len(dials) >= 8
    assert bench.execute_script("return document.documentElement.scrollWidth <= innerWidth")


def test_where_the_bar_has_no_room_it_folds_into_a_menu(bench):
    sized(bench, 900, 600)
    settled(bench)
    button(bench, "See").click()
    find_path(bench, "//*[contains(@class, 'dropdown-item')][starts-with(., 'In halves')]").click()

    find(bench, ".split-handle")
    assert axe_faults(bench) == []


def test_a_wide_column_holds_two_of_dials(bench):
    sized(bench, 1920, 1000)
    settled(bench)

    lefts = {each.rect["x"] for each in bench.find_elements(By.CSS_SELECTOR, ".dials-list .dial")}
    assert len(lefts) == 2


def test_any_dial_is_found_by_its_name_and_leads_to_its_value(bench):
    press_key(bench, "/")
    press(bench, "black po", Keys.ENTER)
    until(bench, lambda d: find(d, "#dials-title").text == "Tone")
    until(bench, lambda d: d.execute_script(FOCUS).get_attribute("type") == "range")
    assert bench.execute_script(HAS_RING)

    press(bench, Keys.ENTER, "0.1", Keys.ENTER)
    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["tone"]["black"] == 0.1)
    press(bench, Keys.BACKSPACE)
    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["tone"]["black"] == 0)
    press(bench, "u")
    until(bench, lambda d: "tone.black" in stored(d)["sheet"]["plates"][0]["fitted"])


def test_areas_are_reached_by_one_key_and_the_bar_by_arrows(bench):
    bench.execute_script("document.activeElement.blur()")
    press(bench, Keys.TAB)
    assert find(bench, ".skip-links").rect["y"] >= 0
    seen = []
    for _ in range(5):
        press(bench, Keys.F6)
        area = bench.execute_script(
            "return document.activeElement.closest('[data-area]').dataset.area"
        )
        assert bench.execute_script(HAS_RING), area
        seen.append(area)
    assert sorted(seen) == ["the bar", "the dials", "the figures", "the sheet", "the stages"]

    while (
        bench.execute_script("return document.activeElement.closest('[data-area]').dataset.area")
        != "the bar"
    ):
        press(bench, Keys.F6)
    press(bench, Keys.END)
    assert focus_of(bench) == "Print room"
    assert bench.execute_script(HAS_RING)


def test_the_sheet_is_moved_and_zoomed_by_keys(bench):
    bed = find(bench, ".bed")
    bed.send_keys("+")
    bed.send_keys("+")
    settled(bench)
    place = "const s = document.querySelector('.sheet-shadow').style; return [s.left, s.top]"
    before = bench.execute_script(place)

    bed.send_keys(Keys.ARROW_LEFT)
    until(bench, lambda d: d.execute_script(place) != before)
    bed.send_keys(Keys.HOME)
    until(bench, lambda d: "Whole" in find(d, "[title='Whole sheet (W)']").text)


def test_one_key_hides_everything_but_the_sheet(bench):
    wide = find(bench, ".bed").rect["width"]

    press_key(bench, "q")
    until(bench, lambda d: find(d, ".bed").rect["width"] > wide + 300)
    assert not find(bench, ".dials").is_displayed()
    press_key(bench, "q")
    until(bench, lambda d: find(d, ".dials").is_displayed())


def test_the_history_is_a_list_in_words_to_jump_in(bench):
    for value in (3, 4, 5):
        type_value(bench, "Softness", value)
        settled(bench)
    find(bench, "[aria-label='The history as a list']").click()
    find_path(bench, "//*[contains(@class, 'history-menu')]//a[.='Draw: Softness 3.0 mm']").click()

    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["draw"]["softness"] == 3)
    assert stored(bench)["redo"] == "Draw: Softness 4.0 mm"
    for _ in range(2):
        press_key(bench, Keys.CONTROL, Keys.SHIFT, "z")
    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["draw"]["softness"] == 5)


def test_lengths_are_typed_in_inches(bench):
    type_value(bench, "Softness", "0.2 in")

    until(bench, lambda d: stored(d)["sheet"]["plates"][0]["draw"]["softness"] == 5.08)


def test_choices_are_words_with_pictures_and_say_what_changes_nothing(bench):
    stage(bench, "Ink")
    row = find(bench, "[data-dial='ink.blend'] .kind-row")
    assert "Ink over ink" in row.text and "multiply" in row.text
    row.click()
    find(bench, ".kinds-find").send_keys("normal")
    until(bench, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".kind")) == 1)
    # Black on white: to cover is to multiply.
    until(bench, lambda d: "no change here" in find(d, ".kind").text)
    assert canvas_pixels(bench, ".kind canvas").shape[0] > 60
    assert axe_faults(bench) == []
    find(bench, ".kind").click()
    until(bench, lambda d: stored(d)["undo"] == "Ink: Meets what is beneath covers")


def test_marks_are_asked_for_by_number(bench):
    choose_look(bench, "Stipple")
    field = "[aria-label='Number of marks, typed']"
    until(bench, lambda d: find(d, field).get_attribute("value") != "…")

    click_on(bench, find(bench, field))
    press(bench, "30000", Keys.ENTER)
    until(bench, lambda d: "marks" in stored(d)["undo"])
    settled(bench)

    until(bench, lambda d: find(d, field).get_attribute("value") != "…")
    count = int(find(bench, field).get_attribute("value").replace(",", ""))
    assert 28_000 < count < 32_000
    assert stored(bench)["sheet"]["plates"][0]["draw"]["dot"] > 0.6


def test_very_many_marks_are_announced_and_stopped(bench):
    choose_look(bench, "Stipple")
    type_value(bench, "Dot", 0.24)

    until(bench, lambda d: "marks are being placed" in find(d, ".bed-placing").text)
    button(bench, "Stop").click()
    until(bench, lambda d: "were not placed" in find(d, ".bed-placing").text)
    button(bench, "Place them").click()
    settled(bench)
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".bed-placing"))
    assert int(find(bench, "[data-testid=marks]").text.replace(",", "")) > 100_000


def test_a_watch_spot_is_moved_sized_and_never_shows_less_than_twice(page, address):
    page.get(f"{address}/sheets/{TEE}")
    settled(page)
    spot = find(page, ".spot")
    start = spot.rect

    def times():
        return float(find(page, ".spot-line > span").text.removesuffix("×"))

    assert times() >= 2
    picture = find(page, ".spot-picture")
    ActionChains(page).drag_and_drop_by_offset(picture, -200, 90).perform()
    until(page, lambda d: find(d, ".spot").rect["x"] == start["x"] - 200)
    corner = find(page, ".spot-corner")
    ActionChains(page).drag_and_drop_by_offset(corner, -80, 60).perform()
    until(page, lambda d: find(d, ".spot").rect["width"] == start["width"] + 80)
    find(page, ".spot [aria-pressed]").click()
    until(page, lambda d: find(d, ".spot").rect["height"] > 0.85 * find(d, ".bed").rect["height"])
    settled(page)
    for _ in range(6):
        press_key(page, ".")
    settled(page)
    assert times() >= 2


def test_an_ink_is_picked_from_the_photo_named_and_kept(bench):
    stage(bench, "Ink")
    find(bench, "[data-dial='ink.colour'] .dial-pick").click()
    layer = find(bench, ".pin-layer")
    # On the cheek.
    ActionChains(bench).move_to_element_with_offset(layer, 0, 0).click().perform()
    until(bench, lambda d: stored(d)["undo"].startswith("Ink: Ink #"))
    colour = stored(bench)["sheet"]["plates"][0]["ink"]["colour"]
    assert colour != "#000000"

    button(bench, "keep as a pot").click()
    press(bench, "Barnaby's cheek", Keys.ENTER)
    pot = find(bench, "[data-dial='ink.colour'] .pot[aria-label=\"Barnaby's cheek\"]")
    assert pot.get_attribute("aria-pressed") == "true"
    disc = find(bench, ".disc[aria-pressed=true]")
    assert colour in disc.get_attribute("aria-label")
    button(bench, "take this pot away").click()
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".pot[aria-label*=cheek]"))


def test_a_strip_over_pairs_of_inks_sets_both(bench):
    stage(bench, "Ink")
    click_on(bench, button(bench, "Darks and lights…"))
    cell = find_path(
        bench, "//button[contains(@class, 'strip-cell')][contains(., 'Brick and sky')]"
    )
    assert axe_faults(bench) == []
    ActionChains(bench).click(cell).perform()

    until(bench, lambda d: "brick and sky" in (stored(d)["undo"] or ""))
    ink = stored(bench)["sheet"]["plates"][0]["ink"]
    assert (ink["colouring"], ink["colour"], ink["lights"]) == ("two-colour", "#9c3d24", "#c9dde8")


def test_a_coloured_sheet_leaves_in_colour_and_as_it_left_last(page, address, downloads):
    page.get(f"{address}/sheets/{POSTER}/print")
    until(page, lambda d: Select(find(d, "#depth")).first_selected_option)
    assert Select(find(page, "#depth")).first_selected_option.text.startswith("In colour")
    until(page, lambda d: find(d, ".sheet-canvas").get_attribute("data-ask") not in ("0", None))
    assert axe_faults(page) == []

    def seen():
        pixels = canvas_pixels(page, ".sheet-canvas")
        return pixels[pixels[..., 3] > 0][:, :3].astype(int)

    assert np.ptp(seen(), axis=1).max() > 40
    Select(find(page, "#depth")).select_by_value("1-bit")
    until(page, lambda d: np.ptp(seen(), axis=1).max() == 0)
    press_key(page, "e")
    # Pixel by pixel there is black and white alone.
    until(page, lambda d: set(np.unique(seen())) == {0, 255})
    page.refresh()
    until(page, lambda d: Select(find(d, "#depth")).first_selected_option)
    assert Select(find(page, "#depth")).first_selected_option.text.startswith("In black and white")
    Select(find(page, "#depth")).select_by_value("colour")


@pytest.mark.usefixtures("shelf")
def test_what_was_taken_off_the_shelf_is_put_back_where_it_was(page):
    cards = until(page, lambda d: d.find_elements(By.CSS_SELECTOR, ".shelf-photos > li"))
    titles = [card.find_element(By.CSS_SELECTOR, "h3").text for card in cards]

    find(page, f"[aria-label='remove {titles[2]} from the shelf']").click()
    place = "//*[contains(@class, 'shelf-photos')]/li[3]"
    until(page, lambda d: "was taken off" in find_path(d, place).text)
    assert axe_faults(page) == []
    find_path(page, f"{place}//button").click()
    until(page, lambda d: find_path(d, f"{place}//h3").text == titles[2])


@pytest.mark.usefixtures("shelf")
def test_the_shelf_shows_photos_and_sheets_at_one_glance_and_finds_them(page):
    sized(page, 1280, 657)
    for title in ("photos-title", "sheets-title"):
        assert find(page, f"#{title}").rect["y"] < 200

    find(page, "[aria-label='Find a photo or sheet']").send_keys("barnaby tee")
    until(page, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".shelf-sheets > li")) == 1)
    assert find(page, ".shelf-sheets h3").text == "Old Barnaby, one-colour tee"
    assert "No photo has these words" in find(page, ".shelf-both").text


def test_the_book_draws_a_photo_with_a_recipe(page, address):
    page.get(f"{address}/recipes")
    card = find(page, "[aria-label='Tee one colour'] .picture-button")
    click_on(page, card)

    settled(page)
    assert "/sheets/" in page.current_url
    assert stored(page)["sheet"]["plates"][0]["draw"]["look"] == "cut-paper"


DIALOGS = {
    "keys": "?",
    "pulls": (Keys.SHIFT, "k"),
}


@pytest.mark.parametrize("name", DIALOGS)
def test_dialogs_have_nothing_serious_and_give_the_focus_back(bench, name):
    find(bench, ".run-step").send_keys("")
    bench.execute_script("document.querySelector('.run-step').focus()")
    keys = DIALOGS[name]
    actions = ActionChains(bench)
    if isinstance(keys, tuple):
        actions.key_down(keys[0]).send_keys(keys[1]).key_up(keys[0])
    else:
        actions.send_keys(keys)
    actions.perform()
    dialog = find(bench, "[role=dialog]")
    until(
        bench,
        lambda d: d.execute_script(
            "return document.querySelector('[role=dialog]').contains(document.activeElement)"
        ),
    )
    until(bench, lambda d: axe_faults(d) == [])

    press(bench, Keys.ESCAPE)
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, "[role=dialog]"))
    until(bench, lambda d: "run-step" in d.execute_script(FOCUS).get_attribute("class"))
    assert dialog


@pytest.mark.parametrize("words", ["Keep as recipe…", "Another photo…", "Measure this screen…"])
def test_dialogs_of_the_menu_have_nothing_serious_either(bench, words):
    button(bench, "Keep").click()
    button(bench, words).click()
    find(bench, "[role=dialog]")
    until(bench, lambda d: axe_faults(d) == [])

    press(bench, Keys.ESCAPE)
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, "[role=dialog]"))


def test_adding_a_plate_shows_each_recipe_drawn(bench):
    find(bench, ".disc-add").click()
    find(bench, ".add-plate .find-recipe").send_keys("newsprint")
    until(bench, lambda d: len(d.find_elements(By.CSS_SELECTOR, ".add-plate li")) == 1)
    until(
        bench,
        lambda d: np.ptp(canvas_pixels(d, ".add-plate .contact-proof")[..., :3].astype(int)) > 100,
    )
    until(bench, lambda d: axe_faults(d) == [])
    press(bench, Keys.ESCAPE)


@pytest.mark.parametrize("path", ["", "/recipes", "/sheets/3/contact", "/sheets/3/print"])
def test_screens_have_nothing_serious_and_fit_a_small_window(page, address, path):
    sized(page, 900, 600)
    page.get(f"{address}{path}")
    find(page, "h1")
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, "main img, main canvas"))

    until(page, lambda d: axe_faults(d) == [])
    assert page.execute_script("return document.documentElement.scrollWidth <= innerWidth")


@pytest.mark.usefixtures("shelf")
def test_from_a_photo_to_a_printed_file_by_keys_alone(page, downloads, tmp_path):
    sized(page, 1280, 657)
    photo = tmp_path / "shed.png"
    photo.write_bytes(png(blobs(300, 400) * 255))
    find(page, "input[type=file]").send_keys(str(photo))
    # The next step has the focus as soon as the photo is there.
    until(page, lambda d: focus_of(d) == "Draw it")
    press(page, Keys.ENTER)
    until(page, lambda d: focus_of(d).startswith("Contact sheet"))
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, ".contact-cards button"))
    press(page, Keys.TAB, Keys.TAB)
    until(page, lambda d: d.execute_script(FOCUS).tag_name == "button")
    press(page, Keys.ENTER)
    until(page, lambda d: "/sheets/" in d.current_url)
    settled(page)
    press(page, "/", "threshold")
    press(page, Keys.ESCAPE)
    # From the sheet to the bar: two keys; its last button is the print room.
    while (
        page.execute_script("return document.activeElement.closest('[data-area]')?.dataset.area")
        != "the bar"
    ):
        press(page, Keys.F6)
    press(page, Keys.END, Keys.ENTER)
    until(page, lambda d: focus_of(d).startswith("Print room"))
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, "[data-testid=export-size]"))
    for _ in range(20):
        if "Download" in focus_of(page):
            break
        press(page, Keys.TAB)
    press(page, Keys.ENTER)
    with Image.open(downloaded(page, downloads, "*.png")) as file:
        assert max(file.size) > 300
