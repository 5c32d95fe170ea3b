"""Which recipes suit a photo."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document import builtin
from flinz.core.judge.guess import PhotoFigures, figures_of, photo_figures, ranked, suits
from flinz.core.looks.look import Suits
from flinz.core.looks.registry import LOOKS
from flinz.core.press.press import Press
from tests.charts import blobs, grey_photo

BOOK = builtin.built_in()
share = st.floats(0, 1)


def test_two_tones_stand_apart_and_an_even_spread_does_not():
    ramp = np.tile(np.linspace(0, 1, 480, dtype=np.float32), (360, 1))

    assert figures_of((ramp > 0.5).astype(np.float32)).parted == 1
    assert figures_of(ramp).parted < 0.5


def test_grain_is_fine_detail_and_a_ramp_has_none():
    ramp = np.tile(np.linspace(0, 1, 480, dtype=np.float32), (360, 1))
    grain = np.random.default_rng(3).normal(0.5, 0.1, (360, 480)).astype(np.float32)

    assert figures_of(ramp).fine < 0.02
    assert figures_of(np.clip(grain, 0, 1)).fine > 0.8


def test_stripes_lead_the_pen_and_noise_does_not():
    x = np.arange(480, dtype=np.float32)
    stripes = np.tile(0.5 + 0.4 * np.sin(x / 4), (360, 1)).astype(np.float32)
    noise = blobs(360, 480, scale=4).astype(np.float32)

    assert figures_of(stripes).led > 0.95
    assert figures_of(noise).led < 0.7


def test_a_blank_photo_has_figures_too():
    found = photo_figures(Press(), grey_photo(np.full((30, 40), 200)))

    assert (found.parted, found.spread) == (0, 0)


def test_the_same_photo_at_half_size_is_guessed_alike():
    large = blobs(720, 960, scale=40)
    small = cv2.resize(large, (480, 360), interpolation=cv2.INTER_AREA)

    a, b = (photo_figures(Press(), grey_photo(each * 255)) for each in (large, small))

    assert a.parted == pytest.approx(b.parted, abs=0.05)
    assert a.led == pytest.approx(b.led, abs=0.05)


@given(share, share, share, share)
def test_every_recipe_is_offered_once_and_each_look_before_any_second(parted, fine, led, spread):
    figures = PhotoFigures(parted=parted, fine=fine, led=led, spread=spread)

    order = ranked(BOOK, figures)

    assert sorted(order) == sorted(BOOK)
    looks = [BOOK[name].plates[0].draw.look for name in order]
    first = looks[: len(set(looks))]
    assert len(set(first)) == len(first)
    assert all(0 <= suits(recipe, figures) <= 1 for recipe in BOOK.values())


def test_what_suits_follows_the_photo():
    shapes = PhotoFigures(parted=1.0, fine=0.1, led=0.5, spread=1.0)
    hair = PhotoFigures(parted=0.3, fine=1.0, led=0.9, spread=0.9)

    plain = {name: BOOK[name] for name in LOOKS}
    assert ranked(plain, shapes).index("cut-paper") < ranked(plain, shapes).index("pencil")
    assert ranked(plain, hair)[0] == "ink-line"


def test_every_look_says_what_it_suits():
    said = {look.suits for look in LOOKS.values()}

    assert len(said) == len(LOOKS) and Suits() not in said
