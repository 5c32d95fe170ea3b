"""Marks that will not hold in one bit, and the size at which they do."""

import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.document.picture import Picture, Position
from flinz.core.judge.holding import HOLDS_PX, thin_marks
from flinz.core.planes.filters import averaged
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import MM_PER_INCH
from tests.charts import blobs, grey_photo, sheet_of

PHOTO = grey_photo(20 + blobs(120, 160, scale=6.0) * 220, "blobs")


def test_the_size_that_is_offered_holds_them():
    sheet = sheet_of("crosshatch", thinnest=0.1)

    thin = thin_marks(sheet, 300 / MM_PER_INCH)

    assert thin.mm == 0.1 and thin.px == pytest.approx(1.18, abs=0.01)
    assert "plate 1, 0.10 mm, are 1.2 pixels wide" in thin.sentence
    assert thin_marks(sheet, thin.dpi / MM_PER_INCH) is None
    assert thin.dpi == pytest.approx(HOLDS_PX / 0.1 * MM_PER_INCH, abs=1)


def test_looks_without_marks_and_hidden_plates_always_hold():
    assert thin_marks(sheet_of("threshold"), 0.1) is None
    sheet = sheet_of("stipple")
    hidden = sheet.plates[0].model_copy(update={"shown": False})
    assert thin_marks(sheet.model_copy(update={"plates": [hidden]}), 0.1) is None


def test_a_drawing_made_larger_holds_at_fewer_dots():
    sheet = sheet_of("stipple", dot=0.3, smallest=0.5)
    larger = sheet.model_copy(update={"picture": Picture(position=Position(as_drawn=2.0))})

    assert thin_marks(sheet, 10.0).px == pytest.approx(1.5)
    assert thin_marks(larger, 10.0) is None


@pytest.mark.parametrize("recipe", [*builtin.plain(), "newsprint", "woodblock"])
def test_a_small_export_is_a_larger_one_shrunk(recipe):
    sheet, press = builtin.named(recipe).on("", ""), Press()
    frame = whole(sheet, PHOTO, 700)
    part = frame.part(240, 160, 480, 320)
    large = whole(sheet, PHOTO, 2100).part(720, 480, 1440, 960)

    small = press.proof(PHOTO, sheet, part)

    shrunk = averaged(press.proof(PHOTO, sheet, large), 240, 160)
    if shrunk.ndim != small.ndim:
        small = np.repeat(small[..., None], 3, 2)
    assert np.abs(small - shrunk).mean() < 0.04
