"""A cutter gets marks that lie over each other as one outline."""

import functools
import itertools

import numpy as np
import pytest
import shapely
from ezdxf.filemanagement import readfile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from skimage.metrics import structural_similarity

from flinz.core.deliver.sight import Sight
from flinz.core.deliver.welding import cuts_of_marks
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.press.press import Press
from flinz.core.stages.paper import AsPicture
from tests.charts import blobs, delivered, grey_photo, read_back, sheet_of

places = st.tuples(st.integers(0, 12), st.integers(0, 12))


def dots(*places, **more):
    """Round dots of 1 mm radius."""
    x, y = np.array(places, np.float32).T
    return Dots(x, y, np.ones(len(x), np.float32), **more)


def swelling(*lines):
    """Strokes whose width grows along them from 0.2 mm to 0.6."""
    x, y = np.concatenate([np.array(line, np.float32) for line in lines]).T
    width = np.concatenate([np.linspace(0.2, 0.6, len(line), dtype=np.float32) for line in lines])
    return Strokes(x, y, width, np.cumsum([0, *map(len, lines)]))


def cut(marks, sight=None):
    return list(cuts_of_marks(marks, sight or Sight()))


@given(st.lists(places, min_size=2, max_size=7, unique=True), st.randoms(use_true_random=False))
def test_a_stroke_is_cut_where_its_pen_went(line, chance):
    points = np.array(line, np.float32)
    width = np.array([chance.uniform(0.2, 0.9) for _ in line], np.float32)
    pen = [
        shapely.Point(*at).buffer(wide / 2, 32)
        for at, wide in zip(points.tolist(), width.tolist(), strict=True)
    ]
    ways = [shapely.union(*pair).convex_hull for pair in itertools.pairwise(pen)]

    found = cut(Strokes(*points.T.copy(), width, np.array([0, len(line)])))

    went = shapely.union_all([*pen, *ways])
    rings = [shapely.Polygon(ring) for ring, wide in found if wide is None]
    for outline, wide in found:
        if wide is not None:
            rings.append(shapely.LineString(outline[[0, *range(len(outline))]]).buffer(wide / 2))
    area = functools.reduce(shapely.symmetric_difference, rings)
    assert area.symmetric_difference(went).area < 0.06 * went.area


def test_strokes_that_cross_are_one_outline():
    (line, width), *more = cut(swelling([(0, 5), (9, 5.2)], [(5, 0), (5.2, 9)]))

    assert width is None and not more
    assert shapely.Polygon(line).is_valid


def test_a_stroke_that_meets_itself_goes_round_a_hole():
    turn = np.linspace(0, 2.2 * np.pi, 40)
    loop = np.column_stack([5 + 3 * np.cos(turn), 5 + 3 * np.sin(turn)])

    rings = [shapely.Polygon(line) for line, _ in cut(swelling(loop))]

    outer, hole = sorted(rings, key=lambda ring: -ring.area)
    assert outer.contains(hole) and hole.contains(shapely.Point(5, 5))


def test_dots_apart_are_circles_and_those_that_meet_are_not():
    found = cut(dots((2, 2), (8, 8), (9.5, 8)))

    (pair, no_width), (alone, width) = sorted(found, key=lambda each: -len(each[0]))
    assert alone.tolist() == [[2, 2]] and width == pytest.approx(2)
    overlap = 2 * np.arccos(0.75) - 0.75 * np.sqrt(4 - 1.5**2)
    assert no_width is None
    assert shapely.Polygon(pair).area == pytest.approx(2 * np.pi - overlap, rel=5e-3)


def test_a_dot_at_the_edge_of_a_cut_is_cut():
    (line, width), (whole, _) = cut(dots((2, 2), (8, 8)), Sight(shapely.box(2, 0, 20, 20)))

    assert width is None and line[:, 0].min() == pytest.approx(2)
    assert whole.tolist() == [[8, 8]]


def test_rings_stay_hollow():
    apart = cut(dots((2, 2), shape=Shape.RING))
    met = cut(dots((2, 2), (3, 2), shape=Shape.RING))

    assert len(apart) == 2
    inner = shapely.union_all([shapely.Polygon(line) for line, _ in met[1:]])
    assert len(met) == 4 and not inner.contains(shapely.Point(2.5, 2.9))


@pytest.mark.parametrize("look", ["crosshatch", "stipple", "contour-hatch"])
def test_what_is_cut_filled_is_the_drawing(look, tmp_path):
    photo = grey_photo((blobs() ** 2 * 255).astype(np.uint8), "dark")
    press, paper = Press(), AsPicture(long_edge=24.0)
    sheet = sheet_of(look).model_copy(update={"paper": paper})
    drawn = delivered(tmp_path, press, photo, sheet, "png", long_edge_px=640)
    rims, lines = [], []

    for each in readfile(delivered(tmp_path, press, photo, sheet, "dxf")).modelspace():
        if each.dxftype() == "CIRCLE":
            (x, y, _), radius = each.dxf.center, each.dxf.radius
            lines.append(f'<circle cx="{x}" cy="{y}" r="{radius}"/>')
            continue
        words = "M" + " ".join(f"{x},{y}" for x, y, *_ in each.get_points())
        if each.closed:
            rims.append(words + "Z")
        else:
            wide = each.dxf.const_width
            lines.append(f'<path d="{words}" fill="none" stroke="#000" stroke-width="{wide}"/>')
    svg = tmp_path / "cut.svg"
    svg.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="24mm" height="18mm" viewBox="0 0 24 18">'
        '<rect width="24" height="18" fill="#fff"/>'
        '<g transform="matrix(1 0 0 -1 0 18)" stroke-linecap="round">'
        f'<path fill-rule="evenodd" d="{"".join(rims)}"/>{"".join(lines)}</g></svg>'
    )
    shown = np.asarray(read_back(svg, 640).convert("L"), float) / 255
    wanted = np.asarray(Image.open(drawn).convert("L"), float) / 255
    assert 0.1 < wanted.mean() < 0.9 and len(rims) > 3
    assert structural_similarity(shown, wanted, data_range=1) > 0.97


def test_marks_apart_keep_their_order_and_their_ways():
    lines = [[(0, y), (9, y)] for y in range(0, 9, 2)]

    found = cut(swelling(*lines))

    heights = [line[:, 1].mean() for line, _ in found]
    assert all(a < b for a, b in itertools.pairwise(heights)) and len(found) == 5
