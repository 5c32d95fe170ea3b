"""Stretches of lines: where they are kept, where they are laid, how smooth they are."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.marks.runs import along_lines, clear_runs, onto_edges, thinned
from flinz.core.marks.vectors import Strokes
from flinz.core.scale import whole_frame


def straight(points=101, step=0.1):
    x = (np.arange(points) * step).astype(np.float32)
    return Strokes(x, np.ones_like(x), np.ones_like(x), np.array([0, points]))


def ring(radius=2.0, points=200):
    turn = np.linspace(0, 2 * np.pi, points + 1)
    x, y = (np.float32(radius * side(turn) + 5) for side in (np.cos, np.sin))
    x[-1], y[-1] = x[0], y[0]
    return Strokes(x, y, np.ones_like(x), np.array([0, points + 1]))


def lengths(lines):
    return [
        float(np.hypot(np.diff(lines.x[a:b]), np.diff(lines.y[a:b])).sum())
        for a, b in zip(lines.first[:-1], lines.first[1:], strict=True)
    ]


def test_a_line_that_is_clear_all_along_stays_as_it_is():
    kept = clear_runs(straight(), np.ones(101, np.float32), 0.5, 0.0, 1.0, 1.0)

    assert np.array_equal(kept.x, straight().x)


@given(st.integers(10, 40), st.integers(3, 25))
def test_gaps_are_crossed_where_they_are_short(start, width):
    clear = np.ones(101, np.float32)
    clear[start : start + width] = 0

    kept = clear_runs(straight(), clear, 0.5, 1.05, 0.5, 1.0)

    # From the last clear point to the next are so many steps and one.
    assert len(kept) == (1 if width + 1 <= 10 else 2)


def test_a_line_goes_on_through_what_is_fainter_but_begins_nowhere_there():
    clear = np.full(101, 0.3, np.float32)
    assert len(clear_runs(straight(), clear, 0.5, 0.0, 1.0, 1.0)) == 0

    clear[20:80] = 1
    assert lengths(clear_runs(straight(), clear, 0.5, 0.0, 8.0, 1.0)) == pytest.approx([10.0])


@pytest.mark.parametrize("area, kept", [(12.0, 1), (13.0, 0)])
def test_a_ring_is_judged_by_what_it_encloses(area, kept):
    found = clear_runs(ring(), np.ones(201, np.float32), 0.5, 0.0, 99.0, area)

    assert len(found) == kept
    if kept:
        assert found.x[0] == found.x[-1] and found.y[0] == found.y[-1]


@given(st.integers(0, 199))
def test_a_ring_with_one_gap_is_one_open_line_wherever_that_lies(at):
    clear = np.ones(200, np.float32)
    clear[np.arange(at, at + 60) % 200] = 0

    kept = clear_runs(ring(), np.append(clear, clear[0]), 0.5, 0.5, 1.0, 0.0)

    assert lengths(kept) == pytest.approx([139 / 200 * 4 * np.pi], rel=0.01)


def test_smoothing_leaves_straight_lines_and_their_ends():
    line = straight()

    assert along_lines(line, line.x, 6.0) == pytest.approx(line.x, abs=1e-4)


def test_smoothing_goes_round_a_ring_and_takes_its_noise():
    line, noise = ring(), np.random.default_rng(1).normal(0, 0.1, 201).astype(np.float32)
    noise[-1] = noise[0]

    smooth = along_lines(line, noise, 5.0)

    assert smooth[0] == pytest.approx(smooth[-1], abs=1e-6)
    assert smooth.std() < 0.35 * noise.std()


def test_points_move_to_where_tone_is_steepest():
    # An edge of tone at x = 6 mm; the line was found at 5.
    grid = whole_frame(10.0, 200, 200)
    row = 1 / (1 + np.exp(-(np.arange(200) / 20 + 0.025 - 6) / 0.2))
    y = np.linspace(2, 8, 50).astype(np.float32)
    line = Strokes(np.full_like(y, 5), y, np.ones_like(y), np.array([0, 50]))

    moved, steep = onto_edges(line, np.tile(row.astype(np.float32), (200, 1)), grid, 2.0)

    assert moved.x == pytest.approx(6.0, abs=0.06)
    assert moved.y == pytest.approx(y, abs=1e-4)
    assert steep == pytest.approx(0.25 / 0.2, rel=0.05)


def test_a_thinned_line_keeps_its_ends():
    line = thinned(straight(102), 10)

    assert len(line.x) == 12
    assert (line.x[0], line.x[-1]) == pytest.approx((0.0, 10.1))
