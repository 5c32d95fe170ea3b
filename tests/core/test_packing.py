"""Dots keep their distance where there is room, and join without slivers where there is none."""

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.judge.printing import NARROW_MM, report
from flinz.core.marks.packing import kept_apart, necks, spared
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.stippling import placed, tile_cover
from flinz.core.marks.tones import Spread, planned
from flinz.core.marks.vectors import Dots, Shape, joined
from flinz.core.scale import whole_frame

GAP = 0.1
SIDE_MM, PX = 8.0, 60.0
BOUNDS = (SIDE_MM, SIDE_MM)


def scattered(seed, count):
    rng = np.random.default_rng(seed)
    places = (0.5 + rng.random((count, 2)) * (SIDE_MM - 1)).astype(np.float32)
    return places, rng.uniform(0.15, 0.3, count).astype(np.float32)


def between(places):
    away = np.hypot(*(places[:, None] - places[None]).transpose(2, 0, 1))
    np.fill_diagonal(away, np.inf)
    return away


def drawn(places, radius, joints):
    frame = whole_frame(SIDE_MM, round(SIDE_MM * PX), round(SIDE_MM * PX))
    x, y = np.ascontiguousarray(places.T)
    return dots_cover(Dots(x, y, radius, necks=joints), frame), frame


@given(seed=st.integers(0, 999))
@settings(max_examples=15, deadline=None)
def test_dots_part_where_there_is_room(seed):
    places, _ = scattered(seed, 60)
    room = np.full(60, 0.3, np.float32)
    moved = kept_apart(places, room, np.ones(60, np.float32), BOUNDS)
    assert between(moved).min() > max(0.5, between(places).min() - 1e-5)
    assert moved.min() >= 0
    assert moved.max() <= SIDE_MM
    assert np.array_equal(moved, kept_apart(places, room, np.ones(60, np.float32), BOUNDS))


def test_dots_that_do_not_give_way_stay():
    places, radius = scattered(3, 80)
    still = np.zeros(80, np.float32)
    assert np.array_equal(kept_apart(places, radius + 1, still, BOUNDS), places)
    assert np.array_equal(spared(places, radius, GAP, still), radius)


def test_two_dots_give_up_half_of_what_they_lack_or_nothing():
    radius = np.full(4, 0.25, np.float32)
    # The first two lack 0.04 mm, the others 0.3.
    places = np.array([(1, 1), (1.56, 1), (1, 4), (1.3, 4)], np.float32)
    smaller = spared(places, radius, GAP, np.full(4, 0.1, np.float32))
    assert smaller == pytest.approx([0.23, 0.23, 0.25, 0.25], abs=1e-4)


@given(seed=st.integers(0, 999), count=st.integers(2, 150))
@settings(max_examples=25, deadline=None)
def test_necks_close_what_is_too_narrow_and_little_else(seed, count):
    places, radius = scattered(seed, count)
    joints = necks(places, radius, GAP)
    closed, frame = drawn(places, radius, joints)
    bare, _ = drawn(places, radius, joined([]))
    # At the scale at which a report looks for gaps nearly as wide as those that necks close.
    closer = replace(frame, px_per_mm=frame.px_per_mm * 0.95 * GAP / NARROW_MM)
    assert report(closed, closer).narrow_paper < 0.006
    # Closing by a disc, pixel by pixel; necks are besides never thinner than the gap.
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7))
    slow = cv2.morphologyEx((bare >= 0.5).astype(np.uint8), cv2.MORPH_CLOSE, disc)
    rim = cv2.dilate(slow, np.ones((5, 5), np.uint8))
    beyond = np.count_nonzero((closed >= 0.5) & (rim == 0))
    assert beyond <= 0.012 * np.count_nonzero(slow)


def test_dots_far_apart_have_no_necks():
    places = np.array([(1, 1), (2, 1), (1, 2)], np.float32)
    assert len(necks(places, np.full(3, 0.3, np.float32), GAP)) == 0
    assert len(necks(places[:0], np.zeros(0, np.float32), GAP)) == 0


@pytest.mark.parametrize("gap", [0.0, 0.1, 0.26, 0.5])
@pytest.mark.parametrize("cover", [0.15, 0.35, 0.55, 0.72, 0.88])
def test_the_table_leaves_the_ink_that_is_wished(gap, cover):
    spread = Spread(gap)
    assert tile_cover(*planned(cover, spread), cover, spread) == pytest.approx(cover, abs=0.02)


@given(
    shape=st.sampled_from(Shape),
    gap=st.floats(0, 0.45),
    evenness=st.floats(0, 1),
    smallest=st.floats(0.3, 1),
    cover=st.floats(0.05, 0.98),
)
@settings(max_examples=60, deadline=None)
def test_marks_of_any_kind_and_size_leave_the_ink_that_is_wished(
    shape, gap, evenness, smallest, cover
):
    spread = Spread(gap if shape == Shape.ROUND else 0.0, evenness, False, smallest, shape)
    assert tile_cover(*planned(cover, spread), cover, spread) == pytest.approx(cover, abs=0.06)


@pytest.mark.parametrize("shape", [shape for shape in Shape if shape != Shape.ROUND])
@pytest.mark.parametrize("cover", [0.4, 0.7, 0.9])
def test_marks_leave_the_same_ink_however_they_lie(shape, cover):
    spread = Spread(shape=shape)
    plan = planned(cover, spread)
    inks = [tile_cover(*plan, cover, spread, angle) for angle in (0.0, 0.4, 0.8)]
    assert max(inks) - min(inks) < 0.04


def test_a_draft_leaves_that_ink_too():
    spread = Spread(0.26, draft=True)
    for cover in (0.2, 0.5, 0.8):
        assert tile_cover(*planned(cover, spread), cover, spread) == pytest.approx(cover, abs=0.01)


def test_dots_of_a_mid_tone_stand_apart():
    even = np.full((96, 96), 0.45, np.float32)
    spread = Spread(0.26)
    chance, size = planned(even, spread)
    dots = placed(chance, even, size, 0.43, spread)
    cover = dots_cover(dots, whole_frame(96 * 0.43, 1651, 1651))
    parts = cv2.connectedComponents((cover >= 0.5).astype(np.uint8))[0] - 1
    assert parts > 0.97 * len(dots)


@pytest.mark.parametrize("cover", [0.6, 0.75, 0.9])
def test_dots_that_run_together_hold_as_much_ink_at_every_scale(cover):
    spread = Spread(gap=0.3)
    wished = np.full((64, 64), cover, np.float32)
    dots = placed(*planned_on(wished, spread), 1.0, spread)

    inks = [
        dots_cover(dots, whole_frame(64.0, 64 * px, 64 * px)).mean() for px in (3, 4, 6, 12, 24)
    ]

    assert len(dots.necks) > 1000
    assert inks == pytest.approx([inks[-1]] * 5, abs=0.006)


def planned_on(wished, spread):
    """What dots are placed by: density, cover and size."""
    chance, size = planned(wished, spread)
    return chance, wished, size
