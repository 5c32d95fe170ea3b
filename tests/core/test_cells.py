"""Screens whose dots are a picture."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document.recipe import recipe_of
from flinz.core.document.source import FromLettering
from flinz.core.looks.dot_screen import Dot, DotScreen
from flinz.core.marks.cells import CELL, cell_of, cells_cover, plain_cell
from flinz.core.planes.filters import averaged
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.scale import region_frame, whole_frame
from flinz.errors import DocumentError, NotFoundError
from tests.charts import grey_photo, sheet_of

OTHER = "a" * 64


def dotted(size=96):
    """A dark spot left of the middle of a light, slightly shaded square."""
    rows, columns = np.mgrid[0:size, 0:size] / size
    spot = np.hypot(rows - 0.5, columns - 0.3) < 0.15
    return np.asarray(np.where(spot, 0.1, 0.7 + 0.2 * rows), np.float32)


@given(st.integers(2, 300), st.integers(2, 300), st.integers(0, 99))
@settings(max_examples=20)
def test_every_share_of_ink_comes_equally_often_in_a_cell(height, width, seed):
    grey = np.random.default_rng(seed).random((height, width)).astype(np.float32)

    cell = np.sort(cell_of(grey), axis=None)

    assert cell == pytest.approx((np.arange(CELL**2) + 0.5) / CELL**2, abs=1e-6)


@given(st.floats(0, 1), st.floats(-180, 180), st.floats(1.0, 2.5))
@settings(max_examples=30)
def test_an_even_tone_keeps_its_ink_whatever_the_picture(share, angle, pitch):
    frame = whole_frame(60.0, 480, 480)
    cover = np.full((480, 480), share, np.float32)

    ink = cells_cover(cover, frame, angle, pitch, cell_of(dotted()), None)

    assert float(ink.mean()) == pytest.approx(share, abs=0.02)
    assert share not in (0, 1) or np.all(ink == share)


def test_whole_cells_keep_their_ink_exactly():
    frame = whole_frame(12.0, 480, 480)
    for share in (0.1, 0.33, 0.5, 0.8):
        cover = np.full((480, 480), share, np.float32)
        ink = cells_cover(cover, frame, 0.0, 4.0, cell_of(dotted()), None)
        assert float(ink.mean()) == pytest.approx(share, abs=0.004)


def test_the_darkest_place_of_the_picture_turns_black_first():
    frame, pitch = whole_frame(10.0, 200, 200), 5.0
    cover = np.full((200, 200), 0.05, np.float32)

    ink = cells_cover(cover, frame, 0.0, pitch, cell_of(dotted()), None)

    # 20 px a mm, two cells each way: ink stands at the four spots and nowhere else.
    assert ink[50, 30] == ink[150, 130] == 1 and ink[50, 80] == 0
    rows, columns = np.nonzero(ink > 0.5)
    assert np.hypot(rows % 100 - 50, columns % 100 - 30).max() < 16


def test_a_part_is_a_crop_of_the_whole_and_an_export_shrunk_is_the_proof():
    frame = whole_frame(40.0, 400, 300)
    tone = np.tile(np.linspace(0, 1, 400, dtype=np.float32), (300, 1))
    cell = plain_cell()
    all_of_it = cells_cover(tone, frame, 20.0, 4.0, cell, None)

    part = region_frame(frame, (0.25, 0.2, 0.75, 0.6))
    own = cells_cover(
        np.ascontiguousarray(tone[part.slices_in(frame)]), part, 20.0, 4.0, cell, None
    )
    larger = whole_frame(40.0, 1600, 1200)
    finer = np.tile(np.linspace(0, 1, 1600, dtype=np.float32), (1200, 1))
    export = cells_cover(finer, larger, 20.0, 4.0, cell, None)

    assert np.array_equal(own, all_of_it[part.slices_in(frame)])
    assert np.abs(averaged(export, 400, 300) - all_of_it).mean() < 0.02


def screened(pattern="", **plate):
    sheet = sheet_of("dot-screen", dot=Dot.PICTURE, ruling=2.0, angle=0.0, pattern=pattern)
    return sheet.with_plate(sheet.plates[0].model_copy(update=plate))


def drawn(sheet, photo, other=None):
    stock = Stock() if other is None else Stock(photo_of=lambda name: other)
    return Press(stock=stock).proof(photo, sheet, whole(sheet, photo, 400), exact=True)


def test_a_plate_is_screened_by_its_own_photo_by_another_or_by_a_leaf():
    photo = grey_photo(np.full((60, 80), 140, np.uint8), "even")
    spot = Photo(np.repeat(np.rint(dotted() * 255).astype(np.uint8)[..., None], 3, 2), OTHER)
    noise = np.random.default_rng(2).integers(0, 255, (60, 80)).astype(np.uint8)
    words = FromLettering()

    own, by_other = drawn(screened(), photo), drawn(screened(OTHER), photo, spot)
    in_words = drawn(screened(source=words), photo)

    assert np.abs(own - by_other).mean() > 0.05
    assert np.array_equal(in_words, drawn(screened(source=words), grey_photo(noise, "noise")))
    with pytest.raises(NotFoundError):
        drawn(screened(OTHER), photo)


def test_the_photo_of_a_screen_belongs_to_the_sheet_and_to_no_recipe():
    sheet = screened(OTHER)
    round_dots = sheet.with_plate(
        sheet.plates[0].model_copy(update={"draw": DotScreen(pattern=OTHER)})
    )

    assert OTHER in sheet.photos and OTHER not in round_dots.photos
    assert OTHER not in recipe_of(sheet, "Own").model_dump_json()


def test_dots_that_are_a_picture_are_no_marks():
    chart = grey_photo(np.full((60, 80), 140, np.uint8), "even")
    sheet = screened()

    with pytest.raises(DocumentError, match="no marks"):
        Press().marks(chart, sheet, sheet.plates[0])
