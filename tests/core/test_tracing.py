"""Tracing on charts whose answers are known."""

import itertools
import math

import cv2
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.scale import Lay, whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.trace.contours import contours_of
from flinz.core.trace.corners import with_corners
from flinz.core.trace.figures import figures_of
from flinz.core.trace.silhouette import silhouette
from flinz.core.trace.tracing import TraceWish, flattened, points_of, traced
from tests.charts import blobs

PX_PER_MM = 24
SIDE_MM = 30
WISH = TraceWish(closeness=0.04)
FRAME = whole_frame(SIDE_MM, SIDE_MM * PX_PER_MM, SIDE_MM * PX_PER_MM)


def round_about(radii, turn=0.0, middle=(15.3, 15.2)):
    angles = np.arange(len(radii)) * 2 * math.pi / len(radii) + turn
    return np.column_stack([np.cos(angles), np.sin(angles)]) * np.asarray(radii)[:, None] + middle


def traced_rings(*rings, wish=WISH):
    return traced(filled([np.asarray(ring, float) for ring in rings], FRAME), FRAME, wish)


def drawn_again(tracing, frame=FRAME):
    return filled(flattened(tracing, 12), frame)


def shade(width, height, seed):
    return np.asarray(blobs(height, width, seed), np.float32)


def test_a_circle_takes_few_curves_that_keep_its_radius():
    tracing = traced_rings(round_about(np.full(3000, 10.0)))

    away = np.hypot(*(points_of(tracing.curves, 30).reshape(-1, 2) - (15.3, 15.2)).T)
    assert len(tracing.curves) <= 8
    assert np.abs(away - 10).max() < 0.02


@pytest.mark.parametrize("turn_deg", [0, 10, 33])
def test_a_square_is_four_lines_between_its_corners(turn_deg):
    corners = round_about(np.full(4, 12.0), math.radians(turn_deg + 45))

    tracing = traced_rings(corners)

    assert (len(tracing.curves), tracing.is_line.sum()) == (4, 4)
    apart = np.hypot(*(tracing.curves[:, None, :2] - corners[None]).transpose(2, 0, 1))
    assert apart.min(0).max() < 0.04


@pytest.mark.parametrize("inner", [4.0, 6.0])
@pytest.mark.parametrize("turn_deg", [0, 7])
def test_a_star_of_ten_is_twenty_lines(inner, turn_deg):
    tracing = traced_rings(round_about([12.0, inner] * 10, math.radians(turn_deg)))

    assert (len(tracing.curves), tracing.is_line.sum()) == (20, 20)


@pytest.mark.parametrize("radius", [0.15, 0.4, 2.0])
def test_a_small_dot_has_no_corners(radius):
    cover = filled([round_about(np.full(600, radius))], FRAME)

    _, is_corner = with_corners(contours_of(cover), 40, 1.0)

    assert not is_corner.any()


def test_a_hole_belongs_to_its_shape_and_runs_the_other_way():
    outer, hole = round_about(np.full(400, 10.0)), round_about(np.full(400, 6.0))[::-1]
    island = round_about(np.full(400, 3.0))

    tracing = traced_rings(outer, hole, island)

    assert tracing.shape.tolist() == [0, 0, 1]
    areas = [polygon.area for polygon in tracing.polygons(30)]
    assert areas == pytest.approx([math.pi * (100 - 36), math.pi * 9], rel=0.005)


def test_specks_are_left_out_and_pinholes_are_closed_with_what_lies_in_them():
    outer, hole = round_about(np.full(400, 10.0)), round_about(np.full(400, 2.0))[::-1]
    island, speck = round_about(np.full(100, 0.5)), round_about(np.full(100, 0.3), middle=(2, 2))
    rings = outer, hole, island, speck

    assert len(traced_rings(*rings)) == 3
    assert len(traced_rings(*rings, wish=TraceWish(specks=0.5))) == 2
    closed = traced_rings(*rings, wish=TraceWish(specks=0.5, pinholes=13.0))
    assert len(closed.first) == 2
    assert closed.polygons(20)[0].area == pytest.approx(100 * math.pi, rel=0.005)


def test_ink_that_meets_at_a_corner_is_one_shape():
    cover = np.zeros((8, 8), np.float32)
    cover[1:4, 1:4] = cover[4:7, 4:7] = 1

    assert len(contours_of(cover)) == 1


@pytest.mark.parametrize("cover", [np.zeros((30, 40)), np.ones((30, 40))])
def test_an_empty_plate_has_no_shapes_and_a_full_one_is_its_rectangle(cover):
    tracing = traced(cover.astype(np.float32), whole_frame(4, 40, 30), WISH)

    area = sum(polygon.area for polygon in tracing.polygons())
    assert area == pytest.approx(12 * cover.mean(), rel=0.01)


