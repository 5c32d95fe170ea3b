"""The tracing: shapes chosen and changed on the sheet, by the pointer and by keys."""

import io
import re

import numpy as np
import pytest
import resvg_py
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from browser import begun
from tests.charts import png
from tests.ui.steps import (
    axe_faults,
    button,
    click_on,
    client_of,
    downloaded,
    find,
    find_path,
    settled,
    sheet_pixels,
    stage,
    type_value,
    until,
)

# Two squares of 20 mm on paper of 80 by 60, 4 px a mm, the left one with a hole of 8 mm.
VALUES = np.full((240, 320), 235, np.uint8)
VALUES[80:160, 40:120] = 20
VALUES[104:136, 64:96] = 235
VALUES[80:160, 200:280] = 20
WIDE = 80
LEFT, HOLE, RIGHT, PAPER = (13, 23), (20, 30), (60, 30), (40, 5)


@pytest.fixture
def tracing(page, address):
    with client_of(address) as web:
        record = begun(web, png(VALUES), "threshold")
        paper = {**record["sheet"]["paper"], "long_edge": 80}
        body = {"base": record["revision"], "sheet": {**record["sheet"], "paper": paper}}
        address_of = f"/api/sheets/{record['id']}"
        web.put(address_of, json={**body, "words": "Smaller"}).raise_for_status()
        page.get(f"{address}{address_of.removeprefix('/api')}/tracing")
        until(page, lambda d: find(d, ".shape-bed").get_attribute("data-shapes") == "4")

        def sheet():
            return web.get(address_of).json()["sheet"]

        yield page, sheet


def place(page, mm):
    """Where a place of the sheet lies, from the middle of its bed."""
    bed = find(page, ".shape-bed")
    wide, high = bed.size["width"], bed.size["height"]
    scale = min((wide - 56) / 80, (high - 56) / 60)
    return bed, round((mm[0] - 40) * scale), round((mm[1] - 30) * scale)


def press(page, mm, added=False):
    bed, x, y = place(page, mm)
    keys = ActionChains(page)
    if added:
        keys.key_down(Keys.SHIFT)
    keys.move_to_element_with_offset(bed, x, y).click()
    if added:
        keys.key_up(Keys.SHIFT)
    keys.perform()


def chosen(page):
    return find(page, "[data-testid=chosen]").text


def pull(page, start, end):
    bed, x, y = place(page, start)
    _, to_x, to_y = place(page, end)
    chain = ActionChains(page).move_to_element_with_offset(bed, x, y).click_and_hold()
    chain.move_by_offset((to_x - x) // 2, (to_y - y) // 2)
    chain.move_to_element_with_offset(bed, to_x, to_y).release().perform()


def saved(page, sheet, condition):
    return until(page, lambda d: condition(sheet()["shapes"]))


def rendered(text, mm):
    """The colour at a place of an SVG, by an independent renderer at 10 px a mm."""
    size = 'width="800" height="600"'
    text = re.sub(r'width="[0-9.]+mm" height="[0-9.]+mm"', size, text, count=1)
    drawn = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=text))))
    return drawn.convert("RGBA").getpixel((round(mm[0] * 10), round(mm[1] * 10)))


def test_a_shape_recoloured_and_one_moved_leave_so_without_paper_on_an_under_layer(
    tracing, downloads
):
    page, sheet = tracing
    press(page, LEFT)
    until(page, lambda d: "1 shape, 336 mm²" in chosen(d) or "1 shape, 335 mm²" in chosen(d))
    find(page, "[aria-label='Colour Poppy']").click()
    saved(page, sheet, lambda shapes: shapes and shapes[0]["colour"] == "#d0321f")
    press(page, RIGHT)
    until(page, lambda d: "400 mm²" in chosen(d) or "399 mm²" in chosen(d))
    pull(page, RIGHT, (60, 40))
    saved(page, sheet, lambda shapes: any(each["of"][0]["way"] for each in shapes))
    assert axe_faults(page) == []

    click_on(page, find(page, "#drop-paper"))
    click_on(page, find(page, "#under-layer"))
    page.execute_script("document.querySelector('.print-panel').scrollTo(0, 0)")
    button(page, "Print room").click()
    until(page, lambda d: find(d, "#format").get_attribute("value") == "svg")
    button(page, "Download the file").click()
    text = downloaded(page, downloads, "*.svg").read_text()

    assert rendered(text, LEFT)[:3] == (208, 50, 31)
    assert rendered(text, (60, 48)) == (0, 0, 0, 255)
    assert rendered(text, (60, 22))[3] == 0
    assert re.findall(r'<g id="([^"]+)"', text)[0] == "under-layer"

    Select(find(page, "#format")).select_by_value("png")
    until(page, lambda d: tuple(shown_at(d, LEFT)) == (208, 50, 31))
    button(page, "Download the file").click()
    picture = Image.open(downloaded(page, downloads, "*.png")).convert("RGB")
    per_mm = picture.width / WIDE
    assert [
        picture.getpixel((round(x * per_mm), round(y * per_mm))) for x, y in (LEFT, (60, 48))
    ] == [
        (208, 50, 31),
        (0, 0, 0),
    ]


