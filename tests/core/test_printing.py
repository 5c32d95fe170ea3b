"""What a press could not hold: lines, gaps and specks of known width."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document import builtin
from flinz.core.judge.printing import SPECK_MM2, Holds, print_reports, report
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.errors import Stopped
from tests.charts import blobs, grey_photo

# 12 px a millimetre.
FRAME = whole_frame(50.0, 600, 400)


def lines(width_px, pitch_px):
    """Vertical lines of one width."""
    across = np.arange(600) % pitch_px < width_px
    return np.tile(across.astype(np.float32), (400, 1))


@given(st.integers(1, 12))
def test_the_thinnest_line_is_as_wide_as_it_was_drawn(width_px):
    found = report(lines(width_px, 40), FRAME)

    assert found.thinnest_mm == pytest.approx(width_px / 12, abs=1.1 / 12)


@given(st.integers(1, 10))
def test_the_narrowest_gap_is_as_wide_as_it_was_left(gap_px):
    found = report(lines(40 - gap_px, 40), FRAME)

    assert found.narrowest_mm == pytest.approx(gap_px / 12, abs=1.1 / 12)


@pytest.mark.parametrize("holds", [0.1, 0.35, 1.0])
def test_corners_are_no_thin_lines(holds):
    squares = lines(36, 60) * np.resize(lines(36, 60)[0], 400)[:, None]

    found = report(squares, FRAME, Holds(thin_mm=holds, narrow_mm=holds))

    assert found.thinnest_mm >= holds and not found.thin_spots
    assert report(1 - squares, FRAME, Holds(narrow_mm=holds)).narrowest_mm in (None, holds)


def test_what_is_a_speck_goes_by_what_the_press_holds():
    cover = np.zeros((400, 600), np.float32)
    # 1 mm², and 0.25.
    cover[100:112, 100:112] = cover[200:206, 200:206] = 1

    counts = [report(cover, FRAME, Holds(speck_mm2=area)).specks for area in (0.2, 0.5, 2.0)]

    assert counts == [0, 1, 2]


def test_wide_paper_is_no_gap():
    cover = np.zeros((400, 600), np.float32)
    cover[:, 290:310] = 1

    assert report(cover, FRAME).narrowest_mm is None


def test_thin_lines_are_shown_where_they_are():
    cover = lines(6, 40)
    cover[:, :300] = 0
    cover[150:151, 20:260] = 1

    spots = report(cover, FRAME).thin_spots

    assert spots and all(spot.x < 0.5 and 0.3 < spot.y < 0.45 for spot in spots)


def test_specks_are_counted_and_shown():
    cover = np.zeros((400, 600), np.float32)
    cover[100:200, 100:200] = 1
    for x in (300, 330, 500):
        cover[300, x] = 1

    found = report(cover, FRAME)

    assert found.specks == 3
    assert SPECK_MM2 > 1 / 12**2
    assert all(spot.y == pytest.approx(300 / 400, abs=0.01) for spot in found.speck_spots)


def test_nothing_drawn_has_nothing_to_lose():
    found = report(np.zeros((400, 600), np.float32), FRAME)

    assert (found.thinnest_mm, found.narrowest_mm, found.specks) == (None, None, 0)


def test_each_shown_plate_is_reported_and_greys_are_named():
    photo = grey_photo(blobs(150, 200) * 255)
    pencil, cut = (builtin.named(name).plates[0] for name in ("pencil", "cut-paper"))
    plates = [
        pencil.model_copy(update={"id": "grey"}),
        cut.model_copy(update={"id": "cut"}),
        cut.model_copy(update={"id": "hidden", "shown": False}),
    ]
    sheet = builtin.named("pencil").on("x", "").model_copy(update={"plates": plates})

    found = print_reports(Press(), photo, sheet)

    assert [(each.plate, each.is_grey) for each in found] == [("grey", True), ("cut", False)]
    with pytest.raises(Stopped):
        print_reports(Press(), photo, sheet, stop=lambda: True)


def test_only_a_plate_that_changed_is_looked_at_again():
    photo = grey_photo(blobs(150, 200) * 255)
    cut = builtin.named("cut-paper").plates[0]
    plates = [cut.model_copy(update={"id": name}) for name in ("one", "other")]
    sheet = builtin.named("cut-paper").on("x", "").model_copy(update={"plates": plates})
    thicker = cut.clean.model_copy(update={"thicken": 0.4})
    changed = sheet.with_plate(plates[1].model_copy(update={"clean": thicker}))
    press = Press()

    first = print_reports(press, photo, sheet)

    # Two plates alike are judged as one.
    assert press.counts["judged"] == 1
    assert [each.plate for each in first] == ["one", "other"]
    assert print_reports(press, photo, changed) == print_reports(Press(), photo, changed)
    assert press.counts["judged"] == 2
    print_reports(press, photo, sheet, holds=Holds(thin_mm=1.0))
    assert press.counts["judged"] == 3
