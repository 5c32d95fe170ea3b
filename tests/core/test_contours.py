"""Level lines: where they run, that they close, and that they miss nothing."""

from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from flinz.core.shapes.contours import level_lines

SMALL = arrays(
    np.float32, st.tuples(st.integers(2, 9), st.integers(2, 9)), elements=st.floats(0, 1, width=16)
)


# No small number of the charts lies on it: a line there may begin and end in one point.
LEVEL = 0.5001


def lines_of(plane, level=LEVEL):
    x, y, first = level_lines(plane, level)
    return [np.stack([x[a:b], y[a:b]], -1) for a, b in pairwise(first)]


@given(st.floats(4, 14), st.floats(18, 22), st.floats(18, 22))
def test_the_line_round_a_cone_is_a_circle(radius, middle_x, middle_y):
    y, x = np.mgrid[:40, :40] + 0.5
    away = np.hypot(x - middle_x, y - middle_y).astype(np.float32)

    (line,) = lines_of(away, radius)

    found = np.hypot(line[:, 0] - middle_x, line[:, 1] - middle_y)
    assert np.abs(found - radius).max() < 0.08
    assert np.array_equal(line[0], line[-1])


@given(SMALL)
def test_every_change_between_neighbours_is_crossed_once(plane):
    high = plane >= LEVEL
    changes = (high[:, 1:] != high[:, :-1]).sum() + (high[1:] != high[:-1]).sum()

    crossings = sum(len(line) - bool(np.array_equal(line[0], line[-1])) for line in lines_of(plane))

    assert crossings == changes


@given(SMALL)
def test_lines_close_or_end_at_the_rim(plane):
    height, width = plane.shape

    for line in lines_of(plane):
        if not np.array_equal(line[0], line[-1]):
            for x, y in (line[0], line[-1]):
                assert min(x, y, width - x, height - y) == pytest.approx(0.5)


def test_the_middle_of_a_cell_decides_how_it_is_parted():
    # Two corners are high: they hang together where the mean of all four is high too.
    bridged, parted = (np.float32([[high, 0.2], [0.2, high]]) for high in (0.9, 0.7))

    # A line round a low corner lies beside the diagonal from high to high, one round a high on it.
    beside = [
        [abs(float(np.diff(line.mean(0))[0])) for line in lines_of(plane)]
        for plane in (bridged, parted)
    ]

    assert beside[0] == pytest.approx([0.57, 0.57], abs=0.01)
    assert beside[1] == pytest.approx([0.0, 0.0], abs=0.01)


def test_an_even_plane_has_no_lines():
    assert lines_of(np.full((8, 8), 0.4, np.float32)) == []
    assert lines_of(np.zeros((1, 8), np.float32)) == []


def test_as_many_closed_lines_as_there_are_blobs():
    blobs = cv2.GaussianBlur(
        np.random.default_rng(3).random((90, 120)).astype(np.float32), (0, 0), 4
    )
    blobs = np.pad(blobs[8:-8, 8:-8], 1, constant_values=0)
    high = (blobs >= LEVEL).astype(np.uint8)
    parts = cv2.connectedComponents(high, connectivity=8)[0] - 1
    holes = cv2.connectedComponents(1 - high, connectivity=4)[0] - 2

    assert len(lines_of(blobs)) == parts + holes
