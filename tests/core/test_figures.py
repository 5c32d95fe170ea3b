"""Figures of drawings whose lines, gaps and shares are known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.judge.printing import report
from flinz.core.looks.registry import LOOKS
from flinz.core.press.figures import figures_of
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.quality.coherence import line_figures
from tests.charts import blobs, grey_photo, ramp

PX = 30
FRAME = whole_frame(20, 20 * PX, 10 * PX)


def bars(width_mm, pitch_mm):
    """Upright bars of a width at a pitch, as ink."""
    x = np.arange(FRAME.width) / PX
    row = (x % pitch_mm < width_mm).astype(np.float32)
    return np.tile(row, (FRAME.height, 1))


def test_lines_are_as_long_and_as_many_as_they_are():
    cover = bars(0.3, 2.0)

    found = line_figures(cover, FRAME)

    # Ten bars of 10 mm.
    assert found.line_mm == pytest.approx(100, rel=0.06)
    assert found.parts_per_1000_mm == pytest.approx(100, rel=0.06)
    assert found.ink_in_specks == 0


def test_ink_in_specks_is_told():
    cover = np.zeros((FRAME.height, FRAME.width), np.float32)
    cover[30:60, 30:60] = 1  # 1 mm²
    for k in range(10):
        cover[150:156, 40 * k + 20 : 40 * k + 26] = 1  # 0.04 mm² each

    assert line_figures(cover, FRAME).ink_in_specks == pytest.approx(0.4 / 1.4, abs=0.01)


@pytest.mark.parametrize(("width", "thin"), [(0.05, 1.0), (0.2, 0.0), (0.5, 0.0)])
def test_ink_too_thin_to_print_is_told(width, thin):
    assert report(bars(width, 2.0), FRAME).thin_ink == pytest.approx(thin, abs=0.11)


@pytest.mark.parametrize(("gap", "narrow"), [(0.05, 1.0), (0.2, 0.0), (0.5, 0.0)])
def test_gaps_too_narrow_to_stay_open_are_told(gap, narrow):
    found = report(bars(2.0 - gap, 2.0), FRAME)

    assert found.narrow_paper == pytest.approx(narrow, abs=0.11)


def test_solid_and_empty_sheets_have_nothing_to_lose():
    for value in (0.0, 1.0):
        cover = np.full((60, 80), value, np.float32)
        found = report(cover, FRAME)
        assert (found.thin_ink, found.narrow_paper) == (0.0, 0.0)


@given(st.lists(st.floats(0, 1), max_size=5))
def test_ink_of_plates_is_what_they_leave_bare_and_each_is_told_alone_and_left_out(shares):
    covers = {str(k): np.full((8, 9), share, np.float32) for k, share in enumerate(shares)}
    bare = [1 - share for share in shares]

    found = figures_of(covers)

    assert found.ink == pytest.approx(1 - np.prod(bare), abs=1e-3)
    # Of one plate alone there is no more to say.
    assert [each.plate for each in found.plates] == (list(covers) if len(shares) > 1 else [])
    for k, each in enumerate(found.plates):
        assert each.alone == pytest.approx(shares[k], abs=1e-3)
        assert each.without == pytest.approx(1 - np.prod(bare[:k] + bare[k + 1 :]), abs=1e-3)


def test_figures_of_a_large_picture_are_those_of_all_its_pixels():
    rows = np.arange(700, dtype=np.float32)[:, None] / np.float32(699)
    covers = {"down": np.repeat(rows, 500, 1), "up": np.repeat(rows[::-1], 500, 1)}

    found = figures_of(covers)

    assert found.ink == pytest.approx(float(1 - ((1 - rows) * rows).mean()), abs=1e-4)
    assert [each.alone for each in found.plates] == [0.5, 0.5]


def test_a_coloured_paper_is_not_ink():
    photo = grey_photo(ramp(256, 64))
    draw = LOOKS["threshold"].settings(level=0.25)
    sheet = Sheet(
        plates=[Plate(draw=draw, ink=Ink(colour="#cc2200"))], paper=AsPicture(colour="#d0c0a0")
    )

    found = Press().figures(photo, sheet, whole(sheet, photo))

    assert found.ink == pytest.approx(0.25, abs=0.01)
    assert found.marks is None


def test_marks_are_counted_where_they_are_drawn():
    photo = grey_photo(blobs(60, 80) * 255)
    plate = Plate(draw=LOOKS["stipple"].settings(dot=2.0))
    sheet, press = Sheet(plates=[plate]), Press()
    frame = whole(sheet, photo, 300)

    found = press.figures(photo, sheet, frame)

    assert found.marks == len(press.marks(photo, sheet, plate))
    assert press.figures(photo, sheet, frame, draft=True).marks is None


def test_hidden_plates_have_no_ink():
    photo = grey_photo(np.zeros((30, 40)))
    sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(level=1.0), shown=False)])

    assert Press().figures(photo, sheet, whole(sheet, photo)).ink == 0
