import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.stages.grey import decoded, luminance_grey
from flinz.core.stages.tone import Tone, curved, exposed, suggested

tones = st.builds(
    Tone,
    black=st.floats(0, 0.6),
    white=st.floats(0.4, 1),
    middle=st.floats(0.1, 0.9),
    floor=st.floats(0, 0.5),
    ceiling=st.floats(0.5, 1),
    contrast=st.floats(-1, 1),
    pivot=st.floats(0.05, 0.95),
    invert=st.booleans(),
)


def every_grey(kind):
    values = np.arange(np.iinfo(kind).max + 1, dtype=kind)
    return np.repeat(values[None, :, None], 3, 2)


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
def test_a_grey_pixel_keeps_exactly_its_value(kind):
    rgb = every_grey(kind)

    expected = rgb[..., 0].astype(np.float32) / np.float32(np.iinfo(kind).max)
    assert np.array_equal(luminance_grey(rgb), expected)


@given(st.tuples(*[st.integers(0, 255)] * 3))
def test_grey_has_the_luminance_of_the_colour(colour):
    encoded = np.array(colour) / 255
    light = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    luminance = light @ (0.2126, 0.7152, 0.0722)
    expected = (
        luminance * 12.92 if luminance <= 0.0031308 else 1.055 * luminance ** (1 / 2.4) - 0.055
    )

    bytes_ = luminance_grey(np.array(colour, np.uint8)[None, None])[0, 0]
    floats = luminance_grey((np.array(colour) / 255).astype(np.float32)[None, None])[0, 0]

    assert bytes_ == pytest.approx(expected, abs=2e-4)
    assert floats == pytest.approx(expected, abs=2e-4)


@given(tones)
def test_the_curve_stays_in_range_and_never_turns_back(settings):
    out = curved(np.linspace(0, 1, 301, dtype=np.float32)[None], settings)[0]

    steps = np.diff(out) * (-1 if settings.invert else 1)
    assert out.min() >= 0 and out.max() <= 1
    assert steps.min() >= -1e-6


def test_contrast_leaves_black_middle_and_white():
    ends = np.array([[0, 0.5, 1]], np.float32)

    assert np.allclose(curved(ends, Tone(contrast=0.7)), ends)


def test_the_mid_tone_becomes_middle_grey():
    assert curved(np.array([[0.3]], np.float32), Tone(middle=0.3))[0, 0] == pytest.approx(
        0.5, abs=1e-6
    )


def test_suggested_points_spread_a_flat_picture():
    flat = np.linspace(0.4, 0.6, 10_000, dtype=np.float32).reshape(100, 100)

    out = curved(flat, Tone(**suggested(flat)))

    assert out.min() < 0.02 and out.max() > 0.98


def test_a_picture_of_one_tone_gets_neutral_suggestions():
    assert Tone(**suggested(np.full((9, 9), 0.3, np.float32))) == Tone()


@given(st.floats(0.05, 0.95), st.floats(-1, 1))
def test_contrast_leaves_its_pivot_in_place(pivot, contrast):
    out = curved(np.array([[pivot]], np.float32), Tone(pivot=pivot, contrast=contrast))

    assert out[0, 0] == pytest.approx(pivot, abs=2e-3)


def test_floor_and_ceiling_are_where_black_and_white_go():
    ends = np.array([[0.0, 1.0]], np.float32)

    assert np.allclose(curved(ends, Tone(floor=0.2, ceiling=0.9)), [[0.2, 0.9]], atol=1e-6)
    # Crossed ends meet; they do not turn the picture round.
    assert np.ptp(curved(ends, Tone(floor=0.8, ceiling=0.3))) == pytest.approx(0, abs=1e-6)


@given(st.integers(0, 20), st.integers(0, 20), st.sampled_from([-1.5, -0.3, 0.7, 2.0]))
def test_light_by_hand_leaves_all_else_as_it_was_to_the_last_bit(top, left, stops):
    grey = np.random.default_rng(top).random((24, 24), np.float32)
    wanted = np.zeros((24, 24), np.float32)
    wanted[top : top + 3, left : left + 2] = stops

    found = exposed(grey, wanted)

    assert np.array_equal(found[wanted == 0], grey[wanted == 0])
    before, after = (decoded(each[wanted != 0].astype(np.float64)) for each in (grey, found))
    assert np.allclose(after, np.minimum(before * 2**stops, 1), atol=1e-6)
