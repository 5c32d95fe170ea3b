"""Filled outlines: areas that are known, the same in any frame and in parts of one."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import Polygon

from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled

FRAME = whole_frame(40, 200, 160)
PX_MM2 = FRAME.px_per_mm**2
places = st.tuples(st.floats(-10, 50), st.floats(-10, 42))


def rectangle(left, top, right, bottom):
    return np.array([[left, top], [right, top], [right, bottom], [left, bottom]], float)


@given(st.floats(1, 15), st.floats(1, 15), st.floats(0.5, 20), st.floats(0.5, 15))
def test_a_rectangle_takes_its_area(left, top, width, height):
    share = filled([rectangle(left, top, left + width, top + height)], FRAME)

    assert share.sum() == pytest.approx(width * height * PX_MM2, rel=1e-4)


def test_a_circle_takes_its_area_wherever_it_lies():
    turn = np.linspace(0, 2 * np.pi, 2001)[:-1]
    for middle in ((20, 16), (12.34, 13.77)):
        ring = np.column_stack([np.cos(turn), np.sin(turn)]) * 7 + middle

        assert filled([ring], FRAME).sum() == pytest.approx(np.pi * 49 * PX_MM2, rel=1e-4)


def test_what_runs_the_other_way_cuts_a_hole():
    hole = rectangle(12, 12, 18, 18)[::-1]

    share = filled([rectangle(10, 10, 20, 20), hole], FRAME)

    assert share.sum() == pytest.approx((100 - 36) * PX_MM2, rel=1e-6)
    assert share[75, 75] == 0 and share[52, 52] == 1


def test_rings_beside_the_frame_and_empty_ones_take_nothing_from_those_within():
    alone = [rectangle(2, 2, 6, 9), rectangle(20, 10, 33, 30)[::-1]]
    beside = [rectangle(-9, -9, -2, -4), rectangle(41, 3, 44, 8), np.zeros((0, 2))]

    share = filled([beside[2], alone[0], *beside, alone[1]], FRAME)

    assert np.array_equal(share, filled(alone, FRAME))
    assert filled([beside[2]], FRAME).max() == 0


def test_what_lies_twice_over_a_place_fills_it_once():
    share = filled([rectangle(10, 10, 20, 20), rectangle(15, 10, 25, 20)], FRAME)

    assert share.max() == 1 and share.sum() == pytest.approx(150 * PX_MM2, rel=1e-6)


@given(st.lists(places, min_size=3, max_size=8), st.integers(0, 150), st.integers(0, 120))
def test_a_part_of_a_frame_is_that_part_of_it(corners, left, top):
    ring = np.array(corners)
    part = FRAME.part(left, top, left + 50, top + 40)

    inner = filled([ring], part)

    assert np.allclose(inner, filled([ring], FRAME)[part.slices_in(FRAME)], atol=1e-5)


@given(st.lists(places, min_size=3, max_size=8))
def test_a_finer_picture_shrunk_is_the_coarser_one(corners):
    ring = np.array(corners)
    # What crosses itself may go twice round a place, which is filled once: no average of areas.
    assume(Polygon(ring).is_valid)
    fine = filled([ring], FRAME.magnified(4))

    shrunk = fine.reshape(160, 4, 200, 4).mean((1, 3))

    assert np.allclose(shrunk, filled([ring], FRAME), atol=1e-4)


def test_nothing_is_filled_by_nothing():
    assert not filled([], FRAME).any()
    assert not filled([rectangle(50, 50, 60, 60)], FRAME).any()