def shown_at(page, mm):
    """What shows of the sheet at a place."""
    pixels = sheet_pixels(page)
    return pixels[tuple(round(each * pixels.shape[1] / WIDE) for each in mm[::-1])].tolist()


# Holds back what the page asks of the server about changed shapes, until it is let go.
HOLD = """
const real = window.fetch;
window.letGo = null;
const held = new Promise((done) => { window.letGo = done; });
window.fetch = async (request, ...more) => {
    if (String(request.url ?? request).endsWith("/shapes/changed")) await held;
    return real(request, ...more);
};
"""
SEEN = """
const bed = document.querySelector(".shape-bed canvas");
return [...bed.getContext("2d").getImageData(arguments[0], arguments[1], 1, 1).data];
"""


def test_colours_pressed_in_a_row_show_though_the_server_has_not_answered(tracing):
    page, sheet = tracing
    press(page, LEFT)
    until(page, lambda d: "1 shape" in chosen(d))
    page.execute_script(HOLD)
    bed, x, y = place(page, LEFT)
    spot = bed.size["width"] // 2 + x, bed.size["height"] // 2 + y

    for name, colour in (("Poppy", [208, 50, 31]), ("Brick", None)):
        before = page.execute_script(SEEN, *spot)
        find(page, f"[aria-label='Colour {name}']").click()
        until(page, lambda d, was=before: d.execute_script(SEEN, *spot) != was)
        assert colour is None or page.execute_script(SEEN, *spot)[:3] == colour
    brick = page.execute_script(SEEN, *spot)[:3]
    page.execute_script("window.letGo()")

    hexed = "#" + bytes(brick).hex()
    saved(page, sheet, lambda shapes: shapes and shapes[0]["colour"] == hexed)
    assert page.execute_script(SEEN, *spot)[:3] == brick


def test_the_bench_shows_changed_shapes_and_again_after_a_dial_was_turned(tracing):
    page, sheet = tracing
    press(page, LEFT)
    until(page, lambda d: "1 shape" in chosen(d))
    find(page, "[aria-label='Colour Poppy']").click()
    saved(page, sheet, lambda shapes: shapes and shapes[0]["colour"] == "#d0321f")
    button(page, "Back to the bench").click()
    until(page, lambda d: d.find_elements(By.CSS_SELECTOR, ".sheet-shadow"))
    until(page, lambda d: shown_at(d, LEFT) == [208, 50, 31])
    assert shown_at(page, RIGHT) == [0, 0, 0]

    stage(page, "Draw")
    before = sheet()["plates"][0]["draw"]["level"]
    type_value(page, "Level", "0.4")
    until(page, lambda d: sheet()["plates"][0]["draw"]["level"] == 0.4 != before)
    settled(page)
    until(page, lambda d: shown_at(d, LEFT) == [208, 50, 31])
    assert sheet()["shapes"][0]["colour"] == "#d0321f"


def test_bare_paper_is_chosen_coloured_and_undone_by_steps_with_words(tracing):
    page, sheet = tracing
    press(page, HOLE)
    until(page, lambda d: "Bare paper" in chosen(d))
    find(page, "[aria-label='Colour Poppy']").click()
    saved(page, sheet, lambda shapes: shapes and shapes[0]["of"][0]["is_white"])
    find_path(page, "//button[text()='Undo' and @title='Undo: 1 shape recoloured']").click()

    saved(page, sheet, lambda shapes: shapes == [])
    until(page, lambda d: "Bare paper" in chosen(d))
    button(page, "Redo").click()
    saved(page, sheet, lambda shapes: len(shapes) == 1)


