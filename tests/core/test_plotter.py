"""Lines for a pen plotter: their order, what they cover, and the machine that is simulated."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.plotter import PlotterWish, lines_of, plot_of, write
from flinz.core.deliver.plotting import pens_of
from flinz.core.deliver.simulated import plotted, plotted_part
from flinz.core.marks.ordering import order_of, way_of
from flinz.core.marks.outlines import dot_rings
from flinz.core.marks.pen import dots_cover, strokes_cover
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.blend import Blend
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import TraceWish, Tracing, straight_ring, traced
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo, sheet_of


@given(st.integers(1, 120), st.integers(0, 10_000))
@example(2, 99)
def test_an_order_draws_every_line_once_and_travels_no_farther_than_at_random(count, seed):
    rng = np.random.default_rng(seed)
    begin = rng.uniform(0, 100, (count, 2))
    end = begin + rng.normal(0, 4, (count, 2))

    order, turned = order_of(begin, end)

    assert sorted(order.tolist()) == list(range(count))
    as_given = way_of(begin, end, np.arange(count), np.zeros(count, bool))
    assert way_of(begin, end, order, turned) <= as_given + 1e-9


def test_dots_set_evenly_are_reached_by_little_more_than_from_each_to_its_nearest():
    rng = np.random.default_rng(3)
    grid = np.stack(np.meshgrid(np.arange(80.0), np.arange(60.0)), -1).reshape(-1, 2)
    places = grid + rng.uniform(-0.3, 0.3, grid.shape)

    order, turned = order_of(places, places)

    least = cKDTree(places).query(places, 2)[0][:, 1].sum()
    assert way_of(places, places, order, turned) <= 1.4 * least


def test_lines_drawn_end_to_end_are_drawn_without_travelling():
    begin = np.column_stack([np.arange(50.0), np.zeros(50)])
    shuffled = np.random.default_rng(1).permutation(50)

    order, turned = order_of(begin[shuffled], begin[shuffled] + (1, 0))

    assert way_of(begin[shuffled], begin[shuffled] + (1, 0), order, turned) < 0.01


def pens(*items, nib=0.4, **more):
    layer = Layer("one", "One", (0, 0, 0), list(items))
    return pens_of(Artwork(20, 20, None, [layer]), nib, **more)


def pen_lines(content, nib, **more):
    (pen,) = pens(Item(content), nib=nib, **more)
    return pen


def square(left, top, right, bottom):
    corners = [[left, top], [right, top], [right, bottom], [left, bottom]]
    return straight_ring(np.array(corners, float))


def line(*points, width=0.3):
    x, y = np.array(points, np.float32).T
    return Strokes(x, y, np.full(len(points), width, np.float32), np.array([0, len(points)]))


def inked(pen, nib, frame):
    points = np.concatenate(pen.lines).astype(np.float32)
    first = np.concatenate([[0], np.cumsum([len(line) for line in pen.lines])])
    width = np.full(len(points), nib, np.float32)
    return strokes_cover(Strokes(*np.ascontiguousarray(points.T), width, first), frame)


def test_a_shape_is_filled_by_its_outline_and_hatching():
    frame = whole_frame(20, 400, 400)
    shape = filled([np.array([[3, 3], [16, 5], [14, 17], [4, 15]], float)], frame)

    pen = pen_lines(traced(shape, frame, TraceWish()), 0.5)

    assert np.abs(inked(pen, 0.5, frame) - shape).sum() < 0.03 * shape.sum()


@given(st.floats(0.03, 0.38), st.floats(2, 12), st.floats(0, 180))
def test_a_bar_thinner_than_the_nib_is_drawn_by_one_line_along_its_middle(wide, long, angle):
    turned = np.deg2rad(angle)
    way = np.array([[np.cos(turned), np.sin(turned)], [-np.sin(turned), np.cos(turned)]])
    corners = np.array([[-long, -wide], [long, -wide], [long, wide], [-long, wide]]) / 2
    bar = straight_ring(corners @ way + 10)

    (drawn,) = pen_lines(bar, 0.4).lines

    along, across = ((drawn - 10) @ way.T).T
    # Where a bar is thinner than its rim is sampled, within a tenth of the nib.
    assert np.abs(across).max() < (0.02 if wide > 0.08 else 0.06)
    # Round ends reach as far as the bar does, or nearly.
    assert long - 0.7 <= np.ptp(along) <= long


def test_a_shape_with_a_thin_tail_is_drawn_to_its_end_and_without_spurs():
    frame = whole_frame(20, 800, 800)
    tail = np.array([[8, 9.9], [18, 9.9], [18, 10.1], [8, 10.1]])
    ink = np.maximum(filled([np.array([[2, 5], [8, 5], [8, 15], [2, 15]], float)], frame), 0)
    shape = np.maximum(ink, filled([tail], frame))

    pen = pen_lines(traced(shape, frame, TraceWish(closeness=0.01)), 0.5)

    laid = inked(pen, 0.5, frame)
    # 40 px a mm: the tail is drawn, as wide as the nib, and no more than it and the square.
    assert laid[400, 330:705].min() == 1
    assert laid.sum() == pytest.approx((60 + 10 * 0.5) * 1600, rel=0.02)


def test_a_sliver_that_no_row_meets_is_drawn():
    sliver = straight_ring(np.array([[3, 3], [15, 3.3], [15, 3.31]], float))

    assert len(pen_lines(sliver, 0.02).lines) > 0


@pytest.mark.parametrize("strength", [0.25, 0.5, 0.75])
def test_a_tone_of_less_ink_is_hatched_as_much_wider(strength):
    frame = whole_frame(20, 400, 400)

    (pen,) = pens(Item(square(2, 2, 18, 18), strength=strength), nib=0.3)

    inner = inked(pen, 0.3, frame)[80:320, 80:320]
    assert inner.mean() == pytest.approx(strength, abs=0.03)


def test_of_tones_that_lie_over_each_other_each_is_drawn_where_it_is_seen():
    frame = whole_frame(20, 400, 400)
    light, dark = square(2, 2, 18, 18), square(8, 8, 14, 14)
    items = Item(light, (0.5,) * 3, strength=0.5), Item(dark, strength=1.0)

    (pen,) = pens(*items, nib=0.3)

    laid = inked(pen, 0.3, frame)
    assert laid[170:270, 170:270].min() > 0.9
    assert laid[60:150, 60:340].mean() == pytest.approx(0.5, abs=0.04)


def test_a_plate_of_two_colours_has_a_pen_for_its_lights():
    darks, lights = Item(square(5, 5, 9, 9)), Item(square(1, 1, 19, 19), strength=0.0)
    layer = Layer("one", "One", (0, 0, 0), [lights, darks], lights=(1, 0.8, 0))

    dark, light = pens_of(Artwork(20, 20, None, [layer]), 0.4)

    assert light.colour == (1, 0.8, 0) and light.name == "One, lights"
    points = np.concatenate(dark.lines)
    assert points.min() >= 5 and points.max() <= 9
    inside = (np.concatenate(light.lines) - 5.1 > 0) & (np.concatenate(light.lines) < 8.9)
    assert not inside.all(1).any()


def test_marks_are_drawn_as_far_as_what_cuts_them():
    (pen,) = pens(Item(line((1, 5), (19, 5)), clip=square(4, 0, 11, 20)))

    (drawn,) = pen.lines
    assert sorted(drawn[:, 0]) == [4, 11]


def test_what_a_mask_thins_to_nothing_is_not_drawn():
    stroke = line((1, 5), (8, 5), (12, 5), (19, 5))
    stroke = stroke.with_width(np.array([0.3, 0.3, 0.001, 0.001], np.float32))

    (drawn,) = pen_lines(stroke, 0.3).lines

    assert drawn[:, 0].max() <= 12


@pytest.mark.parametrize("is_bare", [True, False])
def test_nothing_is_drawn_under_what_hides_it(is_bare):
    beneath = Layer("one", "One", (0, 0, 0), [Item(line((1, 5), (19, 5)))])
    red = (1.0, 0.0, 0.0)
    over = Layer("two", "Two", red, [Item(square(4, 0, 11, 20), red)], Blend.NORMAL, 1.0, is_bare)

    black, *others = pens_of(Artwork(20, 20, None, [beneath, over]), 0.4)

    ends = sorted(tuple(sorted(drawn[:, 0])) for drawn in black.lines)
    assert ends == [(1, 4), (11, 19)]
    assert [each.colour for each in others] == ([] if is_bare else [red])


def test_marks_as_wide_as_they_are_cover_as_much_ink():
    frame = whole_frame(20, 800, 800)
    x = np.linspace(2, 18, 60, dtype=np.float32)
    width = (1.2 - np.abs(x - 10) / 8).astype(np.float32)
    swelling = Strokes(x, 10 + np.sin(x), width, np.array([0, 60]))

    plain, wide = (pen_lines(swelling, 0.3, to_width=way) for way in (False, True))

    own = strokes_cover(swelling, frame)
    assert len(plain.lines) == 1
    assert np.abs(inked(wide, 0.3, frame) - own).sum() < 0.05 * own.sum()


@pytest.mark.parametrize("shape", Shape)
def test_every_shape_of_dot_is_drawn_within_its_outline(shape):
    frame = whole_frame(20, 800, 800)
    columns = (np.array([each], np.float32) for each in (10, 10, 3.0))
    dot = Dots(*columns, angle=np.array([0.5], np.float32), shape=shape)

    laid = inked(pen_lines(dot, 0.2, to_width=True), 0.2, frame)

    assert np.abs(laid - dots_cover(dot, frame)).sum() < 0.06 * dots_cover(dot, frame).sum()


def test_a_small_dot_is_a_touch_and_a_large_one_is_filled():
    columns = (np.array(each, np.float32) for each in ([5, 12], [5, 12], [0.2, 3.0]))

    pen = pen_lines(Dots(*columns), 0.4)

    assert sorted(len(line) for line in pen.lines)[0] == 1
    frame = whole_frame(20, 400, 400)
    assert inked(pen, 0.4, frame).sum() / 400 == pytest.approx(np.pi * (9 + 0.04), rel=0.03)


def test_round_shapes_of_a_screen_are_touches():
    x, y = np.random.default_rng(2).uniform(1, 19, (2, 40)).astype(np.float32)
    (curves, first), dot = dot_rings(Dots(x, y, np.full(40, 0.2, np.float32)))
    shapes = Tracing(curves, first, dot, np.zeros(len(curves)))

    (pen,) = pens(Item(shapes, rounds=True), nib=0.4)

    touches = np.array(pen.lines)
    assert touches.shape == (40, 1, 2)
    order = np.lexsort(np.column_stack([x, y]).T), np.lexsort(touches[:, 0].T)
    assert np.allclose(np.column_stack([x, y])[order[0]], touches[order[1], 0], atol=1e-3)


def test_what_hangs_over_the_sheet_is_not_drawn():
    x = np.array([-5, 10, 25], np.float32)
    stroke = Strokes(x, np.full(3, 10, np.float32), np.ones(3, np.float32), np.array([0, 3]))

    (line,) = pen_lines(stroke, 0.5).lines

    assert line[:, 0].min() == 0 and line[:, 0].max() == 20


def test_the_machine_draws_the_file_and_tells_what_it_took(tmp_path):
    photo = grey_photo(blobs(60, 80, seed=3) * 255)
    sheet = sheet_of("contour-hatch").model_copy(update={"paper": AsPicture(long_edge=60)})
    file = tmp_path / "lines.svg"
    write(file, Delivery(Press(), photo, sheet), PlotterWish(nib=0.3))

    done = plotted(file.read_bytes(), 150)

    assert done.picture.size == (354, 266)
    assert f"{done.drawn / 1000:.1f} m drawn" in file.read_text()
    dark = np.asarray(done.picture.convert("L")) < 128
    assert 0.05 < dark.mean() < 0.95


@pytest.mark.parametrize(
    "words", ["", "<svg", "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'/>", "<a/>"]
)
def test_what_is_no_plotters_file_is_refused(words):
    with pytest.raises(DocumentError, match="no file for a plotter"):
        plotted(words.encode(), 100)


def test_a_part_of_a_plot_is_that_part_of_the_whole():
    photo = grey_photo(blobs(60, 80, seed=3) * 255)
    sheet = sheet_of("ink-line").model_copy(update={"paper": AsPicture(long_edge=60)})
    wish = PlotterWish(nib=0.3)
    plot = plot_of(lines_of(Delivery(Press(), photo, sheet), wish), wish)
    frame = whole_frame(60, 480, 360)

    whole = plotted_part(plot, frame)
    part = plotted_part(plot, replace(frame, left=100, top=50, width=120, height=90))

    assert 0.01 < (whole < 128).mean() < 0.9
    assert np.abs(part.astype(int) - whole[50:140, 100:220]).max() <= 1


def test_greys_are_refused_by_name(tmp_path):
    photo = grey_photo(blobs(60, 80, seed=3) * 255)
    sheet = sheet_of("pencil").model_copy(update={"paper": AsPicture(long_edge=60)})

    with pytest.raises(DocumentError, match="a pen draws no greys"):
        write(tmp_path / "x.svg", Delivery(Press(), photo, sheet), PlotterWish())
