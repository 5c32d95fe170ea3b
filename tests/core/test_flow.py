"""Sums along the form, against a slow twin and on forms whose curves are known."""

import math

import numpy as np
import pytest

from flinz.core.planes.curved import curves, traced
from flinz.core.planes.flow import Field, along_form, directed, direction_field, form_tensor
from flinz.core.scale import whole_frame
from tests.charts import blobs

SIDE_MM, PX = 40.0, 5.0


def field_of(direction):
    """A field at 2.5 px/mm from a function of x, y in mm from the middle."""
    frame = whole_frame(SIDE_MM, 100, 100)
    at = (np.arange(100) + 0.5) / 2.5 - SIDE_MM / 2
    x, y = np.meshgrid(at, at)
    dx, dy = direction(x, y)
    size = np.hypot(dx, dy) + 1e-9
    return Field(np.stack([dx / size, dy / size], -1).astype(np.float32), frame)


ROUND = field_of(lambda x, y: (-y, x))
LEVEL = field_of(lambda x, y: (np.ones_like(x), np.zeros_like(x)))


def picture_frame():
    return whole_frame(SIDE_MM, int(SIDE_MM * PX), int(SIDE_MM * PX))


def test_curves_of_a_round_form_stay_on_their_circles():
    along = curves(ROUND, 3.0, 0.5)

    at = (np.arange(100) + 0.5) / 2.5 - SIDE_MM / 2
    for radius in (4.0, 8.0, 15.0):
        row, column = 50, int((radius + SIDE_MM / 2) * 2.5)
        n = along.steps.shape[2] // 2
        ends = along.ends[row, column]
        assert tuple(ends) == (n, n)
        x = at[column] + along.steps[row, column, :, 0] / 1000
        y = at[row] + along.steps[row, column, :, 1] / 1000
        start = math.hypot(at[column], at[row])
        assert np.abs(np.hypot(x, y) - start).max() < 0.3


def test_curves_run_as_far_as_they_should():
    along = curves(LEVEL, 2.0, 0.5)

    far = np.abs(along.steps[50, 50, :, 0]).max() / 1000
    assert far == pytest.approx(4.0, abs=0.1)
    assert np.abs(along.steps[50, 50, :, 1]).max() == 0


def test_a_curve_ends_where_the_form_turns_sharply():
    corner = field_of(lambda x, y: (np.where(x < 0, 1.0, 0.0), np.where(x < 0, 0.0, 1.0)))

    along = curves(corner, 4.0, 0.5)

    # Five cells left of the corner: the way there is two millimetres long.
    ahead = along.ends[50, 45, 0]
    assert 3 <= ahead <= 5
    assert along.ends[50, 45, 1] == along.steps.shape[2] // 2


def slow_twin(plane, frame, along):
    """traced(), place by place in NumPy."""
    grid = along.field.frame
    out = np.empty_like(plane)
    n = len(along.weights) - 1
    for row in range(plane.shape[0]):
        for column in range(plane.shape[1]):
            cy = min(int((row + 0.5) / frame.px_per_mm * grid.px_per_mm), grid.height - 1)
            cx = min(int((column + 0.5) / frame.px_per_mm * grid.px_per_mm), grid.width - 1)
            total, weight = along.weights[0] * plane[row, column], float(along.weights[0])
            for side in range(2):
                for k in range(along.ends[cy, cx, side]):
                    x, y = along.steps[cy, cx, side * n + k] / 1000 * frame.px_per_mm
                    total += along.weights[k + 1] * linear(plane, row + y, column + x)
                    weight += float(along.weights[k + 1])
            out[row, column] = total / weight
    return out


def linear(plane, y, x):
    y0, x0 = math.floor(y), math.floor(x)
    v, u = y - y0, x - x0

    def at(row, column):
        return plane[min(max(row, 0), plane.shape[0] - 1), min(max(column, 0), plane.shape[1] - 1)]

    top = at(y0, x0) * (1 - u) + at(y0, x0 + 1) * u
    return top * (1 - v) + (at(y0 + 1, x0) * (1 - u) + at(y0 + 1, x0 + 1) * u) * v


@pytest.mark.parametrize("px_per_cell", [0.6, 1.0, 2.0, 2.8, 4.5, 10])
def test_the_traced_sum_is_that_of_its_slow_twin(px_per_cell):
    side = round(100 * px_per_cell)
    frame = whole_frame(SIDE_MM, side, side).part(0, 0, 60, 60)
    plane = blobs(60, 60, scale=2)
    along = curves(ROUND, 2.0, 0.7)

    assert np.allclose(traced(plane, frame, along), slow_twin(plane, frame, along), atol=2e-3)


def test_on_a_straight_form_tracing_is_a_straight_sum():
    frame, plane = picture_frame(), blobs(200, 200, scale=3)

    bent = traced(plane, frame, curves(LEVEL, 1.0, 0.2))
    straight = along_form(plane, frame, LEVEL, frame.px(1.0), step_px=1.0)

    assert np.abs(bent - straight)[:, 30:-30].mean() < 0.01


def test_tracing_a_ring_along_itself_leaves_it():
    frame = picture_frame()
    at = (np.arange(200) + 0.5) / PX - SIDE_MM / 2
    away = np.hypot(*np.meshgrid(at, at))
    ring = np.exp(-(((away - 10) / 1.0) ** 2)).astype(np.float32)

    out = traced(ring, frame, curves(ROUND, 2.0, 0.4))

    assert np.abs(out - ring).max() < 0.12


def test_nothing_is_worked_out_elsewhere():
    frame, plane = picture_frame(), np.ones((200, 200), np.float32)
    there = np.zeros((200, 200), np.bool_)
    there[100, 100] = True

    out = traced(plane, frame, curves(ROUND, 1.0, 0.4), there)

    # The cell of a wanted pixel is worked out whole.
    assert out[100, 100] == pytest.approx(1) and out.sum() < 10


@pytest.mark.parametrize("angle", [0, 30, 75, 120, 160])
def test_stripes_have_the_direction_they_run_in(angle):
    at = (np.arange(200) + 0.5) / PX
    x, y = np.meshgrid(at, at)
    across = x * math.sin(math.radians(angle)) + y * math.cos(math.radians(angle))
    stripes = (0.5 + 0.4 * np.sin(across * 2)).astype(np.float32)

    field = direction_field(stripes, picture_frame(), 2.0)

    dx, dy = field.directions[50, 50]
    found = math.degrees(math.atan2(-dy, dx)) % 180
    assert min(abs(found - angle), 180 - abs(found - angle)) < 3


def test_a_flat_picture_has_the_direction_of_rest():
    field = directed(form_tensor(np.full((200, 200), 0.4, np.float32), picture_frame(), 1.0), 35.0)

    dx, dy = field.directions[50, 50]
    assert math.degrees(math.atan2(-dy, dx)) % 180 == pytest.approx(35, abs=0.5)


def test_a_turned_field_is_turned_counter_clockwise():
    dx, dy = LEVEL.turned(30).directions[10, 10]

    assert math.degrees(math.atan2(-dy, dx)) == pytest.approx(30, abs=0.01)