def test_shapes_are_chosen_by_a_line_round_them_by_likeness_and_by_size(tracing):
    page, _ = tracing
    bed, x, y = place(page, (46, 16))
    corners = [place(page, mm)[1:] for mm in [(74, 16), (74, 44), (46, 44)]]
    chain = ActionChains(page).move_to_element_with_offset(bed, x, y).click_and_hold()
    for corner in corners:
        chain.move_to_element_with_offset(bed, *corner)
    chain.release().perform()
    until(page, lambda d: "1 shape" in chosen(d))

    button(page, "Of this colour").click()
    until(page, lambda d: "2 shapes" in chosen(d))
    press(page, HOLE, added=True)
    until(page, lambda d: "3 shapes" in chosen(d))
    field = find(page, "#choice-smaller-than-mm-")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("350")
    button(page, "Ink").click()
    until(page, lambda d: "1 shape, 33" in chosen(d))
    find_path(page, "//ul[@class='shape-lots']//button[contains(., 'bare paper')]").click()
    until(page, lambda d: "Bare paper" in chosen(d) or "2 shapes" in chosen(d))


def test_all_of_it_by_keys_alone(tracing):
    page, sheet = tracing
    find(page, ".shape-bed").send_keys("j")
    first = until(page, lambda d: "None" not in chosen(d) and chosen(d))
    bed = find(page, ".shape-bed")
    bed.send_keys("j")
    until(page, lambda d: chosen(d) != first)
    bed.send_keys(Keys.ARROW_RIGHT)
    saved(page, sheet, lambda shapes: len(shapes) == 1 and shapes[0]["of"][0]["way"])
    bed.send_keys("y")
    saved(page, sheet, lambda shapes: shapes[0]["gone"] == "hidden")
    bed.send_keys(Keys.CONTROL, "z")
    saved(page, sheet, lambda shapes: shapes[0]["gone"] == "")
    bed.send_keys("l")
    bed.send_keys("m")
    saved(page, sheet, lambda shapes: any(len(each["of"]) > 1 for each in shapes))
    bed.send_keys(Keys.DELETE)
    saved(page, sheet, lambda shapes: any(each["gone"] == "deleted" for each in shapes))


def test_a_change_whose_shape_is_gone_is_listed_and_dropped_when_that_is_asked(tracing, address):
    page, sheet = tracing
    press(page, RIGHT)
    until(page, lambda d: "1 shape" in chosen(d))
    find(page, "[aria-label='Colour Poppy']").click()
    saved(page, sheet, lambda shapes: len(shapes) == 1)
    number = re.search(r"/sheets/(\d+)/", page.current_url)[1]
    with client_of(address) as web:
        record = web.get(f"/api/sheets/{number}").json()
        plate = record["sheet"]["plates"][0]
        plate = {**plate, "draw": {**plate["draw"], "level": 0.0}, "fitted": []}
        body = {"base": record["revision"], "sheet": {**record["sheet"], "plates": [plate]}}
        web.put(f"/api/sheets/{number}", json={**body, "words": "All"}).raise_for_status()
    page.refresh()

    lost = find(page, "[data-testid=lost-shapes]")
    assert "not in the drawing any more" in lost.text and "#d0321f" in lost.text
    click_on(page, lost.find_element(By.TAG_NAME, "button"))
    saved(page, sheet, lambda shapes: shapes == [])


def test_a_sheet_that_was_changed_elsewhere_is_loaded_anew(tracing, address):
    page, sheet = tracing
    number = re.search(r"/sheets/(\d+)/", page.current_url)[1]
    with client_of(address) as web:
        record = web.get(f"/api/sheets/{number}").json()
        body = {"base": record["revision"], "sheet": {**record["sheet"], "title": "Elsewhere"}}
        web.put(f"/api/sheets/{number}", json={**body, "words": "Title"}).raise_for_status()
    press(page, RIGHT)
    until(page, lambda d: "1 shape" in chosen(d))
    find(page, "[aria-label='Colour Poppy']").click()
    until(page, lambda d: find(d, ".saving").get_attribute("data-saving") == "stale")

    button(page, "Load the newest version").click()

    until(page, lambda d: find(d, ".saving").get_attribute("data-saving") == "saved")
    until(page, lambda d: find(d, ".print-title").text == "Elsewhere")
    assert sheet()["shapes"] == []
    # What was refused is a failed request, which the browser notes by itself.
    page.get_log("browser")


def test_joined_shapes_are_as_the_one_that_was_chosen_first(tracing):
    page, sheet = tracing
    for place_of, colour in ((LEFT, "Poppy"), (RIGHT, "Slate")):
        press(page, place_of)
        until(page, lambda d: "1 shape" in chosen(d))
        find(page, f"[aria-label='Colour {colour}']").click()
    saved(page, sheet, lambda shapes: len(shapes) == 2)

    press(page, LEFT, added=True)
    until(page, lambda d: "2 shapes" in chosen(d))
    button(page, "Join").click()

    (joined,) = saved(page, sheet, lambda shapes: len(shapes) == 1 and shapes)
    assert len(joined["of"]) == 2 and joined["colour"] == "#4a545c"