@given(st.integers(0, 10_000), st.sampled_from([0.3, 0.5, 0.62]), st.sampled_from([0.02, 0.2]))
def test_outlines_close_lie_near_and_cross_nowhere(seed, level, closeness):
    grey = cv2.resize(shade(40, 30, seed), (240, 180), interpolation=cv2.INTER_CUBIC)
    cover = np.clip((grey - level) * 12 + 0.5, 0, 1).astype(np.float32)
    frame = whole_frame(20, 240, 180)

    tracing = traced(cover, frame, TraceWish(closeness=closeness))

    assert tracing.largest_distance_mm <= 2 * closeness
    for low, high in itertools.pairwise(tracing.first):
        own = tracing.curves[low:high]
        assert np.array_equal(own[:, 6:], np.roll(own[:, :2], -1, 0))
    polygons = tracing.polygons()
    assert shapely.is_valid(polygons).all()
    assert all(polygon.area > 0 for polygon in polygons)
    # Drawn again it is the drawing, as far as its closeness lets it.
    differs = (drawn_again(tracing, frame) > 0.5) != (cover > 0.5)
    assert differs.sum() / frame.px_per_mm**2 <= closeness * tracing.outline_mm + 0.5


@given(st.integers(0, 10_000), st.floats(0.0, 0.9), st.floats(0.0, 0.9))
def test_pieces_of_ink_keep_their_area(seed, right, down):
    """Also where an edge falls between pixels."""
    rng = np.random.default_rng(seed)
    radii = 6 + np.convolve(rng.normal(0, 1, 90), np.ones(9) / 9, "same").repeat(8)
    ring = round_about(radii, middle=(15 + right / 24, 15 + down / 24))

    tracing = traced_rings(ring)

    own = sum(polygon.area for polygon in tracing.polygons(24))
    assert own == pytest.approx(shapely.Polygon(ring).area, rel=0.005)


def test_a_pixel_at_the_very_level_changes_nothing_else():
    cover = np.zeros((40, 60), np.float32)
    cover[10:30, 10:30] = 1
    cover[5, 50] = cover[35, 45] = 0.5

    assert len(contours_of(cover)) == 1


def test_shapes_lie_where_they_do_on_paper_of_any_rows():
    ring = round_about(np.full(60, 4.0), middle=(6, 5.5))
    frame = whole_frame(12.0, 240, 222, height_mm=10.0)

    cover = filled([ring], frame)

    for found in (traced(cover, frame, WISH), silhouette(cover, frame, 0.0, WISH)):
        (outline,) = flattened(found, 12)
        assert shapely.Polygon(outline).hausdorff_distance(shapely.Polygon(ring)) < 0.05


def test_a_moved_drawing_gives_a_moved_tracing():
    cover = filled([round_about([9.0, 5.0] * 7)], FRAME)
    moved = np.roll(cover, (24, -48), (0, 1))

    here, there = traced(cover, FRAME, WISH), traced(moved, FRAME, WISH)

    assert there.curves == pytest.approx(here.curves + np.tile([-2.0, 1.0], 4), abs=1e-6)


def test_a_laid_tracing_is_turned_and_scaled():
    tracing = traced_rings(round_about(np.full(4, 10.0)))

    laid = tracing.laid(Lay(SIDE_MM, SIDE_MM, 40, 40, scale=2, turn=90))

    assert laid.outline_mm == pytest.approx(2 * tracing.outline_mm, rel=1e-6)


def test_a_silhouette_holds_what_ink_encloses_and_is_drawn_out_or_in():
    ring, hole = round_about(np.full(400, 8.0)), round_about(np.full(400, 6.0))[::-1]
    cover = filled([ring, hole], FRAME)

    for way in (-1.0, 0.0, 2.0):
        found = silhouette(cover, FRAME, way, WISH)
        (shape,) = found.polygons(24)
        assert len(shape.interiors) == 0
        assert shape.area == pytest.approx(math.pi * (8 + way) ** 2, rel=0.02)
        middle = shape.centroid
        assert (middle.x, middle.y) == pytest.approx((15.3, 15.2), abs=0.05)
    assert len(silhouette(cover, FRAME, -9.0, WISH)) == 0


def test_large_holes_of_a_silhouette_stay_open_where_that_is_asked():
    ring, hole = round_about(np.full(400, 8.0)), round_about(np.full(400, 3.0))[::-1]
    cover = filled([ring, hole], FRAME)

    (closed,) = silhouette(cover, FRAME, 1.0, WISH, holes_mm2=40.0).polygons()
    (opened,) = silhouette(cover, FRAME, 1.0, WISH, holes_mm2=20.0).polygons(24)

    assert (len(closed.interiors), len(opened.interiors)) == (0, 1)
    assert opened.area == pytest.approx(math.pi * (9**2 - 2**2), rel=0.003)


def test_a_silhouette_may_reach_beyond_the_sheet():
    cover = filled([round_about(np.full(4, 5.0), middle=(1.0, 15.0))], FRAME)

    (shape,) = silhouette(cover, FRAME, 3.0, WISH).polygons()

    assert shape.bounds[0] == pytest.approx(-3.0, abs=0.15)


def test_figures_are_those_of_all_tracings_together():
    one = traced_rings(round_about(np.full(4, 10.0)))

    found = figures_of([one, one])

    assert (found.shapes, found.segments) == (2, 8)
    assert found.outline_mm == pytest.approx(8 * 10 * math.sqrt(2), rel=0.01)
    assert figures_of([]).largest_distance_mm == 0
