"""Lines of a pen and what is strewn along them: spacing, places, and marks that are brought."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.ground.lines import Along, Lines, figure_of, of_hand
from flinz.core.ground.pens import Mark, Nib
from flinz.core.ground.strewing import apart, course_of, stations
from flinz.core.ground.wear import Wear
from flinz.core.ground.wear import figure_of as worn
from flinz.core.scale import whole_frame

WAVE = np.column_stack(
    [np.linspace(10, 110, 90), 20 + 8 * np.sin(np.linspace(0, 9, 90)), np.ones(90)]
)
PAPER = (120.0, 40.0)


def marks_of(figure, rings_a_mark=1):
    rings = [ring for piece in figure.pieces for ring in piece.rings]
    return np.array([ring.mean(0) for ring in rings[::rings_a_mark]])


def strewn(*by_hand, **dials):
    given = {"nib": "marks", "mark": "dot", "smooth": 0} | dials
    return figure_of(Lines(**given), PAPER, by_hand)


@given(st.floats(0.8, 15))
@settings(max_examples=25, deadline=None)
def test_marks_stand_as_far_apart_along_an_open_line_as_asked(spacing):
    course = course_of(WAVE, 0.0, False)

    at = stations(course, spacing, 10_000)

    assert np.allclose(np.diff(at), spacing, rtol=0.02)
    assert at[0] >= 0 and at[-1] <= course.length + 1e-9
    assert course.length - (at[-1] - at[0]) < spacing


@given(st.floats(0.8, 8), st.floats(-1, 1), st.floats(0, 1), st.floats(0, 1))
@settings(max_examples=50, deadline=None)
def test_marks_stand_farther_apart_or_closer_where_a_line_is_pressed_less(
    spacing, by_pressure, begins, ends
):
    line = np.array([[10, 10, begins], [110, 10, ends]], float)
    course = course_of(line, 0.0, False)

    at = stations(course, spacing, 10_000, by_pressure)

    assert ((at >= 0) & (at <= course.length + 1e-9)).all()
    between = (at[1:] + at[:-1]) / 2
    pressure = begins + (ends - begins) * between / 100
    assert np.allclose(np.diff(at), spacing * 4 ** (by_pressure * (1 - pressure)), rtol=0.06)


@given(st.floats(1, 20), st.floats(10, 100), st.floats(10, 100))
@settings(max_examples=25, deadline=None)
def test_marks_on_a_closed_line_are_even_and_close(spacing, wide, high):
    lines = Lines(nib="marks", mark="dot", along=Along.RECTANGLE, wide=wide, high=high)
    marks = marks_of(figure_of(lines.model_copy(update={"spacing": spacing}), PAPER, []))

    length = 2 * (wide + high)
    assert len(marks) == max(1, round(length / spacing))


def test_a_line_is_followed_by_its_length_wherever_its_points_lie():
    even = course_of(WAVE, 0.0, False)
    crowded = course_of(np.concatenate([WAVE[:30:1], WAVE[30::4], WAVE[-1:]]), 0.0, False)

    assert crowded.length == pytest.approx(even.length, rel=0.01)
    one, two = (course.at(np.array([0.0, 30.0, 60.0]))[0] for course in (even, crowded))
    assert np.abs(one - two).max() < 0.5


def test_smoothing_takes_the_tremble_out_and_leaves_the_ends():
    rng = np.random.default_rng(4)
    trembling = WAVE + np.column_stack([rng.normal(0, 0.3, (90, 2)), np.zeros(90)])

    smooth = course_of(trembling, 2.0, False)

    assert np.abs(smooth.points[[0, -1], :2] - trembling[[0, -1], :2]).max() < 0.3
    way = np.diff(smooth.points[:, :2], axis=0)
    turns = np.abs(np.diff(np.unwrap(np.arctan2(way[:, 1], way[:, 0]))))
    assert turns.max() < 0.1


def test_marks_turn_with_the_line_or_do_not():
    upright = np.array([[20, 5, 1.0], [20, 35, 1.0]])

    def tall(figure):
        ring = figure.pieces[0].rings[0]
        return np.ptp(ring[:, 1]) > np.ptp(ring[:, 0])

    assert tall(strewn(upright, mark="dash")) and not tall(
        strewn(upright, mark="dash", turns=False)
    )


def test_pressure_decides_the_size_of_marks_as_far_as_asked():
    rising = np.array([[10, 20, 0.0], [110, 20, 1.0]])

    def sizes(pressure):
        return [np.ptp(ring[:, 0]) for ring in strewn(rising, pressure=pressure).pieces[0].rings]

    assert np.ptp(sizes(0)) < 1e-9
    found = sizes(1)
    assert found[0] < 0.2 * found[-1] and np.all(np.diff(found) > 0)


def test_marks_kept_apart_do_not_touch():
    dense = {"spacing": 1.5, "size": 4, "off": 5, "vary_size": 0.5}
    crowded, kept = strewn(WAVE, **dense), strewn(WAVE, kept_apart=True, **dense)

    rings = kept.pieces[0].rings
    middles = np.array([ring.mean(0) for ring in rings])
    radii = np.array([np.ptp(ring[:, 0]) / 2 for ring in rings])
    assert 3 < len(rings) < len(crowded.pieces[0].rings)
    away = np.hypot(*(middles[:, None] - middles[None]).T) + np.eye(len(rings)) * 1e3
    assert np.all(away >= (radii[:, None] + radii[None]) * 0.98)


def test_of_two_marks_that_touch_the_earlier_stays():
    places = np.array([[0, 0], [1, 0], [2, 0], [9, 0.0]])

    assert apart(places, np.full(4, 0.8)).tolist() == [True, False, True, True]


def test_another_seed_throws_again_and_the_same_seed_throws_the_same():
    dials = {"off": 4, "vary_turn": 1}
    first, again, other = (strewn(WAVE, seed=seed, **dials) for seed in (1, 1, 2))

    assert np.array_equal(marks_of(first), marks_of(again))
    assert not np.array_equal(marks_of(first), marks_of(other))


@pytest.mark.parametrize("nib", [nib for nib in Nib if nib != Nib.MARKS])
def test_every_pen_leaves_ink_about_its_line_and_nowhere_else(nib):
    figure = figure_of(Lines(nib=nib, width=3, pressure=0, smooth=0), PAPER, [WAVE])
    frame = whole_frame(120, 960, 320)

    share = figure.share(frame)

    rows, columns = np.nonzero(share > 0.05)
    places = (np.column_stack([columns, rows]) + 0.5) / 8
    course = course_of(WAVE, 0.0, False).points[:, :2]
    away = np.array([np.hypot(*(course - place).T).min() for place in places[::7]])
    assert away.max() < 2.4
    inked = share.sum() / 64 / (course_of(WAVE, 0.0, False).length * 3)
    assert 0.3 < inked < 1.05


def test_a_round_nib_is_as_wide_as_it_says():
    flat = np.array([[10, 20, 1.0], [110, 20, 1.0]])
    figure = figure_of(Lines(width=2.5), PAPER, [flat])

    assert figure.share(whole_frame(120, 1200, 400))[:, 600].sum() / 10 == pytest.approx(
        2.5, abs=0.05
    )


def test_a_flat_nib_is_thin_along_its_edge():
    across = np.array([[10, 20, 1.0], [110, 20, 1.0]])
    held = [Lines(nib="flat", width=4, nib_angle=angle) for angle in (0, 90)]
    thin, broad = (
        figure_of(each, PAPER, [across]).share(whole_frame(120, 1200, 400))[:, 600].sum() / 10
        for each in held
    )

    assert thin < 0.6 and broad == pytest.approx(4.2, abs=0.3)


def test_what_is_rubbed_is_gone_and_the_rest_stays():
    line = np.array([[0, 10, 1.0], [100, 10, 1.0]])
    rub = np.array([[50, 0, 1.0], [50, 20, 1.0]])

    later = np.array([[0, 15, 1.0], [100, 15, 1.0]])
    left = of_hand([("draw", line, 1), ("rub", rub, 10), ("draw", later, 1)])

    assert len(left) == 3
    assert left[0][:, 0].max() == pytest.approx(45, abs=0.5)
    assert left[1][:, 0].min() == pytest.approx(55, abs=0.5)
    assert len(left[2]) == 2


@given(
    st.lists(
        st.lists(
            st.tuples(st.floats(-50, 200), st.floats(-50, 200), st.floats(0, 1)),
            min_size=1,
            max_size=9,
        ),
        max_size=3,
    ),
    st.sampled_from(list(Nib)),
    st.booleans(),
    st.floats(0, 20),
)
@settings(max_examples=40, deadline=None)
def test_any_lines_can_be_drawn(given_lines, nib, closes, smooth):
    lines = Lines(nib=nib, closes=closes, solid=True, smooth=smooth)

    figure = figure_of(lines, PAPER, [np.array(each) for each in given_lines])

    share = figure.share(whole_frame(120, 120, 40))
    assert np.isfinite(share).all() and share.min() >= 0 and share.max() <= 1


def test_five_thousand_marks_are_true_outlines():
    lines = Lines(nib="marks", mark="leaf", along="wave", wide=3000, spacing=0.6, size=0.5, high=8)
    figure = figure_of(lines, PAPER, [])

    assert len(figure.pieces[0].rings) >= 5000


@pytest.mark.parametrize("mark", [mark for mark in Mark if mark != Mark.OWN])
def test_every_mark_is_as_large_as_asked(mark):
    one = np.array([[50, 20, 1.0], [51, 20, 1.0]])
    figure = strewn(one, mark=mark, size=10, pressure=0, spacing=100)

    corners = np.concatenate(figure.pieces[0].rings)
    assert np.ptp(corners, axis=0).max() == pytest.approx(10, rel=0.12)


def area(figure):
    frame = whole_frame(figure.width, 800, round(800 * figure.height / figure.width))
    return float(figure.share(frame).mean())


@pytest.mark.parametrize("dial", ["missed", "streaks", "dust", "corners", "edges"])
def test_more_wear_takes_more(dial):
    none = {"missed": 0, "streaks": 0, "dust": 0, "corners": 0, "edges": 0}
    some, more = (
        area(worn(Wear(**none | {dial: value}), (200, 150)))
        for value in ((3, 20) if dial in ("missed", "corners", "edges") else (0.3, 1))
    )

    assert area(worn(Wear(**none), (200, 150))) == 0
    assert 0 < some < more


def test_a_missed_line_that_was_there_stays_where_more_are_missed():
    few, many = (worn(Wear(missed=n, dust=0), (200, 150)) for n in (4, 8))

    frame = whole_frame(200, 800, 600)
    assert np.all(many.share(frame) >= few.share(frame) - 1e-5)


def test_worn_corners_are_rubbed_off_whole():
    share = worn(Wear(missed=0, dust=0, corners=30), (200, 150)).share(whole_frame(200, 400, 300))

    assert share[:8, :8].min() == 1 and share[-8:, -8:].min() == 1
    assert share[140:160, 190:210].max() == 0
    assert math.isclose(share.mean(), 4 * 0.5 * 27**2 / 30_000, rel_tol=0.4)
