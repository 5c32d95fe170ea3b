"""What is seen of marks and shapes past what cuts and hides them, and what a cutter gets of it."""

import numpy as np
import pytest
import shapely
from ezdxf.filemanagement import readfile
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.deliver.dxf import write
from flinz.core.deliver.sight import Sight, seen_lines, sights
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.stages.blend import Blend
from flinz.core.trace.tracing import straight_ring

places = st.tuples(st.floats(0, 20), st.floats(0, 20))


def square(left, top, right, bottom):
    corners = [[left, top], [right, top], [right, bottom], [left, bottom]]
    return straight_ring(np.array(corners, float))


def across(width=0.3):
    """A stroke from left to right."""
    x, y = np.array([1, 19], np.float32), np.full(2, 5, np.float32)
    return Strokes(x, y, np.full(2, width, np.float32), np.array([0, 2]))


def layer(*items, name="one", **more):
    return Layer(name, name.title(), (0, 0, 0), list(items), **more)


@given(places, places, places, places)
def test_what_is_seen_and_what_is_hidden_are_all_of_a_line(begin, end, one, other):
    area = shapely.box(*np.minimum(one, other), *(np.maximum(one, other) + 0.1))
    line = np.array([shapely.LineString([begin, end])])

    within, beside = (Sight(area).of(line)[0], Sight(hidden=area).of(line)[0])

    assert within.length + beside.length == pytest.approx(line[0].length, abs=1e-6)
    assert within.difference(area.buffer(1e-6)).length == pytest.approx(0, abs=1e-6)
    assert beside.intersection(area.buffer(-1e-6)).length == pytest.approx(0, abs=1e-6)


def test_a_dot_is_seen_or_is_not():
    dots = [np.array([[x, 5.0]]) for x in (2, 8, 14)]

    found = list(seen_lines(dots, Sight(shapely.box(0, 0, 10, 10), shapely.box(0, 0, 4, 10))))

    assert [dot.tolist() for dot in found] == [[[8, 5]]]


def test_ink_that_lets_through_hides_nothing():
    beneath = layer(Item(across()))
    over = layer(Item(square(4, 0, 11, 20)), name="two", blend=Blend.MULTIPLY)
    weak = layer(Item(square(4, 0, 11, 20)), name="two", blend=Blend.NORMAL, opacity=0.5)

    for each in (over, weak):
        (_, seen), _ = sights(Artwork(20, 20, None, [beneath, each]), opaque=True)
        assert seen[0][1].is_whole


def cut(tmp_path, *layers):
    """What a cutter reads: points of lines by layer, and circles."""
    write(tmp_path / "cut.dxf", Artwork(20, 20, None, list(layers)), "Cut")
    return list(readfile(tmp_path / "cut.dxf").modelspace())


def test_a_cutter_gets_no_more_of_marks_than_what_cuts_them_leaves(tmp_path):
    columns = (np.array(each, np.float32) for each in ([2, 8], [9, 9], [0.5, 0.5]))
    items = (Item(each, clip=square(4, 0, 11, 20)) for each in (across(), Dots(*columns)))

    line, circle = cut(tmp_path, layer(*items))

    assert sorted(x for x, *_ in line.get_points()) == [4, 11]
    assert circle.dxf.center.x == 8 and circle.dxf.radius == pytest.approx(0.5)


def test_a_cutter_gets_no_lines_of_bare_paper_and_none_beneath_it(tmp_path):
    beneath = layer(Item(square(2, 2, 18, 18)), Item(across()))
    bare = layer(Item(square(4, 0, 11, 20)), name="two-covers", blend=Blend.NORMAL, is_bare=True)

    found = cut(tmp_path, beneath, bare)

    assert {each.dxf.layer for each in found} == {"ONE"}
    assert sum(each.closed for each in found) == 2 and len(found) == 4
    for each in found:
        xs = [x for x, *_ in each.get_points()]
        assert max(xs) <= 4 or min(xs) >= 11
