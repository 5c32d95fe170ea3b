"""Hand work through the page: freeing a subject, opening a face, cropping, areas, lost detail."""

import itertools

import cv2
import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from flinz.core.deliver.packed import stock_of
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.quality.cutouts import overlap, true_mask
from tests.ui.steps import (
    axe_faults,
    button,
    choose_look,
    file_of,
    find,
    find_path,
    press_key,
    settled,
    sheet_pixels,
    stage,
    stored,
    until,
)

HEDGEHOG, FACE = 1, 3


@pytest.fixture
def bench(page, address):
    """Opens the bench of a sheet."""

    def opened(sheet):
        page.get(f"{address}/sheets/{sheet}")
        settled(page)
        return page

    return opened


def sheet_of(page):
    return Sheet.model_validate(stored(page)["sheet"])


def stroke(page, *points):
    """Drag over the sheet through places in shares of it, and wait until that is saved."""
    before = stored(page)["revision"]
    script = """
        const layer = document.querySelector(".paint-layer").getBoundingClientRect();
        const at = document.querySelector(".sheet-shadow").style;
        return [layer.width / 2, layer.height / 2, ...["left", "top", "width", "height"]
            .map((side) => parseFloat(at[side]))];
    """
    middle_x, middle_y, left, top, width, height = page.execute_script(script)
    places = [
        (round(left + x * width - middle_x), round(top + y * height - middle_y)) for x, y in points
    ]
    layer = find(page, ".paint-layer")
    drag = ActionChains(page, duration=20).move_to_element_with_offset(layer, *places[0])
    drag.click_and_hold()
    for (x, y), (next_x, next_y) in itertools.pairwise(places):
        drag.move_by_offset(next_x - x, next_y - y)
    drag.release().perform()
    until(page, lambda d: stored(d)["revision"] > before)
    settled(page)


def choose_verb(page, name):
    find_path(page, f"//button[.//span[normalize-space()='{name}']]").click()


def begun_with(page, title):
    """Begin a sheet with a photo of the shelf; its number."""
    script = """
        const [title, done] = arguments;
        fetch("/api/photos").then((r) => r.json()).then((all) => {
            const photo = all.find((each) => each.title === title).id;
            const body = JSON.stringify({ photo });
            const headers = { "Content-Type": "application/json" };
            return fetch("/api/sheets", { method: "POST", body, headers });
        }).then((r) => r.json()).then((sheet) => done(sheet.id));
    """
    return page.execute_async_script(script, title)


def test_a_subject_is_freed_with_three_strokes(page, bench):
    bench(begun_with(page, "Two pears"))
    stage(page, "Photo")
    button(page, "Hand").click()
    stroke(page, (0.3, 0.35), (0.35, 0.6))
    stroke(page, (0.62, 0.5), (0.8, 0.6))
    choose_verb(page, "Drop")
    stroke(page, (0.6, 0.1), (0.95, 0.2), (0.95, 0.9))
    button(page, "Alone").click()
    settled(page)

    alpha = sheet_pixels(page)[..., 0]
    mask = cv2.resize(true_mask("pears"), alpha.shape[::-1], interpolation=cv2.INTER_AREA)
    assert overlap(alpha > 127, mask > 0.5) > 0.95
    assert axe_faults(page) == []
    # The plate draws it, once it is told to; all of it can be undone.
    button(page, "Hatched").click()
    button(page, "Take back all").click()
    until(page, lambda d: sheet_of(d).cutouts == {})
    press_key(page, Keys.CONTROL, "z")
    until(page, lambda d: len(sheet_of(d).cutouts) == 1)


