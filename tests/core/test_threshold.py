import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.looks.desk import bare_desk
from flinz.core.looks.threshold import Level, Threshold, draw, otsu_level
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from tests.charts import blobs, frame_of, grey_photo, ramp, sheet_of

LOCAL = [Level.MEAN, Level.GAUSSIAN, Level.TEXTURE]


def ink(tone, **dials):
    return draw(tone, Threshold(**dials), frame_of(tone), bare_desk(tone, frame_of(tone)))


@given(st.integers(0, 256))
def test_a_ramp_has_exactly_its_share_of_ink(step):
    """Ink lies where tone < level, on every one of 256 greys."""
    photo = grey_photo(ramp())
    sheet = sheet_of("threshold", level=min(1.0, step / 255))

    drawn = Press(0).proof(photo, sheet, whole(sheet, photo), exact=True)

    assert np.array_equal(drawn[0] == 0, np.arange(256) < min(step, 255))
    assert set(np.unique(drawn)) <= {0.0, 1.0}


@given(st.sampled_from(list(Level)), st.floats(0, 1), st.floats(0, 1))
def test_a_higher_level_never_takes_ink_away(method, one, other):
    tone = blobs()
    low, high = sorted((one, other))

    assert not np.any(ink(tone, method=method, level=low) > ink(tone, method=method, level=high))


@pytest.mark.parametrize("method", LOCAL)
def test_a_local_level_draws_the_same_in_dim_and_bright_places(method):
    text = np.ones((60, 240), np.float32)
    text[20:24, ::12] = 0.55
    light = np.linspace(0.35, 1.0, 240, dtype=np.float32)

    found = ink(text * light, method=method, level=0.44, window=3)

    assert found[20:24, ::12].mean() > 0.9
    assert found[40:].mean() < 0.05


def test_a_texture_level_agrees_with_sauvolas_formula():
    tone = blobs(40, 50, scale=3)
    radius = 5
    padded = np.pad(tone.astype(float), radius, "reflect")
    windows = np.lib.stride_tricks.sliding_window_view(padded, (11, 11))
    level = windows.mean((2, 3)) * (1 + 0.3 * (windows.std((2, 3)) / 0.5 - 1))

    found = ink(tone, method=Level.TEXTURE, texture=0.3, window=1.0)

    clear = np.abs(tone - level) > 1e-4
    assert np.array_equal(found[clear] > 0, (tone < level)[clear])


def test_a_shifted_picture_gives_a_shifted_drawing():
    tone = blobs(150, 150)

    for method in Level:
        first = ink(tone[:-7, :-5], method=method, window=1)
        second = ink(tone[7:, 5:], method=method, window=1)
        assert np.mean(first[30:-30, 30:-30][7:, 5:] != second[30:-30, 30:-30][:-7, :-5]) < 0.001


def test_a_soft_edge_covers_a_pixel_by_its_share():
    y, x = np.mgrid[0:60, 0:60].astype(np.float32)
    slope = (0.5 + 0.02 * (x - 30 + 0.4 * (y - 30))).clip(0, 1).astype(np.float32)

    hard, soft = ink(slope), ink(slope, edge=1.0)

    assert len(np.unique(hard)) == 2
    assert np.abs(soft.sum() - hard.sum()) < 0.01 * hard.sum()
    assert np.all(
        (soft > 0) & (soft < 1) == (np.abs((slope - 0.5) / 0.02) < 0.5 * np.hypot(1, 0.4))
    )


@given(st.floats(0.05, 0.45), st.floats(0.55, 0.95), st.floats(0.2, 0.8))
def test_the_suggested_level_parts_two_tones(dark, light, share):
    tone = np.full(1000, light, np.float32)
    tone[: round(share * 1000)] = dark

    assert dark < otsu_level(tone[None]) < light


def test_the_suggested_level_of_an_even_ramp_is_one_half():
    assert otsu_level(ramp().astype(np.float32) / 255) == 0.5


def test_one_tone_has_the_level_one_half():
    assert otsu_level(np.full((4, 4), 0.2, np.float32)) == 0.5
