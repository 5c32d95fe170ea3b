"""Lines for a pen plotter: their order, what they cover, and the machine that is simulated."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.plotter import PlotterWish, write
from flinz.core.deliver.plotting import pens_of
from flinz.core.deliver.simulated import plotted
from flinz.core.marks.ordering import order_of, way_of
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import TraceWish, traced
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


def pen_lines(content, nib):
    layer = Layer("one", "One", (0, 0, 0), [Item(content)])
    (pen,) = pens_of(Artwork(20, 20, None, [layer]), nib)
    return pen


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


def test_a_small_dot_is_a_touch_and_a_large_one_is_filled():
    columns = (np.array(each, np.float32) for each in ([5, 12], [5, 12], [0.2, 3.0]))

    pen = pen_lines(Dots(*columns), 0.4)

    assert sorted(len(line) for line in pen.lines)[0] == 1
    frame = whole_frame(20, 400, 400)
    assert inked(pen, 0.4, frame).sum() / 400 == pytest.approx(np.pi * (9 + 0.04), rel=0.03)


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


def test_greys_are_refused_by_name(tmp_path):
    photo = grey_photo(blobs(60, 80, seed=3) * 255)
    sheet = sheet_of("pencil").model_copy(update={"paper": AsPicture(long_edge=60)})

    with pytest.raises(DocumentError, match="a pen draws no greys"):
        write(tmp_path / "x.svg", Delivery(Press(), photo, sheet), PlotterWish())
