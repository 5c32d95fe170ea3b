import numpy as np
import pytest

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.raster import WAYS
from flinz.core.judge.lost import lost_detail
from flinz.core.judge.opening import opened
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.press.framing import whole
from flinz.core.press.painting import apart
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.errors import DocumentError
from tests.charts import grey_photo

LIST = "a" * 64


def eye():
    """A bright ground, and in a dark patch stripes that a level in the middle makes one black."""
    rows, columns = np.mgrid[0:300, 0:400]
    tone = np.full((300, 400), 215.0)
    patch = np.hypot(columns - 130, rows - 150) < 45
    tone[patch] = 45 + 25 * (np.sin(columns[patch] / 2.5) > 0)
    return grey_photo(tone, "eye"), patch


PHOTO, PATCH = eye()
SHEET = Sheet(plates=[Plate(draw=Threshold(level=0.5))])


def test_what_is_lost_is_halved_and_all_else_stays_as_it_was():
    found = opened(Press(), PHOTO, SHEET, plate_id="plate-1", at=(0.325, 0.5))

    assert found.verb == "lighten" and found.after <= 0.5 * found.before
    press = Press(stock=Stock(strokes_of=lambda _: found.strokes))
    plates = [SHEET.plates[0].model_copy(update={"hand": {"tone": LIST}})]
    after = SHEET.model_copy(update={"plates": plates})
    frame = whole(SHEET, PHOTO, 800)
    drawn = [press.proof(PHOTO, each, frame, exact=True) for each in (SHEET, after)]
    lost = [lost_detail(press, PHOTO, each).share for each in (SHEET, after)]
    assert lost[1] < 0.6 * lost[0]
    # Farther off than the opened area reaches nothing moved.
    near = np.repeat(np.repeat(PATCH, 2, 0), 2, 1)
    rows, columns = np.nonzero(near)
    away = np.ones_like(near)
    away[rows.min() - 60 : rows.max() + 60, columns.min() - 60 : columns.max() + 60] = False
    assert np.array_equal(drawn[0][away], drawn[1][away])
    assert not np.array_equal(drawn[0], drawn[1])


def test_where_nothing_is_lost_nothing_is_opened():
    with pytest.raises(DocumentError, match="Nothing is lost there"):
        opened(Press(), PHOTO, SHEET, plate_id="plate-1", at=(0.9, 0.1))


def test_two_plates_set_apart_at_an_area_are_one_sheet_together():
    corners = np.array([[0.3, 0.2, 1], [0.7, 0.2, 1], [0.7, 0.5, 1], [0.3, 0.5, 1]])
    beside, within = apart(corners, 0.02)
    lists = {"b" * 64: beside, "c" * 64: within}
    press = Press(stock=Stock(strokes_of=lists.__getitem__))
    plate = Plate(draw=Threshold(level=1.0))

    def ink(**hand):
        sheet = Sheet(plates=[plate.model_copy(update={"hand": hand})])
        return 1 - press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400), exact=True)

    first, copy, both = ink(ink="b" * 64), ink(ink="c" * 64), ink()

    assert np.abs(first + copy - both).max() < 0.01
    assert copy[110:170, 150:250].min() > 0.99 and copy[:60].max() < 0.01
    assert set(WAYS) >= {stroke.brush.verb for stroke in (*beside, *within)}


def test_a_look_that_tone_cannot_open_is_said_to_be_one():
    flat = Sheet(plates=[Plate(draw=Stipple(lightest=0.05, darkest=0.0, edges=0.0))])
    stripes = np.full((300, 400), 235.0)
    stripes[100:200] += 20 * (np.indices((100, 400))[1] % 8 < 4)
    photo = grey_photo(np.clip(stripes, 0, 255), "stripes")

    with pytest.raises(DocumentError, match=r"cannot open|Nothing is lost"):
        opened(Press(), photo, flat, plate_id="plate-1", at=(0.5, 0.5))
