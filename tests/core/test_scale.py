"""Frames: millimetres and pixels, parts and wholes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.planes.lattice import coarser, lattice_frame, resampled
from flinz.core.scale import Lay, dpi_of, px_for_dpi, region_frame, whole_frame
from tests.charts import blobs

sides = st.integers(1, 900)
shares = st.floats(0, 1)
lengths = st.floats(10, 500)
regions = st.tuples(shares, shares, shares, shares)


def ordered(region):
    left, right = sorted((region[0], region[2]))
    top, bottom = sorted((region[1], region[3]))
    return left, top, right, bottom


@given(sides, sides, regions)
def test_a_region_lies_on_the_sheet_and_has_at_least_a_pixel(width, height, region):
    frame = region_frame(whole_frame(100, width, height), ordered(region))

    assert 0 <= frame.left < frame.right <= width
    assert 0 <= frame.top < frame.bottom <= height


@given(sides, sides, regions)
def test_a_region_takes_in_all_that_was_asked_for(width, height, region):
    left, top, right, bottom = ordered(region)
    frame = region_frame(whole_frame(100, width, height), (left, top, right, bottom))

    assert frame.left <= left * width + 1e-6 and frame.right >= right * width - 1e-6
    assert frame.top <= top * height + 1e-6 and frame.bottom >= bottom * height - 1e-6


@given(sides, sides, regions, st.integers(0, 2000))
def test_a_widened_frame_holds_the_frame_and_stays_on_the_sheet(width, height, region, margin):
    inner = region_frame(whole_frame(100, width, height), ordered(region))

    outer = inner.widened(margin)

    assert 0 <= outer.left <= inner.left and inner.right <= outer.right <= width
    rows, columns = inner.slices_in(outer)
    assert (rows.stop - rows.start, columns.stop - columns.start) == (inner.height, inner.width)
    assert outer.left == max(0, inner.left - margin)


@given(sides, sides, regions, st.integers(1, 700))
def test_blocks_hold_the_frame_and_are_those_of_any_frame_within_them(width, height, region, side):
    frame = region_frame(whole_frame(100, width, height), ordered(region))
    blocks = frame.in_blocks(side)

    assert 0 <= blocks.left <= frame.left and frame.right <= blocks.right <= width
    assert 0 <= blocks.top <= frame.top and frame.bottom <= blocks.bottom <= height
    assert blocks.left % side == blocks.top % side == 0
    assert blocks.in_blocks(side) == blocks


@given(sides, sides, regions, st.integers(1, 5), lengths)
def test_a_magnified_frame_shows_the_same_part_of_the_paper(
    width, height, region, times, height_mm
):
    whole = whole_frame(100, width, height, height_mm=height_mm)
    frame = region_frame(whole, ordered(region))

    large = frame.magnified(times)

    assert corners(large) == pytest.approx(corners(frame))
    assert large.sheet_mm == pytest.approx((100, height_mm))


def corners(frame):
    """Left, top, right and bottom of a frame, mm."""
    across, down = frame.per_mm
    return frame.left / across, frame.top / down, frame.right / across, frame.bottom / down


@given(sides, sides, regions, lengths, lengths)
def test_all_of_a_sheet_fills_a_whole_number_of_rows(width, height, region, width_mm, height_mm):
    whole = whole_frame(width_mm, width, height, height_mm=height_mm)
    frame = region_frame(whole, ordered(region))

    columns, rows = whole.pixels_of(*np.array([[0, width_mm], [0, height_mm]], np.float32))
    x, y = frame.middles
    at = frame.pixels_of(x.astype(np.float32), y.astype(np.float32))

    assert columns == pytest.approx([0, width]) and rows == pytest.approx([0, height])
    assert at[0] == pytest.approx(np.arange(frame.width) + 0.5, abs=1e-3)
    assert at[1] == pytest.approx(np.arange(frame.height) + 0.5, abs=1e-3)


def test_a_box_lies_where_it_lies_on_paper_of_any_rows():
    lay = Lay(80, 60, 70, 50, scale=1.2, turn=25, mirrored=True)
    frame = whole_frame(140, 700, 499, height_mm=100.3).part(40, 30, 600, 400)

    there = lay.box_mm(frame) @ (120.5, 77.5, 1)

    back = lay.to_paper @ (*there, 1)
    assert back == pytest.approx(np.array([160.5, 107.5]) / frame.per_mm)


@given(st.floats(20, 2000), st.floats(30, 1200))
def test_pixels_for_a_resolution_give_that_resolution_back(length_mm, dpi):
    pixels = px_for_dpi(length_mm, dpi)

    assert dpi_of(pixels / length_mm) == pytest.approx(dpi, abs=0.5 * 25.4 / length_mm + 1e-6)


@given(st.floats(0.1, 50), st.floats(0.01, 300))
def test_lengths_and_areas_go_by_the_scale(px_per_mm, length):
    frame = whole_frame(100 / px_per_mm, 100, 80)

    assert frame.px(length) == pytest.approx(length * px_per_mm)
    assert frame.area_px(length) == pytest.approx(length * px_per_mm**2)


@given(st.integers(40, 900), st.integers(40, 900), regions, st.floats(0.2, 6))
def test_the_lattice_of_a_part_is_part_of_the_lattice_of_the_whole(width, height, region, density):
    whole = whole_frame(100, width, height)
    part = region_frame(whole, ordered(region))

    full, grid = lattice_frame(whole, density), lattice_frame(part, density)

    assert (grid.full_width, grid.full_height) == (full.full_width, full.full_height)
    # It holds the part with a rim, as far as the sheet goes.
    step = grid.px_per_mm / part.px_per_mm
    assert grid.left <= max(0, part.left * step - 1)
    assert grid.right >= min(full.full_width, part.right * step + 1) - 1


def test_the_grid_does_not_depend_on_the_size_of_the_proof():
    small, large = (lattice_frame(whole_frame(200, e, e * 3 // 4), 2.5) for e in (1000, 4000))

    assert small.pixels == large.pixels


def test_a_plane_seen_in_its_own_frame_is_itself():
    plane, frame = blobs(40, 50), whole_frame(10, 50, 40)

    assert resampled(plane, frame, frame) is plane
    assert coarser(plane, frame, 100.0)[0] is plane


def test_going_to_a_coarser_grid_and_back_keeps_what_is_broad():
    plane, frame = blobs(300, 400, scale=20), whole_frame(40, 400, 300)

    small, grid = coarser(plane, frame, 2.5)

    assert small.shape == (75, 100)
    assert abs(small.mean() - plane.mean()) < 0.005
    assert np.abs(resampled(small, grid, frame) - plane).max() < 0.03


@given(regions)
def test_a_part_of_a_coarser_plane_is_what_the_part_alone_gives(region):
    plane, whole = blobs(300, 400, scale=12), whole_frame(40, 400, 300)
    part = region_frame(whole, ordered(region)).widened(30)
    cut = np.ascontiguousarray(plane[part.slices_in(whole)])

    full, _ = coarser(plane, whole, 2.5)
    alone, grid = coarser(cut, part, 2.5)

    inner = full[grid.top : grid.bottom, grid.left : grid.right]
    # The outermost pixels see the cut's own edge.
    assert inner.shape == alone.shape
    if min(alone.shape) > 8:
        assert np.abs(inner - alone)[4:-4, 4:-4].max() < 0.02
