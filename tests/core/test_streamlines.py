import math

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.marks.streamlines import (
    DRAFT_STEPS_PER_SPACING,
    NEAREST,
    SHORTEST,
    STEPS_PER_SPACING,
    UNEVEN,
    streamlines,
)
from flinz.core.planes.flow import Field
from flinz.core.scale import whole_frame
from flinz.errors import DocumentError


def field_of(direction, width_mm=50, height_mm=40):
    frame = whole_frame(width_mm, int(width_mm * 2.5), int(height_mm * 2.5))
    x, y = np.meshgrid(
        (np.arange(frame.width) + 0.5) / 2.5 - width_mm / 2,
        (np.arange(frame.height) + 0.5) / 2.5 - height_mm / 2,
    )
    dx, dy = direction(x, y)
    size = np.hypot(dx, dy) + 1e-9
    return Field(np.stack([dx / size, dy / size], -1).astype(np.float32), frame)


FORMS = {
    "level": field_of(lambda x, y: (np.ones_like(x), np.zeros_like(x))),
    "round": field_of(lambda x, y: (-y, x)),
    "wavy": field_of(lambda x, y: (np.ones_like(x), 0.6 * np.sin(x / 4))),
}


def lines_of(strokes):
    xy = np.stack([strokes.x, strokes.y], -1)
    return [xy[a:b] for a, b in zip(strokes.first[:-1], strokes.first[1:], strict=True)]


@pytest.mark.parametrize("form", FORMS)
def test_lines_keep_their_distance(form):
    lines = lines_of(streamlines(FORMS[form], 1.0, 12.0))

    for k, line in enumerate(lines):
        others = np.concatenate(lines[:k] + lines[k + 1 :])
        gap = np.linalg.norm(line[::4, None] - others[None], axis=-1).min()
        # A point may come as near as NEAREST to the points of another, not to its line.
        assert gap >= NEAREST - 0.01


@pytest.mark.parametrize("form", FORMS)
def test_no_place_is_far_from_a_line(form):
    strokes = streamlines(FORMS[form], 1.0, 12.0)
    map_ = np.ones((400, 500), np.uint8)
    map_[(strokes.y * 10).astype(int).clip(0, 399), (strokes.x * 10).astype(int).clip(0, 499)] = 0

    away = cv2.distanceTransform(map_, cv2.DIST_L2, 5) / 10
    assert np.percentile(away, 99) < 1.3


@pytest.mark.parametrize("form", FORMS)
def test_lines_follow_the_form(form):
    field = FORMS[form]
    for line in lines_of(streamlines(field, 1.0, 12.0)):
        way = np.diff(line, axis=0)
        middle = (line[:-1] + line[1:]) / 2
        at = (middle * 2.5).astype(int)
        direction = field.directions[at[:, 1].clip(0, 99), at[:, 0].clip(0, 124)]
        cosine = np.abs((way * direction).sum(-1)) / np.linalg.norm(way, axis=-1)
        # The round form has no direction in its middle.
        calm = np.hypot(*(middle - (25, 20)).T) > 3
        assert np.all(cosine[calm] > math.cos(math.radians(20)))


def test_lines_are_about_as_long_as_asked():
    lengths = [np.ptp(line[:, 0]) for line in lines_of(streamlines(FORMS["level"], 1.0, 8.0))]

    # A hand's lengths differ, and a line runs on where no other would fit before the next.
    assert max(lengths) <= 8 * (1 + UNEVEN) + 2 * (SHORTEST + 1)
    assert 4 < np.mean(lengths) < 9 and np.std(lengths) > 1


