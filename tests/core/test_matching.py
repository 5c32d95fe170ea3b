"""Tones of a recipe, taken from the photo that it was made on to another one."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.recipe import recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.tones import PhotoTones, matched_ink, matched_tone
from flinz.core.looks.crosshatch import Crosshatch
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.ink import Ink
from flinz.core.stages.tone import Tone, curved
from tests.charts import blobs, grey_photo

BRIGHT = PhotoTones(black=0.1, middle=0.6, white=0.95)


@st.composite
def tones(draw):
    """Tones of a photo that is neither flat nor all night or snow."""
    black, white = draw(st.floats(0, 0.15)), draw(st.floats(0.75, 1))
    middle = black + (white - black) * draw(st.floats(0.4, 0.6))
    return PhotoTones(black=black, white=white, middle=middle)


def through(settings, found):
    row = np.array([[found.black, found.middle, found.white]], np.float32)
    return curved(row, settings)[0]


@given(
    tones(),
    tones(),
    st.floats(0, 0.1),
    st.floats(0.9, 1),
    st.floats(0.4, 0.6),
    st.floats(-0.5, 0.5),
)
def test_black_middle_and_white_come_to_where_they_were(first, now, black, white, middle, contrast):
    settings = Tone(black=black, white=white, middle=middle, contrast=contrast, floor=0.1)

    matched = matched_tone(settings, first, now)

    was, comes = through(settings, first), through(matched, now)
    assert np.allclose(comes[[0, 2]], was[[0, 2]], atol=0.02)
    # A middle is moved by a bounded power.
    assert comes[1] == pytest.approx(was[1], abs=0.08)
    assert (matched.contrast, matched.floor) == (contrast, 0.1)


@given(tones())
def test_on_the_photo_it_was_made_on_nothing_moves(first):
    settings = Tone(black=0.05, white=0.9, middle=0.45)

    matched = matched_tone(settings, first, first)

    for name in ("black", "white", "middle"):
        assert getattr(matched, name) == pytest.approx(getattr(settings, name), abs=0.002)


def test_a_flat_photo_leaves_the_dials_as_they_are():
    flat = PhotoTones(black=0.4, middle=0.4, white=0.41)

    assert matched_tone(Tone(black=0.1), BRIGHT, flat) == Tone(black=0.1)
    assert matched_ink(Ink(only_to=0.5), flat, BRIGHT) == Ink(only_to=0.5)


def test_a_night_is_not_lifted_out_of_its_noise():
    night = PhotoTones(black=0.0, middle=0.01, white=0.9)

    matched = matched_tone(Tone(), PhotoTones(black=0, middle=0.6, white=0.9), night)

    # A power of a third at most: what is a hundredth of white becomes a fifth, and no more.
    assert through(matched, night)[1] < 0.3


def test_where_a_plate_prints_goes_with_the_tones():
    dark = PhotoTones(black=0.0, middle=0.18, white=0.5)

    matched = matched_ink(Ink(only_from=0.6, only_to=1.0), BRIGHT, dark)

    assert matched.only_from == pytest.approx(0.18, abs=0.01) and matched.only_to == 1
    assert matched_ink(Ink(), BRIGHT, dark) == Ink()


@pytest.mark.parametrize("lights", [{}, {"shadows": 0.4, "local": 0.2}])
def test_a_hatch_from_a_bright_photo_draws_a_dark_one_as_it_drew_the_bright_one(lights):
    bright = 0.35 + 0.6 * blobs(240, 320)
    dark = (0.02 + 0.5 * blobs(240, 320)) ** 1.3
    planes = {"bright": bright, "dark": dark}
    photos = [grey_photo(np.rint(plane * 255), key) for key, plane in planes.items()]
    press = Press()
    tone = Tone(white=0.9, middle=0.55, **lights)
    sheet = Sheet(picture=Picture(photo="bright"), plates=[Plate(tone=tone, draw=Crosshatch())])

    def ink(photo, kept):
        drawn = fitting.on_photo(press, photo, kept, "")
        return press.figures(photo, drawn, whole(drawn, photo, 600)).ink

    made_on = press.tones(photos[0], sheet)
    as_numbers, matched = (
        recipe_of(sheet, "Hatch", made_on=made_on, tones=tones) for tones in ("numbers", "matched")
    )
    own = ink(photos[0], matched)
    assert ink(photos[0], as_numbers) == pytest.approx(own, abs=0.005)
    assert ink(photos[1], as_numbers) > own + 0.2
    assert ink(photos[1], matched) == pytest.approx(own, abs=0.04)