def test_a_face_is_lightened_and_a_scarf_darkened_before_threshold(bench):
    page = bench(FACE)
    choose_look(page, "Threshold")
    settled(page)
    before = sheet_pixels(page)
    stage(page, "Tone")
    button(page, "Hand").click()
    stroke(page, (0.42, 0.4), (0.55, 0.42), (0.5, 0.55))
    choose_verb(page, "Darken")
    stroke(page, (0.4, 0.92), (0.5, 0.95), (0.6, 0.92))

    seen, file = sheet_pixels(page), file_of(page)

    assert not np.array_equal(seen, before)
    stock = stock_of(file)
    press, photo = Press(stock=stock), stock.photo_of(file.sheet.picture.photo)
    drawn = press.proof(photo, file.sheet, whole(file.sheet, photo, max(seen.shape[:2])))
    apart = np.abs(seen[..., 0] - np.rint(drawn * 255)).astype(float)
    assert apart.mean() < 0.5
    rows = seen.shape[0]
    assert np.array_equal(seen[: rows // 8], before[: rows // 8])


def test_the_photo_is_cropped_turned_and_levelled_by_keys_alone(bench):
    page = bench(HEDGEHOG)
    stage(page, "Photo")
    button(page, "Crop…").send_keys(Keys.ENTER)
    handle = find(page, ".crop-handle[aria-label='Right edge']")
    handle.send_keys(Keys.SHIFT, Keys.ARROW_LEFT * 4)
    frame = find(page, ".crop-frame")
    frame.send_keys(Keys.ARROW_RIGHT * 10)
    frame.send_keys(Keys.ENTER)

    until(page, lambda d: sheet_of(d).picture.crop.right < 1)
    sheet = sheet_of(page)
    assert sheet.picture.crop.right == pytest.approx(0.85, abs=1e-6)
    assert sheet.picture.crop.left == pytest.approx(0.05, abs=1e-6)
    # Trimmed: the drawing keeps its size, and the paper is as much narrower.
    assert sheet.paper.long_edge == pytest.approx(160, abs=0.2)
    settled(page)
    button(page, "↺ Turn left").send_keys(Keys.ENTER)
    until(page, lambda d: sheet_of(d).picture.crop.quarter_turns == 1)
    settled(page)
    shape = sheet_pixels(page).shape
    assert shape[0] / shape[1] == pytest.approx(0.8 * 4 / 3, rel=0.01)
    for _ in range(2):
        press_key(page, Keys.CONTROL, "z")
    until(page, lambda d: sheet_of(d).picture.crop.right == 1)


def test_an_area_is_drawn_otherwise_by_keys_alone(bench):
    page = bench(FACE)
    stage(page, "Ink")
    before = sheet_pixels(page)
    button(page, "Hand").send_keys(Keys.ENTER)
    button(page, "Draw an area otherwise…").send_keys(Keys.ENTER)
    layer = find(page, ".paint-layer")
    keys = [" ", Keys.ARROW_RIGHT * 12, " ", Keys.ARROW_DOWN * 12, " ", Keys.ENTER]
    layer.send_keys(*keys)

    until(page, lambda d: len(sheet_of(d).plates) == 2)
    settled(page)
    first, copy = sheet_of(page).plates
    assert first.draw == copy.draw and first.hand["ink"] != copy.hand["ink"]
    # Until its dials are turned nothing is drawn otherwise.
    assert np.abs(sheet_pixels(page).astype(int) - before).mean() < 1
    choose_look(page, "Threshold")
    settled(page)
    after = sheet_pixels(page)
    rows, columns = after.shape[:2]
    assert np.array_equal(after[: rows // 3, : columns // 3], before[: rows // 3, : columns // 3])
    assert not np.array_equal(after, before)


def test_what_is_lost_is_opened_at_its_spot(bench):
    page = bench(FACE)
    choose_look(page, "Threshold")
    settled(page)
    before = sheet_of(page).plates[0].hand
    press_key(page, "x")
    button(page, "Open place 1").click()

    until(page, lambda d: sheet_of(d).plates[0].hand.get("tone") != before.get("tone"))
    words = stored(page)["undo"]
    assert words.startswith(("Tone: lighten", "Tone: darken"))
    assert "Nothing else changed" in find(page, ".bed-said").text
    assert page.find_elements(By.CSS_SELECTOR, ".bed-trouble") == []


def test_what_the_hand_touched_and_where_a_plate_prints_is_tinted_on_request(page, bench):
    page = bench(begun_with(page, "Two pears"))
    choose_look(page, "Threshold")
    stage(page, "Ink")
    button(page, "Hand").click()
    choose_verb(page, "Hide")
    stroke(page, (0.1, 0.9), (0.9, 0.9))
    plain = sheet_pixels(page).astype(int)
    rows, columns = plain.shape[:2]
    there, elsewhere = (round(0.9 * rows), columns // 2), slice(0, rows // 2)

    find(page, "#hand-touched").click()
    settled(page)
    touched = sheet_pixels(page).astype(int)
    button(page, "Dials").click()
    find(page, "#mask-tinted").click()
    until(page, lambda d: find(d, "[data-testid=prints]").text.endswith("%"))
    settled(page)
    mask = sheet_pixels(page).astype(int)

    for tinted in (touched, mask):
        red, green, blue = tinted[there]
        assert blue > green + 20 and red > green
        assert np.abs(tinted[elsewhere] - plain[elsewhere]).max() <= 1
