"""Noise fixed to the paper."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.planes.flow import Field
from flinz.core.planes.grain import _angle, _tiles, paper_grain, paper_strokes
from flinz.core.scale import region_frame, whole_frame

SCALES = (1.0, 0.8, 0.64, 0.5, 0.4, 0.32)
SHEET = whole_frame(60, 480, 360)


def level_field(angle_deg):
    frame = whole_frame(60, 150, 112)
    way = np.radians(angle_deg)
    directions = np.empty((112, 150, 2), np.float32)
    directions[...] = (np.cos(way), -np.sin(way))
    return Field(directions, frame)


@pytest.mark.parametrize("size", [0.5, 1.0, 1.5])
def test_grain_is_evenly_spread(size):
    grain = paper_grain(SHEET, size, 3)

    assert grain.min() >= 0 and grain.max() <= 1
    assert abs(grain.mean() - 0.5) < 0.03
    quarter, half = np.mean(grain < 0.25), np.mean(grain < 0.5)
    assert abs(quarter - 0.25) < 0.05 and abs(half - 0.5) < 0.05


@given(st.tuples(*[st.floats(0, 1)] * 4), st.sampled_from([0.3, 1.0]))
def test_grain_of_a_part_is_part_of_the_grain(region, size):
    left, right = sorted(region[::2])
    top, bottom = sorted(region[1::2])
    part = region_frame(SHEET, (left, top, right, bottom))

    inside = paper_grain(SHEET, size, 5)[part.slices_in(SHEET)]

    assert np.allclose(inside, paper_grain(part, size, 5), atol=0.01)


def test_grain_stands_in_the_same_places_at_every_size():
    small, large = (paper_grain(whole_frame(60, e, e * 3 // 4), 1.2, 5) for e in (240, 960))

    shrunk = cv2.resize(large, small.shape[::-1], interpolation=cv2.INTER_AREA)
    assert np.corrcoef(small.ravel(), shrunk.ravel())[0, 1] > 0.97


@pytest.mark.parametrize("size", [0.4, 1.0, 2.5])
def test_grain_has_the_size_it_is_asked_for(size):
    grain = paper_grain(SHEET, size, 7) - 0.5

    power = np.abs(np.fft.fft2(grain)) ** 2
    away = np.hypot(*np.meshgrid(np.fft.fftfreq(480), np.fft.fftfreq(360))) * SHEET.px_per_mm
    middle = (power * away).sum() / power.sum()
    assert 0.4 < middle * size < 1.2


def test_another_seed_is_another_paper():
    one, other = (paper_grain(SHEET, 0.5, seed) for seed in (1, 2))

    assert abs(np.corrcoef(one.ravel(), other.ravel())[0, 1]) < 0.05


@pytest.mark.parametrize("angle", [0, 40, 90, 135])
def test_strokes_run_along_the_form(angle):
    strokes = paper_strokes(SHEET, level_field(angle), 0.3, 5.0, 9)

    # Moved along themselves they stay much the same; moved across they do not.
    way = np.radians(angle)
    kept = []
    for turn in (way, way + np.pi / 2):
        shift = np.float32([[1, 0, 6 * np.cos(turn)], [0, 1, -6 * np.sin(turn)]])
        moved = cv2.warpAffine(strokes, shift, (480, 360))
        inner = slice(40, -40), slice(40, -40)
        kept.append(np.corrcoef(strokes[inner].ravel(), moved[inner].ravel())[0, 1])
    assert kept[0] > 0.5 and kept[1] < 0.3


@given(st.floats(-1, 1), st.floats(-1, 1))
def test_the_quick_angle_of_a_line_is_close(x, y):
    if np.hypot(x, y) < 1e-3:
        return
    found = float(_angle.py_func(np.float32(x), np.float32(y)))

    gap = (found - np.arctan2(y, x)) % np.pi
    assert min(gap, np.pi - gap) < 0.005


@pytest.mark.parametrize("edge", [60, 85, 120, 170, 240])
def test_a_draft_has_its_strokes_in_the_same_places_and_as_even(edge):
    frame = whole_frame(60, edge, edge * 3 // 4)
    strokes, draft = (
        paper_strokes(frame, level_field(30), 0.3, 5.0, 9, is_draft) for is_draft in (False, True)
    )

    assert np.corrcoef(strokes.ravel(), draft.ravel())[0, 1] > 0.85
    assert abs(draft.mean() - 0.5) < 0.04


def test_all_drafts_of_a_bench_meet_few_tiles():
    _tiles.cache_clear()
    for scale in SCALES:
        edge = round(690 * scale)
        frame = whole_frame(280, edge, edge * 3 // 4)
        paper_strokes(frame, level_field(30), 0.3, 5.0, 9, draft=True)

    assert _tiles.cache_info().misses <= 3
