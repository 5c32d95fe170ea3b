"""Screens against slow twins and shares that are known."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.marks.screens import (
    ELLIPTICAL,
    dot_cover,
    line_cover,
    positions,
    spot_levels,
)
from flinz.core.planes.filters import blurred
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame, whole_frame
from tests.charts import grey_photo, sheet_of

KINDS = {"round": 0, "elliptical": 1, "diamond": 2}


def even(share, side=160, px_per_mm=8.0):
    return np.full((side, side), share, np.float32), whole_frame(side / px_per_mm, side, side)


def height(u, v, kind):
    if kind == 2:
        return 1 - abs(u % 1 - 0.5) * 2 - abs(v % 1 - 0.5) * 2
    flat = ELLIPTICAL if kind == 1 else 1.0
    return -(math.cos(2 * math.pi * u) * flat + math.cos(2 * math.pi * v)) / (1 + flat)


def slow_dots(cover, frame, angle, per_mm, kind, levels):
    """dot_cover(), sample by sample, where dots are wider than three pixels."""
    cosine, sine = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    out = np.empty_like(cover)
    for row in range(frame.height):
        for column in range(frame.width):
            level = np.interp(cover[row, column], np.linspace(0, 1, len(levels)), levels)
            inked = 0
            for i, j in itertools.product(range(4), range(4)):
                # Sixteen columns and sixteen rows within a pixel have a sample each.
                x = (frame.left + column + i / 4 + j / 16 + 1 / 32) / frame.px_per_mm * per_mm
                y = (frame.top + row + j / 4 + i / 16 + 1 / 32) / frame.px_per_mm * per_mm
                u, v = x * cosine - y * sine, x * sine + y * cosine
                inked += height(u, v, kind) > level
            out[row, column] = inked / 16
    return out


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_dots_are_those_of_their_slow_twin(kind):
    frame = region_frame(whole_frame(20, 200, 200), (0.3, 0.1, 0.5, 0.25))
    rng = np.random.default_rng(kind)
    cover = rng.random((frame.height, frame.width)).astype(np.float32)
    levels = spot_levels(kind)

    fast = dot_cover(cover, frame, 33.0, 1.1, kind, levels)

    slow = slow_dots(cover, frame, 33.0, 1.1, kind, levels)
    # A sample on the very edge of a dot may fall to either side.
    assert np.abs(fast - slow).max() <= 1 / 16 + 1e-6 and np.mean(fast != slow) < 0.02


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
@given(st.floats(0, 1), st.floats(-180, 180))
def test_an_even_tone_keeps_its_ink(kind, share, angle):
    cover, frame = even(share)

    drawn = dot_cover(cover, frame, angle, 1.0, kind, spot_levels(kind))

    # The edge of an upright diamond runs along the samples, of which a dot has 32 here: at half
    # tone it gains a whole row of them at once.
    assert abs(drawn.mean() - share) <= 1 / 32 + 1e-6


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_more_tone_never_takes_ink_away(kind):
    frame = even(0)[1]
    levels = spot_levels(kind)
    drawn = [
        dot_cover(even(share)[0], frame, 30, 1.0, kind, levels) for share in (0.1, 0.3, 0.6, 0.9)
    ]

    assert all(np.all(b >= a) for a, b in itertools.pairwise(drawn))


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_levels_fall_as_tone_grows(kind):
    levels = spot_levels(kind)

    assert np.all(np.diff(levels) <= 0) and levels[0] == pytest.approx(1, abs=0.03)


def test_dots_too_small_to_see_are_a_tone():
    cover, frame = even(0.37, px_per_mm=2.0)

    assert np.allclose(dot_cover(cover, frame, 45, 2.0, 0, spot_levels(0)), 0.37)


def exact_lines(pitch_px, angle, share, side=24, parts=40):
    """Lines drawn large and averaged down."""
    places = (np.arange(side * parts) + 0.5) / parts
    across = places[None] * math.sin(math.radians(angle)) + places[:, None] * math.cos(
        math.radians(angle)
    )
    phase = across / pitch_px
    inked = np.abs(phase - np.rint(phase)) < share / 2
    return inked.reshape(side, parts, side, parts).mean((1, 3))


@given(st.floats(2.2, 9), st.floats(0, 180), st.floats(0.05, 0.95))
def test_a_line_screen_is_the_mean_of_its_lines_over_each_pixel(pitch_px, angle, share):
    frame = whole_frame(24.0, 24, 24)
    _, across = positions(frame, angle)

    drawn = line_cover(np.full(across.shape, share, np.float32), across / np.float32(pitch_px))

    inner = np.s_[1:-1, 1:-1]
    # The means of the large drawing are exact to a fortieth.
    assert np.abs(drawn - exact_lines(pitch_px, angle, share))[inner].max() < 0.03


@pytest.mark.parametrize("look", ["line-screen", "dot-screen"])
@given(st.floats(4, 60), st.sampled_from([300, 440, 700, 1000]))
def test_an_even_ground_does_not_beat_at_any_size(look, ruling, edge):
    photo = grey_photo(np.full((60, 80), 128))
    sheet = sheet_of(look, ruling=ruling)
    frame = whole(sheet, photo, edge)

    drawn = Press(0).proof(photo, sheet, region_frame(frame, (0.2, 0.2, 0.6, 0.6)))

    sigma = max(3.0, frame.px(15 / ruling))
    rim = math.ceil(2.5 * sigma)
    inner = blurred(drawn, sigma)[rim:-rim, rim:-rim]
    assert np.abs(inner - 128 / 255).max() < 0.012


@given(st.floats(-180, 180))
def test_places_along_and_across_turn_with_the_angle(angle):
    frame = region_frame(whole_frame(50, 100, 80), (0.2, 0.3, 0.7, 0.9))

    along, across = positions(frame, angle)

    x, y = (frame.left + 3.5) / frame.px_per_mm, (frame.top + 5.5) / frame.px_per_mm
    assert along[5, 3] ** 2 + across[5, 3] ** 2 == pytest.approx(x * x + y * y, rel=1e-4)
    step = along[0, 1] - along[0, 0]
    assert step * frame.px_per_mm == pytest.approx(math.cos(math.radians(angle)), abs=1e-3)


@given(st.floats(0.05, 0.95), st.floats(0, 180), st.floats(0.4, 3))
def test_lines_keep_their_ink_at_any_angle_and_pitch(share, angle, pitch):
    cover, frame = even(share, 200)
    _, across = positions(frame, angle)

    drawn = line_cover(cover, across / np.float32(pitch))

    # The sheet holds no whole number of lines: half a line may be over.
    assert abs(drawn.mean() - share) < 0.5 * pitch / 25 + 0.01


@pytest.mark.parametrize("share", [0.0, 1.0])
def test_no_ink_and_full_ink_are_just_that(share):
    cover, frame = even(share)
    _, across = positions(frame, 20)

    assert np.allclose(line_cover(cover, across), share, atol=1e-5)
    for kind in KINDS.values():
        drawn = dot_cover(cover, frame, 20, 1.0, kind, spot_levels(kind))
        assert np.allclose(drawn, share, atol=0.001)