def test_ends_on_an_even_ground_stand_in_no_rows():
    way = math.radians(40)
    field = field_of(
        lambda x, y: (np.full_like(x, math.cos(way)), np.full_like(x, -math.sin(way))), 200, 200
    )

    strokes = streamlines(field, 0.75, 14.0, angle_deg=40)

    ends = np.concatenate([strokes.first[:-1], strokes.first[1:] - 1])
    x, y = strokes.x[ends], strokes.y[ends]
    inner = (np.minimum(x, y) > 8) & (np.maximum(x, y) < 192)
    counts, _, _ = np.histogram2d(y[inner], x[inner], bins=1024, range=[[8, 192], [8, 192]])
    power = np.abs(np.fft.fft2(counts - counts.mean())) ** 2 / inner.sum()
    waves = np.fft.fftfreq(1024) * 1024 / 184
    away = np.hypot(*np.meshgrid(waves, waves))
    # Of ends strewn at random the largest of so many powers would be about 12; on a net it is
    # thousands. That strokes lie a spacing apart is not asked here.
    assert power[(away > 0.08) & (away < 0.9 / 0.75)].max() < 40


def test_strokes_on_an_even_ground_lie_on_ruled_lines():
    strokes = streamlines(FORMS["level"], 1.0, 12.0)

    off = strokes.y - np.rint(strokes.y)
    assert np.percentile(np.abs(off), 95) < 0.02


def test_a_small_change_of_the_form_moves_lines_a_little():
    tilted = field_of(lambda x, y: (np.ones_like(x), 0.6 * np.sin(x / 4) + 0.004))
    before, after = streamlines(FORMS["wavy"], 1.0, 12.0), streamlines(tilted, 1.0, 12.0)

    xy = np.stack([after.x, after.y], -1)
    gaps = [
        np.linalg.norm(xy - point, axis=-1).min()
        for point in np.stack([before.x, before.y], -1)[::10]
    ]
    # Points stand 0.33 apart along a line: half of that is no move at all.
    assert np.median(gaps) < 0.2 and np.mean(np.array(gaps) > 0.4) < 0.1


def test_the_same_form_gives_the_same_lines():
    one, other = (streamlines(FORMS["wavy"], 0.8, 10.0) for _ in range(2))

    assert np.array_equal(one.x, other.x) and np.array_equal(one.first, other.first)


def test_too_many_lines_are_refused_with_a_way_on():
    huge = Field(FORMS["level"].directions, whole_frame(5000, 125, 100))

    with pytest.raises(DocumentError, match="wider spacing"):
        streamlines(huge, 0.2, 10.0)


@pytest.mark.parametrize("form", FORMS)
def test_a_drafts_longer_steps_leave_lines_apart_and_no_place_far(form):
    strokes = streamlines(FORMS[form], 1.0, 12.0, DRAFT_STEPS_PER_SPACING)
    finer = streamlines(FORMS[form], 1.0, 12.0)

    lines = lines_of(strokes)
    steps = [np.linalg.norm(np.diff(line, axis=0), axis=-1) for line in lines]
    assert np.allclose(np.concatenate(steps), 1 / DRAFT_STEPS_PER_SPACING, atol=0.01)
    # As many lines of about the same length, from fewer points.
    assert len(strokes.x) < 0.7 * len(finer.x)
    length, other = (sum(len(line) - 1 for line in lines), len(finer.x) - len(finer.first) + 1)
    assert length / DRAFT_STEPS_PER_SPACING == pytest.approx(other / STEPS_PER_SPACING, rel=0.08)


@given(st.floats(0, 180), st.floats(0.4, 2.0))
@settings(max_examples=15)
def test_straight_lines_lie_about_as_close_as_asked(angle, spacing):
    way = math.radians(angle)
    field = field_of(lambda x, y: (np.full_like(x, math.cos(way)), np.full_like(x, math.sin(way))))

    strokes = streamlines(field, spacing, 12.0)

    points = len(strokes.x) - (len(strokes.first) - 1)
    apart = 50 * 40 / (points * spacing / STEPS_PER_SPACING)
    # Guides lie on a net that need not fit the lines: some gaps are wider, none takes a second.
    assert spacing * 0.8 < apart < spacing * 2
