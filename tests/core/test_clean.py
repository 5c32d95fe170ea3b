import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.stages.clean import Clean, cleaned
from tests.charts import blobs, frame_of

PX_PER_MM = 5.0


def clean(cover, two_tone=True, **dials):
    return cleaned(cover, Clean(**dials), frame_of(cover, PX_PER_MM), two_tone)


def squares(sides, background=0.0):
    """Squares of the given sides in pixels, well apart."""
    cover = np.full((60, 60 * len(sides)), background, np.float32)
    for k, side in enumerate(sides):
        cover[20 : 20 + side, 60 * k + 20 : 60 * k + 20 + side] = 1 - background
    return cover


def test_specks_under_the_area_go_and_others_stay_untouched():
    cover = squares([2, 5, 12])

    found = clean(cover, specks=1.0 + 1e-6)

    expected = cover.copy()
    expected[:, :120] = 0
    assert np.array_equal(found, expected)


def test_pinholes_under_the_area_are_filled():
    found = clean(squares([2, 5, 12], background=1.0), pinholes=1.0 + 1e-6)

    assert found[:, :120].min() == 1
    assert found[:, 120:].min() == 0


def test_specks_of_ink_are_the_pinholes_of_the_negative():
    cover = (blobs(90, 90, scale=2) > 0.6).astype(np.float32)

    # Islands join at corners and holes do not, so only sizes away from the limit are compared.
    assert np.mean(clean(cover, specks=1) != 1 - clean(1 - cover, pinholes=1)) < 0.02


def test_a_grey_speck_goes_with_its_soft_rim():
    cover = squares([3])
    cover[19, 20:23] = 0.3
    cover[40:44, 40:44] = 0.4

    assert clean(cover, two_tone=False, specks=1.0).max() == 0


@given(st.floats(0.1, 0.8))
def test_smooth_edges_keep_the_area_of_a_disc(smooth):
    y, x = np.mgrid[-60:61, -60:61]
    disc = (np.hypot(x, y) < 40).astype(np.float32)

    found = clean(disc, smooth=smooth)

    assert abs(found.sum() / disc.sum() - 1) < 0.01


def test_smooth_edges_take_jags_away():
    stairs = np.zeros((120, 120), np.float32)
    for y in range(120):
        stairs[y, : 30 + 6 * (y // 6)] = 1

    found = clean(stairs, smooth=2.0)

    edge = found.sum(1)[20:80]
    straight = np.polyval(np.polyfit(np.arange(60), edge, 1), np.arange(60))
    assert np.abs(edge - straight).max() < 0.7


@pytest.mark.parametrize("two_tone", [True, False])
def test_smoothing_leaves_flat_ink_and_bare_paper(two_tone):
    for value in (0.0, 1.0):
        flat = np.full((40, 40), value, np.float32)
        assert np.array_equal(clean(flat, two_tone, smooth=1.0), flat)


def test_sharpening_steepens_an_edge():
    edge = np.tile(np.linspace(0.2, 0.8, 60, dtype=np.float32), (40, 1))
    edge = (1 / (1 + np.exp(-(edge - 0.5) * 20))).astype(np.float32)

    assert (
        np.gradient(clean(edge, False, sharpen=2.0, sharpen_radius=1.5)[20]).max()
        > 1.3 * np.gradient(edge[20]).max()
    )


@given(
    st.builds(
        Clean,
        specks=st.floats(0, 25),
        pinholes=st.floats(0, 25),
        smooth=st.floats(0, 3),
        sharpen=st.floats(0, 3),
        sharpen_radius=st.floats(0.05, 5),
    ),
    st.booleans(),
)
def test_any_dials_stay_in_range(dials, two_tone):
    cover = np.random.default_rng(3).random((20, 30)).astype(np.float32)

    found = cleaned(cover, dials, frame_of(cover), two_tone)

    assert np.isfinite(found).all() and found.min() >= 0 and found.max() <= 1
