"""Every stage on the page: its dials, and that the picture is the one the core draws."""

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.scale import region_frame
from flinz.demo.scenario import picture
from tests.ui.steps import (
    axe_faults,
    button,
    choose_kind,
    choose_look,
    click_on,
    face_in_pencil,
    find,
    find_path,
    ink_percent,
    kind_path,
    open_kinds,
    press_key,
    settled,
    sheet_part,
    sheet_pixels,
    stage,
    type_value,
    until,
)


@pytest.fixture
def bench(page, address):
    """A new sheet of the face in pencil on the bench."""
    page.sheet_id = face_in_pencil(address)
    page.get(f"{address}/sheets/{page.sheet_id}")
    settled(page)
    return page


def saved_sheet(page):
    """The document as the server has it."""
    script = f"fetch('/api/sheets/{page.sheet_id}').then(r => r.json()).then(arguments[0])"
    return Sheet.model_validate(page.execute_async_script(script)["sheet"])


def drawn_by_the_core(page):
    """What the core draws of the saved sheet at the size on screen."""
    height, width = sheet_pixels(page).shape[:2]
    photo, sheet = decode(picture("scarecrow.jpg"), "x"), saved_sheet(page)
    frame = whole(sheet, photo, max(width, height))
    assert (frame.width, frame.height) == (width, height)
    drawn = np.rint(Press().proof(photo, sheet, frame) * 255)
    return drawn if drawn.ndim == 3 else np.repeat(drawn[..., None], 3, 2)


def summary_of(page, title):
    return find(page, "#dials-title") and until(
        page, lambda d: d.find_element(By.XPATH, f"//summary[text()='{title}']")
    )


def is_open(page, title):
    return page.execute_script("return arguments[0].parentNode.open", summary_of(page, title))


def open_group(page, title):
    if not is_open(page, title):
        summary_of(page, title).click()
    until(page, lambda d: is_open(d, title))


def test_shadows_opened_at_tone_change_the_drawing_as_the_core_says(bench):
    before = sheet_pixels(bench)
    stage(bench, "Tone")
    open_group(bench, "Light")

    type_value(bench, "Shadows", 0.8)
    settled(bench)

    after = sheet_pixels(bench)
    assert np.abs(after.astype(int) - before).mean() > 1
    assert np.abs(after - drawn_by_the_core(bench)).max() <= 1


def test_a_colour_of_the_photo_is_pulled_darker_where_it_is_pressed(bench):
    stage(bench, "Tone")
    open_group(bench, "Colours to grey")
    before = ink_percent(bench)

    click_on(bench, button(bench, "Pull a colour on the photo"))
    layer = find(bench, ".pin-layer")
    drag = ActionChains(bench).move_to_element_with_offset(layer, -250, 120).click_and_hold()
    drag.move_by_offset(0, 90).perform()
    until(bench, lambda d: "darker by" in find(d, ".pin-layer").text)
    ActionChains(bench).release().perform()
    press_key(bench, Keys.ESCAPE)
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".pin-layer"))
    until(bench, lambda d: len(saved_sheet(d).plates[0].tone.hues) == 1)

    (pull,) = saved_sheet(bench).plates[0].tone.hues
    assert pull.pull < -0.3
    button(bench, "Sheet").click()
    settled(bench)
    assert ink_percent(bench) != before
    # By keys the point is pulled back.
    point = find(bench, ".ring-point")
    point.send_keys(Keys.SHIFT, Keys.ARROW_UP)
    until(bench, lambda d: saved_sheet(d).plates[0].tone.hues[0].pull > pull.pull)
    point.send_keys(Keys.DELETE)
    until(bench, lambda d: saved_sheet(d).plates[0].tone.hues == ())


def test_headings_fold_dials_away_and_a_turned_one_stands_open(bench):
    stage(bench, "Tone")
    names = [s.text for s in bench.find_elements(By.CSS_SELECTOR, ".dial-group summary")]
    assert names == [
        "Levels",
        "Contrast",
        "Light",
        "Colours to grey",
        "Grain before drawing",
    ]
    assert not is_open(bench, "Light")

    open_group(bench, "Light")
    type_value(bench, "Shadows", 0.4)
    settled(bench)
    stage(bench, "Clean")
    stage(bench, "Tone")

    assert is_open(bench, "Light") and not is_open(bench, "Colours to grey")


