import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.planes.smear import moved, smeared
from flinz.core.stages.smooth import AlongForm, Smear, Ways, smoothed
from tests.charts import blobs, frame_of

lengths, angles = st.floats(0, 40), st.floats(-180, 180)


def spot(side=121):
    plane = np.zeros((side, side), np.float32)
    plane[side // 2, side // 2] = 1
    return plane


def centre(plane):
    y, x = np.indices(plane.shape) - plane.shape[0] // 2
    total = plane.sum()
    return float((x * plane).sum() / total), float((y * plane).sum() / total)


@given(lengths, angles, st.booleans())
def test_a_smear_keeps_all_the_ink(length, angle, both):
    assert smeared(spot(), length, angle, both).sum() == pytest.approx(1, abs=1e-3)


@given(lengths, angles)
def test_a_smear_both_ways_stays_where_it_was(length, angle):
    assert np.allclose(centre(smeared(spot(), length, angle, True)), 0, atol=0.1)


@given(st.floats(2, 40), angles)
def test_a_one_sided_smear_drags_towards_its_angle(length, angle):
    x, y = centre(smeared(spot(), length, angle, False))

    # The middle of a stretch of n samples lies half a stretch away, less half a sample.
    away = np.hypot(x, y)
    assert 0.25 * length < away < 0.5 * length + 0.1
    turn = np.degrees(np.arctan2(-y, x)) - angle
    assert abs((turn + 180) % 360 - 180) < 3


def test_no_smear_changes_nothing():
    plane = blobs(20, 30)

    assert smeared(plane, 0.0, 30, True) is plane
    assert moved(plane, 0.0, 0.0) is plane


def test_whole_pixels_move_exactly():
    plane = blobs(40, 50)

    out = moved(plane, 3.0, -2.0, goes_on=False)

    assert np.allclose(out[:38, 3:], plane[2:, :47], atol=1e-6)
    assert not out[:, :3].any() and not out[38:].any()


def test_a_quarter_turn_about_the_middle_is_a_quarter_turn():
    plane = blobs(61, 61)

    out = moved(plane, 0, 0, 90, (30.5, 30.5))

    assert np.allclose(out[2:-2, 2:-2], np.rot90(plane)[2:-2, 2:-2], atol=1e-4)


def test_smearing_along_stripes_keeps_them_and_across_takes_them_away():
    stripes = np.tile(np.array([0.2, 0.2, 0.8, 0.8], np.float32), (80, 20)).T.copy()
    frame = frame_of(stripes)
    kind = {"length": 4.0, "ways": Ways.BOTH}

    along = smoothed(stripes, Smear(angle=0, **kind), frame)
    across = smoothed(stripes, Smear(angle=90, **kind), frame)

    assert np.allclose(along, stripes, atol=1e-4)
    assert across[30:50].std() < 0.02


def test_along_the_form_takes_noise_and_keeps_the_edge():
    rng = np.random.default_rng(5)
    y, x = np.mgrid[-100:100, -100:100]
    disc = np.where(np.hypot(x, y) < 60, 0.25, 0.75)
    noisy = np.clip(disc + rng.normal(0, 0.05, disc.shape), 0, 1).astype(np.float32)
    frame = frame_of(noisy, 5.0)

    calm = smoothed(noisy, AlongForm(length=4.0, form=1.5, crisp=0.0), frame)

    ring = (np.abs(np.hypot(x, y) - 54) < 2) | (np.abs(np.hypot(x, y) - 66) < 2)
    assert (calm - disc)[ring].std() < 0.5 * 0.05
    assert calm[100, 100 + 56] < 0.4 and calm[100, 100 + 64] > 0.6


def test_along_the_form_of_no_length_changes_nothing():
    plane = blobs(30, 40)

    assert smoothed(plane, AlongForm(length=0), frame_of(plane)) is plane
