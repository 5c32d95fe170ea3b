"""How few curves an outline takes, and how near they lie, where the least is known."""

import math

import numpy as np
import pytest

from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.trace.fitting import fitted
from flinz.core.trace.settling import curve_of, off, settled
from flinz.core.trace.tracing import TraceWish, flattened, points_of, traced

PX_PER_MM, CLOSENESS_MM = 24, 0.04
# Two smooth curves, one after the other: x, y, direction and handles of their three joints.
TWO = np.array(
    [
        [10.0, 40.0, -0.9, 0.0, 30.0],
        [80.0, 30.0, 0.7, 25.0, 35.0],
        [150.0, 60.0, -0.2, 30.0, 0.0],
    ]
)


def outline_of(known, pieces):
    curves = np.empty((len(known) - 1, 8))
    for k in range(len(curves)):
        curve_of(known, k, curves[k])
    points = points_of(curves, pieces)
    x, y = np.concatenate([points[0, :-1], points[1]]).T
    return np.stack([x, y, np.ones_like(x)])


def farthest(around, joints, known):
    curve, found = np.empty(8), []
    for k in range(len(joints) - 1):
        curve_of(known, k, curve)
        found.append(off(around, joints[k], joints[k + 1], curve)[1])
    return max(found)


def test_curves_settle_on_the_outline_that_they_could_be():
    around, some = outline_of(TWO, 60), np.random.default_rng(0)
    before, after = [], []
    for _ in range(200):
        joints, known = np.array([0, 60, 120]), TWO.copy()
        known[1, :2] += some.uniform(-3, 3, 2)
        known[:, 2] += some.uniform(-0.3, 0.3, 3)
        known[:, 3:] *= some.uniform(0.7, 1.4, (3, 2))
        before.append(farthest(around, joints, known))
        settled(around, joints, known, False, False, 60)
        after.append(farthest(around, joints, known))
        # What lies outside stays, to the last bit.
        assert np.array_equal(known[[0, 2], :2], TWO[[0, 2], :2])

    assert np.median(before) > 4
    assert np.median(after) < 0.15
    assert max(after) < 1


def test_held_ends_keep_their_directions():
    around, joints = outline_of(TWO, 60), np.array([0, 50, 120])
    known = TWO.copy()
    known[:, 2] += (0.2, 0.1, -0.2)
    before = known[[0, 2], 2]

    settled(around, joints, known, True, True, 20)

    assert np.array_equal(known[[0, 2], 2], before)
    assert known[1, 2] != TWO[1, 2] + 0.1


@pytest.mark.parametrize("tangents", [(0, 0, 0, 0), (0, 1, 0, 0), (0, 0, 1, 0), (1, 0, 0, 1)])
@pytest.mark.parametrize("middle", [0.0, 3.0])
def test_a_point_twice_makes_no_curve_of_nothing(tangents, middle):
    # Outlines pass the corners of pixels twice.
    x, y, curve = np.array([0.0, middle, 3.0]), np.array([0.0, middle, 3.0]), np.empty(8)

    squared = fitted(x, y, 0, 2, np.array(tangents, float), 1.0, curve)

    assert np.isfinite(curve).all()
    assert squared < 1


def wavy(radius, waves, deep, many=4000):
    angles = np.arange(many) * 2 * math.pi / many
    radii = radius + deep * np.cos(waves * angles)
    return np.column_stack([np.cos(angles), np.sin(angles)]) * radii[:, None] + 15.1


def traced_alone(rings, side_mm=30):
    side = side_mm * PX_PER_MM
    frame = whole_frame(side_mm, side, side)
    cover = filled(rings, frame)
    return traced(cover, frame, TraceWish(closeness=CLOSENESS_MM)), cover, frame


@pytest.mark.parametrize(("waves", "most"), [(6, 12), (10, 24)])
def test_a_wavy_ring_takes_hardly_more_than_a_curve_from_crest_to_trough(waves, most):
    tracing, cover, frame = traced_alone([wavy(9.0, waves, 1.5)])

    assert len(tracing.curves) <= most
    assert tracing.largest_distance_mm <= 1.2 * CLOSENESS_MM
    again = filled(flattened(tracing, 16), frame)
    assert np.abs(again - cover).sum() <= 0.006 * cover.sum()


def test_corners_that_nearly_meet_cost_no_curve_a_point():
    # Drawn out, many tips would lie in their neighbours.
    some = np.random.default_rng(1)
    thorns = []
    for _ in range(60):
        long, half, turn = some.uniform(2, 6), some.uniform(0.3, 1.0), some.uniform(0, 2 * math.pi)
        thorn = np.array([[long, 0], [-long / 2, half], [-long / 2, -half]])
        cosine, sine = math.cos(turn), math.sin(turn)
        thorns.append(thorn @ [[cosine, sine], [-sine, cosine]] + some.uniform(2, 28, 2))

    tracing, _, _ = traced_alone(thorns)

    lengths = np.hypot(*np.diff(points_of(tracing.curves, 6), axis=1).transpose(2, 0, 1)).sum(1)
    assert np.count_nonzero(lengths < 1.7 / PX_PER_MM) <= 20
    assert len(tracing.curves) <= 450
