import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.scale import whole_frame
from flinz.core.shapes.edges import thickened
from flinz.core.shapes.filled import filled
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


@pytest.mark.parametrize("way", [0.2, 0.45, 0.7, -0.2, -0.35])
def test_thickening_moves_an_upright_edge_by_exactly_that_much(way):
    bar = np.zeros((40, 80), np.float32)
    bar[:, 30:50] = 1

    moved = clean(bar, thicken=way)

    width = moved[20].sum() / PX_PER_MM
    assert width == pytest.approx(20 / PX_PER_MM + 2 * way, abs=0.02)


@pytest.mark.parametrize("edge", [0.25, 0.5, 0.8])
def test_thickening_sees_where_within_a_pixel_an_edge_runs(edge):
    bar = np.zeros((40, 80), np.float32)
    bar[:, 30:50] = 1
    bar[:, 50] = edge

    moved = clean(bar, thicken=0.5)

    assert moved[20].sum() - bar[20].sum() == pytest.approx(2 * 0.5 * PX_PER_MM, abs=0.15)


@given(st.floats(0.2, 4.0), st.floats(2.5, 25), st.floats(-0.5, 0.5), st.floats(-0.5, 0.5))
def test_thickening_a_disc_grows_its_radius_whichever_way_its_edge_runs(way_px, radius, x, y):
    turns = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    ring = np.stack([40 + x + radius * np.cos(turns), 40 + y + radius * np.sin(turns)], 1)
    disc = filled([ring], whole_frame(80, 80, 80))

    grown = np.sqrt(thickened(disc, way_px, two_tone=True).sum() / np.pi)

    # Edges aslant fell short by up to a quarter of a pixel, all in all by a tenth.
    assert grown == pytest.approx(radius + way_px, abs=0.075)


@given(st.floats(0.05, 1.5))
def test_thinning_is_thickening_of_the_paper(way):
    cover = (blobs(60, 60, scale=4) > 0.5).astype(np.float32)

    assert np.array_equal(clean(cover, thicken=-way), 1 - clean(1 - cover, thicken=way))


@given(st.booleans(), st.floats(0, 0.6), st.floats(0, 0.6))
def test_thicker_is_never_less_ink(two_tone, less, more):
    cover = blobs(50, 50, scale=4)
    if two_tone:
        cover = (cover > 0.5).astype(np.float32)
    low, high = sorted((less, more))

    thin, thick = (clean(cover, two_tone, thicken=v) for v in (low, high))

    assert np.all(thick - thin >= -1e-5)


def test_a_grey_drawing_keeps_its_greys_when_thickened():
    cover = np.zeros((40, 40), np.float32)
    cover[20, 10:30] = 0.4

    moved = clean(cover, two_tone=False, thicken=0.4)

    assert moved[20, 20] == pytest.approx(0.4) and moved[22, 20] == pytest.approx(0.4)
    assert moved[25, 20] == 0


@pytest.mark.parametrize("way_px", [12.5, 20, 33.3, 40.6, 71])
def test_a_grey_disc_grows_as_far_as_asked_however_fine_the_pixels(way_px):
    y, x = np.mgrid[:300, :300]
    disc = np.where(np.hypot(x - 150, y - 150) <= 30, np.float32(0.4), np.float32(0))

    grown = thickened(disc, way_px)

    assert np.sqrt(grown.sum() / 0.4 / np.pi) == pytest.approx(30 + way_px, abs=0.7)
    rim = np.argwhere(grown > 0.2) - 150
    assert np.hypot(*rim.T).max() == pytest.approx(30 + way_px, abs=1.2)


@pytest.mark.parametrize("px_per_mm", [5, 40])
def test_smooth_edges_of_greys_fill_notches_however_fine_the_pixels(px_per_mm):
    # A notch of 2.1 mm in a grey edge: a median over 4.5 mm covers it, one over 3 mm does not.
    cover = np.full((8 * px_per_mm, 8 * px_per_mm), 0.6, np.float32)
    cover[: 4 * px_per_mm] = 0
    middle, half = 4 * px_per_mm, round(1.05 * px_per_mm)
    cover[middle : middle + 2 * px_per_mm, middle - half : middle + half] = 0

    smooth = cleaned(cover, Clean(smooth=3.0), frame_of(cover, px_per_mm), two_tone=False)

    assert smooth[middle + px_per_mm, middle] == pytest.approx(0.6, abs=0.01)


def test_empty_and_full_sheets_stay_as_they_are():
    for value in (0.0, 1.0):
        cover = np.full((30, 30), value, np.float32)
        for way in (0.5, -0.5):
            assert np.array_equal(clean(cover, thicken=way), cover)


def test_levels_drop_the_faint_and_fill_the_strong():
    ink = np.linspace(0, 1, 101, dtype=np.float32)[None]

    out = clean(ink, two_tone=False, faintest=0.2, fullest=0.7)[0]

    assert not out[:21].any() and np.all(out[70:] == 1)
    assert out[45] == pytest.approx(0.5, abs=0.01)


@given(st.floats(0, 0.9), st.floats(0.1, 1), st.floats(0.2, 5))
def test_levels_stay_in_range_and_rise(faintest, fullest, weight):
    ink = np.linspace(0, 1, 101, dtype=np.float32)[None]

    out = clean(ink, two_tone=False, faintest=faintest, fullest=fullest, weight=weight)[0]

    assert out.min() >= 0 and out.max() <= 1 and np.diff(out).min() >= -1e-6


def test_more_weight_is_more_ink():
    ink = blobs(40, 40)

    light, plain, dark = (clean(ink, two_tone=False, weight=v).mean() for v in (0.5, 1.0, 2.0))

    assert light < plain < dark