@pytest.mark.parametrize("kind", ["Median", "Edge-keeping", "Along the form", "Smear"])
def test_every_way_to_smooth_can_be_chosen(bench, kind):
    stage(bench, "Smooth")
    choose_kind(bench, kind)
    settled(bench)

    smooth = saved_sheet(bench).plates[0].smooth.kind
    assert smooth == kind.lower().replace("the ", "").replace(" ", "-")
    assert np.abs(sheet_pixels(bench) - drawn_by_the_core(bench)).max() <= 1


def test_what_is_smoothed_is_smoothed_once_more(bench):
    stage(bench, "Smooth")
    choose_kind(bench, "Median")
    button(bench, "Smooth once more…").click()
    choose_kind(bench, "Smear")
    settled(bench)

    plate = saved_sheet(bench).plates[0]
    assert (plate.smooth.kind, plate.again.kind) == ("median", "smear")
    assert np.abs(sheet_pixels(bench) - drawn_by_the_core(bench)).max() <= 1
    # It has come to stand in the run, and is left and reached like any other.
    stage(bench, "Draw")
    stage(bench, "Smooth again")
    assert "median" in find_path(bench, "//nav//button[.//strong[text()='Smooth']]").text.lower()


def test_every_look_is_offered_as_a_drawing_of_this_photo(bench):
    stage(bench, "Draw")
    open_kinds(bench)
    settled(bench)

    labels = [kind.text.strip() for kind in bench.find_elements(By.CSS_SELECTOR, ".kind")]
    assert sorted(labels) == sorted(look.label for look in LOOKS.values())
    spread = """
        return [...document.querySelectorAll(".kind canvas")].map((c) => {
            const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
            let low = 255, high = 0;
            for (let k = 0; k < d.length; k += 4) {
                low = Math.min(low, d[k]);
                high = Math.max(high, d[k]);
            }
            return high - low;
        });
    """
    spreads = bench.execute_script(spread)
    assert len(spreads) == len(LOOKS) and min(spreads) > 100


@pytest.mark.parametrize("label", ["Contour hatch", "Loose hatch", "Stipple"])
def test_marks_are_counted_on_the_figures_line(bench, label):
    choose_look(bench, label)

    photo, sheet = decode(picture("scarecrow.jpg"), "x"), saved_sheet(bench)
    marks = Press().marks(photo, sheet, sheet.plates[0])
    assert find(bench, "[data-testid=marks]").text == f"{len(marks):,}"


def test_thickening_adds_ink_and_undo_takes_it_back(bench):
    choose_look(bench, "Ink line")
    before = ink_percent(bench)
    stage(bench, "Clean")

    type_value(bench, "Thicken", 0.2)
    settled(bench)

    assert ink_percent(bench) > before
    button(bench, "Undo").click()
    until(bench, lambda d: saved_sheet(d).plates[0].clean.thicken == 0)
    settled(bench)
    assert ink_percent(bench) == before


def test_two_colours_come_with_a_second_colour_to_choose(bench):
    stage(bench, "Ink")
    assert not bench.find_elements(By.CSS_SELECTOR, "[data-dial='ink.lights']")

    find(bench, "[data-dial='ink.colouring'] .kind-row").click()
    find_path(bench, kind_path("Darks and lights")).click()
    settled(bench)

    assert bench.find_elements(By.CSS_SELECTOR, "[data-dial='ink.lights']")
    pixels = sheet_pixels(bench).astype(int)
    assert np.abs(pixels[..., 0] - pixels[..., 2]).max() > 60
    assert np.abs(pixels - drawn_by_the_core(bench)).max() <= 1


def test_a_plate_out_of_register_slips_on_the_sheet(bench):
    stage(bench, "Ink")
    open_group(bench, "Register")

    type_value(bench, "Off to the right", 20)
    settled(bench)

    pixels = sheet_pixels(bench)
    bare = pixels[:, : int(pixels.shape[1] * 0.08)]
    assert bare.min() == 255
    assert np.abs(pixels - drawn_by_the_core(bench)).max() <= 1


