"""Plates drawn from something else than the photo: words, figures, lines, another photo, by hand
and by keys.
"""

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from flinz.core.deliver.packed import stock_of
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from tests.ui.steps import (
    axe_faults,
    button,
    choose_look,
    client_of,
    file_of,
    find,
    find_path,
    press_key,
    settled,
    sheet_pixels,
    stage,
    stored,
    type_value,
    until,
)

FACE = 3


LIES_STILL = """
    const dialog = document.querySelector(".modal");
    return dialog.getAnimations({ subtree: true }).every((each) => each.playState !== "running");
"""


@pytest.fixture
def bench(page, address):
    """A new sheet of the face in pencil, on its bench."""
    with client_of(address) as web:
        face = web.get(f"/api/sheets/{FACE}").json()["sheet"]
        record = web.post("/api/sheets/copy", json={"sheet": face | {"title": "Sources"}}).json()
    page.get(f"{address}/sheets/{record['id']}")
    settled(page)
    return page


def add(page, source):
    """Add a plate from a source of that name."""
    find(page, ".disc-add").click()
    path = f"//div[@class='add-sources']//button[.//strong[text()='{source}']]"
    found = find_path(page, path)
    # While the dialog still comes down a press may land on the source beside.
    until(page, lambda d: d.execute_script(LIES_STILL))
    found.click()
    if source not in ("Another photo", "Another sheet"):
        until(page, lambda d: not d.find_elements(By.CSS_SELECTOR, ".modal"))
        settled(page)


