"""Marks and the pen: areas that are known, at any scale."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.marks.pen import dots_cover, strokes_cover
from flinz.core.marks.vectors import Dots, Shape, Strokes, joined
from flinz.core.scale import region_frame, whole_frame


def frame_at(px_per_mm, side_mm=20):
    side_px = round(side_mm * px_per_mm)
    return whole_frame(side_mm, side_px, side_px)


def one_dot(x=10.03, y=9.91, radius=1.7, angle=0.0, shape=Shape.ROUND, blob=0.0):
    columns = (np.array([v], np.float32) for v in (x, y, radius, angle))
    return Dots(*columns, shape=shape, blob=blob)


def stroke(*points, width=1.0):
    xy = np.array(points, np.float32)
    widths = np.broadcast_to(np.asarray(width, np.float32), len(xy)).copy()
    return Strokes(xy[:, 0].copy(), xy[:, 1].copy(), widths, np.array([0, len(xy)], np.int64))


def ink_mm2(cover, frame):
    return float(cover.sum(dtype=np.float64)) / frame.px_per_mm**2


AREAS = {
    Shape.ROUND: math.pi,
    Shape.SQUARE: 2.0,
    Shape.DIAMOND: 2.0,
    # A stadium of half width 0.3, its straight part 1.4 long.
    Shape.DASH: 0.6 * 1.4 + math.pi * 0.09,
    # Between radius 1 and radius 0.6.
    Shape.RING: math.pi * (1 - 0.36),
    # Two segments of a circle of radius 1.25 whose middle lies 0.75 from the axis.
    Shape.LEAF: 2 * (1.25**2 * math.acos(0.6) - 0.75 * 1.0),
}


@pytest.mark.parametrize("shape", Shape)
@pytest.mark.parametrize("px_per_mm", [8, 20])
@pytest.mark.parametrize("angle", [0.0, 0.6])
def test_every_mark_has_the_ink_of_its_area(shape, px_per_mm, angle):
    frame = frame_at(px_per_mm)
    dot = one_dot(angle=angle, shape=shape)

    assert ink_mm2(dots_cover(dot, frame), frame) == pytest.approx(AREAS[shape] * 1.7**2, rel=0.05)


@pytest.mark.parametrize("angle", [0.0, 0.7, 2.0])
def test_a_dash_lies_along_its_angle(angle):
    frame = frame_at(20)
    cover = dots_cover(one_dot(10, 10, 3.0, angle, Shape.DASH), frame)

    y, x = np.nonzero(cover > 0.5)
    spread = np.linalg.eigh(np.cov(np.stack([x, -y])))[1][:, 1]
    assert abs(spread @ (math.cos(angle), math.sin(angle))) > 0.995


def test_a_blob_is_no_circle_but_has_its_ink():
    frame = frame_at(20)
    circle, blob = (dots_cover(one_dot(blob=v), frame) for v in (0.0, 1.0))

    assert np.abs(circle - blob).sum() > 0.05 * circle.sum()
    assert blob.sum() == pytest.approx(circle.sum(), rel=0.1)


def test_blobs_differ_from_place_to_place_and_stay_with_it():
    frame = frame_at(20)
    here, there = one_dot(6, 6, blob=1.0), one_dot(13, 6, blob=1.0)

    one = dots_cover(here, frame)[:, :200]
    other = dots_cover(there, frame)[:, 140:340]
    assert np.abs(one - other).max() > 0.5
    assert np.array_equal(dots_cover(here, frame), dots_cover(here, frame))


@given(
    st.floats(4, 16),
    st.floats(4, 16),
    st.floats(4, 16),
    st.floats(4, 16),
    st.floats(0.3, 2.0),
    st.sampled_from([6, 11, 25]),
)
def test_a_stroke_has_its_length_times_its_width(x0, y0, x1, y1, width, px_per_mm):
    frame = frame_at(px_per_mm)

    cover = strokes_cover(stroke((x0, y0), (x1, y1), width=width), frame)

    expected = math.hypot(x1 - x0, y1 - y0) * width + math.pi * width**2 / 4
    # Across a diagonal pixels lie 0.7 apart, and sample a line of two pixels no better than this.
    assert ink_mm2(cover, frame) == pytest.approx(expected, rel=0.07, abs=0.02)


def test_a_hairline_keeps_its_ink_at_a_coarse_scale():
    frame = frame_at(2)

    cover = strokes_cover(stroke((3, 10.1), (17, 10.1), width=0.1), frame)

    assert ink_mm2(cover, frame) == pytest.approx(1.4, rel=0.1)
    assert cover.max() < 0.4


def test_a_width_that_grows_makes_a_wedge():
    frame = frame_at(20)

    cover = strokes_cover(stroke((4, 10), (16, 10), width=[0.2, 3.0]), frame)

    columns = (cover > 0.5).sum(0) / frame.px_per_mm
    assert columns[5 * 20] == pytest.approx(0.2 + 2.8 / 12, abs=0.15)
    assert columns[15 * 20] == pytest.approx(3.0 - 2.8 / 12, abs=0.15)


def test_a_crossing_has_the_ink_of_both_strokes_less_what_they_share():
    frame = frame_at(20)
    across, down = stroke((3, 10.02), (17, 10.02)), stroke((10.01, 3), (10.01, 17))

    both = strokes_cover(joined([across, down]), frame)

    one, other = (ink_mm2(strokes_cover(s, frame), frame) for s in (across, down))
    assert ink_mm2(both, frame) == pytest.approx(one + other - 1.0, abs=0.01)
    assert both.max() <= 1


@pytest.mark.parametrize("gap_mm", [0.05, 0.1, 0.15])
def test_a_gap_narrower_than_a_pixel_stays_about_as_bright_as_it_is(gap_mm):
    frame = frame_at(5)
    pair = joined([stroke((2, 9.5), (18, 9.5)), stroke((2, 10.5 + gap_mm), (18, 10.5 + gap_mm))])

    cover = strokes_cover(pair, frame)

    bare = (1 - cover[45:56, 50]).sum() / frame.px_per_mm - (2.2 - (2.0 + gap_mm))
    assert bare == pytest.approx(gap_mm, abs=0.03)


def test_strokes_are_not_joined_end_to_end():
    frame = frame_at(10)
    apart = joined([stroke((2, 5), (5, 5)), stroke((15, 15), (18, 15))])

    cover = strokes_cover(apart, frame)

    assert cover[100, 100] == 0 and len(apart) == 2


@pytest.mark.parametrize("region", [(0.0, 0.0, 0.5, 0.5), (0.31, 0.4, 0.77, 0.93)])
def test_marks_in_a_region_are_a_crop_of_the_whole(region):
    rng = np.random.default_rng(4)
    dots = Dots(
        *(rng.uniform(a, b, 300).astype(np.float32) for a, b in ((0, 20), (0, 20), (0.1, 0.6)))
    )
    xy = rng.uniform(0, 20, (200, 2)).astype(np.float32)
    lines = Strokes(
        xy[:, 0].copy(), xy[:, 1].copy(), np.full(200, 0.3, np.float32), np.arange(0, 201, 10)
    )
    frame = frame_at(15)
    part = region_frame(frame, region)

    for marks, draw in ((dots, dots_cover), (lines, strokes_cover)):
        assert np.allclose(draw(marks, frame)[part.slices_in(frame)], draw(marks, part), atol=1e-3)


def test_no_marks_are_bare_paper():
    frame = frame_at(5)
    none = np.zeros(0, np.float32)

    assert not dots_cover(Dots(none, none, none), frame).any()
    assert not strokes_cover(joined([]), frame).any()


@given(st.floats(0.2, 3.0), st.floats(-8, 8), st.integers(2, 60), st.sampled_from([1.0, 2.5, 8.0]))
def test_a_line_of_many_points_is_drawn_as_one_of_two(width, lean, points, px_per_mm):
    frame = frame_at(px_per_mm)
    share = np.linspace(0, 1, points)
    dense = np.stack([2 + 16 * share, 10 + lean * (share - 0.5)], -1)

    many = strokes_cover(stroke(*dense, width=width), frame)
    two = strokes_cover(stroke(dense[0], dense[-1], width=width), frame)

    assert np.abs(many - two).max() < 2e-3


@pytest.mark.parametrize("px_per_mm", [0.5, 1.0, 2.0])
def test_a_bend_in_steps_smaller_than_a_pixel_keeps_its_place_and_ink(px_per_mm):
    turn = np.linspace(0, 1.9 * np.pi, 701)
    ring = stroke(*np.stack([10 + 6 * np.cos(turn), 10 + 6 * np.sin(turn)], -1), width=0.8)
    sparse = Strokes(ring.x[::7], ring.y[::7], ring.width[::7], np.array([0, 101], np.int64))
    small, fine = frame_at(px_per_mm), frame_at(20)

    cover = strokes_cover(ring, small)

    assert ink_mm2(cover, small) == pytest.approx(
        ink_mm2(strokes_cover(ring, fine), fine), rel=0.06
    )
    assert np.abs(cover - strokes_cover(sparse, small)).max() < 0.1