def test_a_region_at_one_to_one_is_a_region_of_the_export(bench):
    choose_look(bench, "Crosshatch")
    button(bench, "1:1").click()
    settled(bench)

    pixels, left, top = sheet_part(bench)

    photo, sheet = decode(picture("scarecrow.jpg"), "x"), saved_sheet(bench)
    frame = whole(sheet, photo)
    part = region_frame(
        frame,
        (
            left / frame.width,
            top / frame.height,
            (left + pixels.shape[1]) / frame.width,
            (top + pixels.shape[0]) / frame.height,
        ),
    )
    drawn = np.rint(Press().proof(photo, sheet, part, Subject(), exact=True) * 255)
    assert np.abs(pixels[..., 0] - drawn[: pixels.shape[0], : pixels.shape[1]]).mean() < 1


def test_a_stroke_of_the_hand_is_drawn_named_hidden_and_taken_back(bench):
    stage(bench, "Clean")
    button(bench, "Hand").click()
    before = sheet_pixels(bench)
    layer = find(bench, ".paint-layer")
    drag = ActionChains(bench).move_to_element_with_offset(layer, -150, -100).click_and_hold()
    drag.move_by_offset(150, 60).release().perform()
    until(bench, lambda d: "clean" in saved_sheet(d).plates[0].hand)
    settled(bench)
    height, width = before.shape[:2]
    middle = height // 2 - 70, width // 2 - 75

    assert sheet_pixels(bench)[middle].min() == 255
    assert np.array_equal(sheet_pixels(bench)[-40:], before[-40:])
    find(bench, "#hand-hidden").click()
    until(bench, lambda d: np.array_equal(sheet_pixels(d), before))
    find(bench, "#hand-hidden").click()
    settled(bench)
    press_key(bench, Keys.CONTROL, "z")
    until(bench, lambda d: saved_sheet(d).plates[0].hand == {})
    press_key(bench, Keys.CONTROL, Keys.SHIFT, "z")
    until(bench, lambda d: "clean" in saved_sheet(d).plates[0].hand)

    # A second one by keys; then the last is taken back, and all.
    first = saved_sheet(bench).plates[0].hand["clean"]
    find(bench, ".paint-layer").send_keys(" ")
    until(bench, lambda d: saved_sheet(d).plates[0].hand["clean"] != first)
    button(bench, "Take back the last").click()
    until(bench, lambda d: saved_sheet(d).plates[0].hand["clean"] == first)
    assert axe_faults(bench) == []
    button(bench, "Take back all").click()
    until(bench, lambda d: saved_sheet(d).plates[0].hand == {})
    settled(bench)
    until(bench, lambda d: np.array_equal(sheet_pixels(d), before))
    button(bench, "Dials").click()
    until(bench, lambda d: not d.find_elements(By.CSS_SELECTOR, ".paint-layer"))


def test_a_paper_is_cut_to_a_size_turned_and_given_a_texture(bench):
    stage(bench, "Paper")
    Select(find(bench, "select[aria-label='Size of the paper']")).select_by_value("A5")
    until(bench, lambda d: saved_sheet(d).paper.size == "own")
    assert (saved_sheet(bench).paper.width, saved_sheet(bench).paper.height) == (210, 148)
    button(bench, "Turn upright").click()
    until(bench, lambda d: saved_sheet(d).paper.width == 148)

    type_value(bench, "Margin", 12)
    click_on(bench, find(bench, "[data-dial='paper.texture'] button[aria-expanded]"))
    linen = "//*[@role='option' or self::button][.//*[normalize-space()='Linen']]"
    click_on(bench, find_path(bench, linen))
    until(bench, lambda d: saved_sheet(d).paper.texture == "linen")
    settled(bench)

    paper = saved_sheet(bench).paper
    assert (paper.texture, paper.margin, paper.height) == ("linen", 12, 210)
    assert np.abs(sheet_pixels(bench) - drawn_by_the_core(bench)).max() <= 2
    Select(find(bench, "select[aria-label='Size of the paper']")).select_by_value("as-picture")
    until(bench, lambda d: saved_sheet(d).paper.size == "as-picture")
    assert saved_sheet(bench).paper.texture == "linen"