def drag(page, css, by_x, by_y):
    """Drag something on the sheet, and wait until that is saved."""
    before = stored(page)["revision"]
    actions = ActionChains(page, duration=50).move_to_element(find(page, css)).click_and_hold()
    # In steps, as a hand moves.
    for _ in range(4):
        actions.move_by_offset(by_x // 4, by_y // 4)
    actions.release().perform()
    until(page, lambda d: stored(d)["revision"] > before)
    settled(page)


def plate(page, number=-1):
    return stored(page)["sheet"]["plates"][number]


def as_the_core_draws(page):
    """What shows of the sheet, and the sheet drawn by the core, in the pixels that show."""
    file, shown = file_of(page), sheet_pixels(page)
    stock = stock_of(file)
    photo = stock.photo_of(file.sheet.picture.photo)
    frame = whole(file.sheet, photo, max(shown.shape[:2]))
    drawn = Press(stock=stock).proof(photo, file.sheet, frame)
    drawn = drawn if drawn.ndim == 3 else np.repeat(drawn[..., None], 3, 2)
    return shown, np.rint(drawn * 255)


def test_words_are_typed_moved_drawn_and_changed_afterwards(bench):
    add(bench, "Words")
    words = find(bench, "[aria-label=Words]")
    words.send_keys(Keys.CONTROL, "a")
    words.send_keys("Barnaby")
    until(bench, lambda d: plate(d)["source"]["lettering"]["words"] == "Barnaby")
    settled(bench)
    plain = sheet_pixels(bench)
    assert find_path(bench, "//nav//button[.//strong[text()='Words']]").text.endswith("“Barnaby”")

    drag(bench, ".place-body", 0, 120)
    moved = plate(bench)["source"]["position"]
    assert moved["y"] is not None
    after = sheet_pixels(bench)
    rows = np.flatnonzero(np.abs(after.astype(int) - plain).max((1, 2)) > 60)
    assert len(rows) > 20

    stage(bench, "Draw")
    choose_look(bench, "Loose hatch")
    stage(bench, "Words")
    ActionChains(bench).double_click(find(bench, ".place-body")).perform()
    typed = find(bench, ".place-words textarea")
    assert bench.switch_to.active_element == typed
    # All of it is chosen: what is typed takes its place, and Esc gives the keys back.
    typed.send_keys("Old one")
    until(bench, lambda d: plate(d)["source"]["lettering"]["words"] == "Old one")
    settled(bench)
    assert plate(bench)["draw"]["look"] == "loose-hatch"
    assert plate(bench)["source"]["position"] == moved
    shown, drawn = as_the_core_draws(bench)
    assert np.abs(shown.astype(int) - drawn).max() <= 2
    button(bench, "Undo").click()
    until(bench, lambda d: plate(d)["source"]["lettering"]["words"] == "Barnaby")


def test_what_has_no_glyph_is_named_beside_the_words(bench):
    add(bench, "Words")
    words = find(bench, "[aria-label=Words]")
    words.send_keys(Keys.CONTROL, "a")
    words.send_keys("Fair ☂")

    said = find(bench, ".source-face [role=status]")
    until(bench, lambda d: "☂" in said.text)


def test_a_figure_is_laid_sized_and_turned_by_keys_alone(bench):
    add(bench, "A figure")
    start = plate(bench)["source"]
    body = find(bench, ".place-body")
    body.send_keys(Keys.ARROW_RIGHT)
    until(bench, lambda d: plate(d)["source"]["position"]["x"] is not None)
    first = plate(bench)["source"]["position"]["x"]
    body.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    until(bench, lambda d: plate(d)["source"]["position"]["x"] == pytest.approx(first + 10))

    find(bench, "[aria-label='Size at the right side']").send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    until(
        bench,
        lambda d: (
            plate(d)["source"]["block"]["width"] == pytest.approx(1.1 * start["block"]["width"])
        ),
    )
    assert plate(bench)["source"]["block"]["height"] == start["block"]["height"]

    find(bench, ".place-turn").send_keys(Keys.SHIFT, Keys.ARROW_LEFT)
    until(bench, lambda d: plate(d)["source"]["position"]["turn"] == 15)
    settled(bench)
    assert axe_faults(bench) == []


def test_a_figure_snaps_to_the_middle_of_the_paper(bench):
    add(bench, "A figure")
    before = plate(bench)["source"]["position"]
    assert before["x"] is None
    drag(bench, ".place-body", 80, 40)
    away = plate(bench)["source"]["position"]
    # Back to where it was, but for a few pixels: the paper's middle takes it.
    drag(bench, ".place-body", -76, -40)

    sheet = Sheet.model_validate(stored(bench)["sheet"])
    width = sheet.paper.long_edge
    back = plate(bench)["source"]["position"]
    assert away["x"] != pytest.approx(width / 2, abs=2)
    assert back["x"] == pytest.approx(width / 2, abs=0.05)


def test_lines_are_drawn_by_hand_with_a_pen_that_can_be_changed(bench):
    add(bench, "Lines")
    blank = sheet_pixels(bench)
    find_path(bench, "//button[starts-with(normalize-space(.), 'Hand')]").click()
    layer = find(bench, ".paint-layer")
    line = ActionChains(bench, duration=30).move_to_element_with_offset(layer, -120, -40)
    line.click_and_hold().move_by_offset(120, 60).move_by_offset(100, -50).release().perform()
    until(bench, lambda d: "lines" in plate(d)["hand"])
    settled(bench)
    drawn = sheet_pixels(bench)
    assert np.abs(drawn.astype(int) - blank).max() > 100

    find_path(bench, "//button[normalize-space()='Dials']").click()
    shown, core = as_the_core_draws(bench)
    assert np.abs(shown.astype(int) - core).max() <= 2
    button(bench, "Undo").click()
    until(bench, lambda d: "lines" not in plate(d)["hand"])
    settled(bench)
    assert np.abs(sheet_pixels(bench).astype(int) - blank).max() <= 2


def test_a_line_is_drawn_point_by_point_and_ended_by_a_press_on_its_last(bench):
    add(bench, "Lines")
    blank = sheet_pixels(bench)
    find_path(bench, "//button[starts-with(normalize-space(.), 'Hand')]").click()
    button(bench, "Point by point").click()
    layer = find(bench, ".paint-layer")
    for number, way in enumerate([(-120, -40), (-20, 30), (80, -40), (80, -40)]):
        ActionChains(bench).move_to_element_with_offset(layer, *way).click().perform()
        corners = (number + 1) % 4
        until(
            bench, lambda d, n=corners: len(d.find_elements("css selector", ".paint-corner")) == n
        )
    until(bench, lambda d: "lines" in plate(d)["hand"])
    settled(bench)

    drawn = np.abs(sheet_pixels(bench).astype(int) - blank).max(-1) > 100
    rows, columns = np.nonzero(drawn)
    # From the first point to the last, and down to the one between.
    assert 190 <= np.ptp(columns) <= 230 and 60 <= np.ptp(rows) <= 95
    assert rows[np.abs(columns - columns.mean()) < 20].min() > rows.min() + 30


def test_a_mark_is_drawn_on_the_pad_by_keys_and_strewn(bench):
    add(bench, "Lines")
    choices(bench, "Runs", "In waves")
    choices(bench, "Pen", "Strewn marks")
    settled(bench)
    plain = sheet_pixels(bench)
    button(bench, "Draw a mark…").click()
    find(bench, ".mark-pad svg").send_keys(
        Keys.SPACE, Keys.SHIFT, Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, Keys.SHIFT, Keys.SPACE,
        Keys.ARROW_UP, Keys.ARROW_UP, Keys.SPACE, Keys.ENTER,
    )  # fmt: skip
    assert len(bench.find_elements(By.CSS_SELECTOR, ".mark-pad path[stroke]")) == 1
    assert axe_faults(bench) == []
    button(bench, "Strew this mark").click()

    until(bench, lambda d: plate(d)["source"]["lines"]["mark"] == "own")
    settled(bench)
    assert plate(bench)["source"]["lines"]["mark_path"].startswith("M")
    assert np.abs(sheet_pixels(bench).astype(int) - plain).max() > 100


def test_a_pen_is_kept_by_a_name_and_draws_other_lines(bench):
    add(bench, "Lines")
    choices(bench, "Runs", "In waves")
    choices(bench, "Pen", "Rope")
    button(bench, "Keep this pen…").click()
    find(bench, "[aria-label='Name of the pen']").send_keys("Barn rope", Keys.ENTER)
    chosen = "[aria-label='A pen of this sheet or the recipe book']"
    until(bench, lambda d: Select(find(d, chosen)).first_selected_option.text == "Barn rope")
    assert axe_faults(bench) == []

    add(bench, "Lines")
    choices(bench, "Runs", "Along an arc")
    thin = sheet_pixels(bench)
    Select(find(bench, chosen)).select_by_visible_text("Barn rope")

    until(bench, lambda d: plate(d)["source"]["lines"]["nib"] == "rope")
    settled(bench)
    kept, drawn = (plate(bench, number)["source"]["lines"] for number in (-2, -1))
    runs = {"along": "arc"}
    assert drawn == kept | runs
    assert np.abs(sheet_pixels(bench).astype(int) - thin).max() > 100
    type_value(bench, "Width", 3)
    until(bench, lambda d: widths(d) == [3, 3])
    settled(bench)
    button(bench, "A pen of its own").click()
    type_value(bench, "Width", 5)
    until(bench, lambda d: widths(d) == [3, 5])
    for _ in range(4):
        button(bench, "Undo").click()
    until(bench, lambda d: plate(d)["source"]["lines"]["nib"] == "round")
    assert plate(bench, -2)["source"]["lines"] == kept


def widths(page):
    """Of the pens of the two last plates."""
    return [plate(page, number)["source"]["lines"]["width"] for number in (-2, -1)]


def choices(page, dial, value):
    """Choose a value of a dial that has a few."""
    path = f"//div[contains(@class, 'dial-choice')][.//span[text()='{dial}']]"
    find_path(page, f"{path}//button[@aria-expanded]").click()
    find_path(page, f"//*[contains(@class, 'kinds-drawn')]//button[contains(., '{value}')]").click()
    settled(page)


def test_another_photo_is_chosen_laid_and_drawn(bench):
    add(bench, "Another photo")
    find_path(bench, "//button[contains(., 'Two pears')]").click()
    until(bench, lambda d: plate(d)["source"]["kind"] == "photo")
    settled(bench)
    assert plate(bench)["name"] == "Two pears"

    drag(bench, ".place-handle[aria-label='Size at the lower right corner']", -80, -60)

    assert plate(bench)["source"]["picture"]["position"]["width"] is not None
    shown, core = as_the_core_draws(bench)
    assert np.abs(shown.astype(int) - core).mean() < 1.5


def test_a_plate_keeps_in_step_until_a_dial_of_it_is_turned(bench):
    button(bench, "copy").click()
    settled(bench)
    find(bench, ".disc-ties summary").click()
    find(bench, "select[aria-label='Keeps in step with'] option:nth-child(2)").click()
    until(bench, lambda d: plate(d)["follows"])
    ahead = find(bench, ".discs-row .disc")
    ahead.click()
    stage(bench, "Draw")
    choose_look(bench, "Woodcut")

    until(bench, lambda d: plate(d)["draw"]["look"] == "woodcut")
    find(bench, ".discs-row .disc:nth-child(2)").click()
    choose_look(bench, "Threshold")
    until(bench, lambda d: plate(d)["draw"]["look"] == "threshold")
    assert plate(bench)["own"] == ["draw"] and plate(bench, 0)["draw"]["look"] == "woodcut"


def test_the_print_beneath_and_a_worn_copier_come_over_all(bench):
    plain = sheet_pixels(bench)
    add(bench, "A worn copier")
    worn = sheet_pixels(bench)
    # It takes ink away, and adds none.
    assert np.all(worn.astype(int) >= plain.astype(int) - 2) and (worn > plain + 60.0).any()

    add(bench, "The print beneath")
    over = sheet_pixels(bench)
    assert over.mean() < worn.mean() - 5
    press_key(bench, Keys.CONTROL, "z")
    until(bench, lambda d: len(stored(d)["sheet"]["plates"]) == 2)


def test_finished_work_is_laid_on_a_sheet_like_a_photo(bench):
    plain = sheet_pixels(bench)
    add(bench, "Another sheet")
    find_path(bench, "//li//button[contains(., 'Old Barnaby, one-colour tee')]").click()
    until(bench, lambda d: plate(d)["source"]["kind"] == "sheet")
    settled(bench)
    assert plate(bench)["source"]["live"] is True
    drag(bench, ".place-handle[aria-label='Size at the lower right corner']", -160, -160)

    assert plate(bench)["source"]["position"]["as_drawn"] < 1
    assert np.abs(sheet_pixels(bench).astype(int) - plain).max() > 60


def test_another_photo_is_cropped_by_its_own_frame_and_the_sheets_stays(bench):
    add(bench, "Another photo")
    find_path(bench, "//button[contains(., 'Two pears')]").click()
    until(bench, lambda d: plate(d)["source"]["kind"] == "photo")
    settled(bench)
    find(bench, ".crop-face button").click()
    handle = find(bench, ".crop-handle")
    handle.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    handle.send_keys(Keys.ENTER)
    until(bench, lambda d: plate(d)["source"]["picture"]["crop"]["left"] > 0)
    settled(bench)

    assert stored(bench)["sheet"]["picture"]["crop"]["left"] == 0


def test_a_set_is_moved_together(bench):
    add(bench, "A figure")
    find_path(bench, "//button[normalize-space()='Another like this']").click()
    until(bench, lambda d: len(stored(d)["sheet"]["plates"]) == 3)
    settled(bench)
    for number in (2, 3):
        find(bench, f".discs-row .disc:nth-child({number})").click()
        ties = find(bench, ".disc-ties")
        if ties.get_attribute("open") is None:
            find(bench, ".disc-ties summary").click()
        find(bench, "[aria-label='Name of its set']").send_keys("pair", Keys.ENTER)
        until(bench, lambda d, at=number - 1: plate(d, at)["gathered"] == "pair")
    settled(bench)
    lies = [plate(bench, at)["source"]["position"] for at in (1, 2)]
    assert lies[1]["x"] is not None

    find(bench, ".place-body").send_keys(Keys.SHIFT, Keys.ARROW_DOWN)

    until(bench, lambda d: plate(d, 2)["source"]["position"]["y"] == lies[1]["y"] + 10)
    first = plate(bench, 1)["source"]["position"]
    assert first["y"] is not None and first["x"] is not None
    find_path(bench, "//button[normalize-space()='hide set']").click()
    until(bench, lambda d: not plate(d, 1)["shown"] and not plate(d, 2)["shown"])
