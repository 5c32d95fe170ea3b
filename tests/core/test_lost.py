"""Lost detail: charts whose lost parts are known."""

import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.document.sheet import Sheet
from flinz.core.judge.lost import compared, lost_detail
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from tests.charts import blobs, grey_photo

FRAME = whole_frame(200.0, 600, 450)
SEED = 7


def detailed():
    """Fine texture in the left half, an even grey in the right."""
    picture = np.full((450, 600), 0.5, np.float32)
    noise = np.random.default_rng(SEED).uniform(0.2, 0.8, (225, 150))
    picture[:, :300] = np.kron(noise, np.ones((2, 2)))
    return picture


def test_a_drawing_that_keeps_the_detail_loses_nothing():
    photo = detailed()

    found = compared(photo, photo, FRAME)

    assert found.share < 0.01
    assert found.places == []


@pytest.mark.parametrize("solid", [0.0, 1.0])
def test_bare_paper_and_solid_ink_lose_all_of_it(solid):
    drawing = np.full((450, 600), solid, np.float32)
    # One black corner, or there is no ink to be solid.
    drawing[400:, 500:] = 0

    found = compared(detailed(), drawing, FRAME)

    assert found.share > 0.95
    assert found.lost[:, 320:].max() < 0.05


def test_half_of_the_detail_lost_is_half():
    drawing = detailed()
    drawing[225:, :300] = 1.0

    found = compared(detailed(), drawing, FRAME)

    assert found.share == pytest.approx(0.5, abs=0.03)
    assert all(place.top > 0.4 and place.right < 0.6 for place in found.places)


def test_places_are_the_worst_first_and_apart():
    drawing = detailed()
    drawing[:60, :60] = 1.0
    drawing[300:450, 100:280] = 1.0

    places = compared(detailed(), drawing, FRAME).places

    assert places[0].top > 0.5
    middles = [((p.left + p.right) / 2, (p.top + p.bottom) / 2) for p in places]
    assert len({(round(x, 2), round(y, 2)) for x, y in middles}) == len(places)


def test_on_dark_paper_bare_is_dark():
    drawing = np.full((450, 600), 0.1, np.float32)
    drawing[400:, 500:] = 0.95

    assert compared(detailed(), drawing, FRAME, paper=0.1).share > 0.95


def test_a_sheet_without_a_shown_plate_loses_everything():
    photo = grey_photo(blobs(300, 400, scale=6) * 255)
    sheet = builtin.named("pencil").on("x", "")
    hidden = sheet.model_copy(
        update={"plates": [sheet.plates[0].model_copy(update={"shown": False})]}
    )

    assert lost_detail(Press(), photo, hidden).share > 0.95
    dotted = builtin.named("stipple").on("x", "")
    assert lost_detail(Press(), photo, dotted).share < 0.1


def test_a_tiny_photo_can_be_judged():
    photo = grey_photo(np.full((3, 3), 128))

    assert lost_detail(Press(), photo, Sheet()).share == 0
