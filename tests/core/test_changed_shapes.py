"""Shapes of a tracing chosen and changed, found again when it is made anew."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.trace.acting import Act, acted
from flinz.core.trace.changes import Footprint, ShapeChange, composed, matrix, part_of
from flinz.core.trace.editing import edited
from flinz.core.trace.lots import Lot
from flinz.core.trace.recognising import Found, Known, recognised
from flinz.core.trace.refitting import refitted, united
from flinz.core.trace.tracing import (
    TraceWish,
    flattened,
    straight_ring,
    together,
    traced,
    with_area,
)
from flinz.core.trace.whites import whites_of
from flinz.errors import DocumentError
from tests.charts import blobs

SIDE_MM, PX_PER_MM = 40, 24
FRAME = whole_frame(SIDE_MM, SIDE_MM * PX_PER_MM, SIDE_MM * PX_PER_MM)
WISH = TraceWish(closeness=0.02)
BLACK, RED = (0.0, 0.0, 0.0), (1.0, 0.0, 0.0)
# Long edges of the photo to mm: a plate that lies a little aside.
WAY = np.array([[50.0, 0, -3], [0, 50.0, 2]])


def disc(x, y, radius, steps=400):
    angles = np.arange(steps) * 2 * math.pi / steps
    return np.column_stack([x + radius * np.cos(angles), y + radius * np.sin(angles)])


def square(left, top, side):
    return np.array([[0, 0], [1, 0], [1, 1], [0, 1]]) * side + [left, top]


def tracing_of(*rings):
    return traced(filled([np.asarray(ring, float) for ring in rings], FRAME), FRAME, WISH)


# A ring with a dot in it, a square beside them, and one at the sheet's edge.
CHART = tracing_of(
    disc(10, 10, 6), disc(10, 10, 4)[::-1], disc(10, 10, 1.5), square(24, 5, 8), square(-1, 25, 9)
)


def lots_of(tracing=CHART, way=WAY):
    white = whites_of(tracing, SIDE_MM, SIDE_MM, WISH)
    lots = [Lot("a", 0, white, (1.0,) * 3, is_white=True), Lot("a", 0, tracing, BLACK)]
    return lots, {"a": way}


def shape_at(lots, x, y):
    """The number of the shape at a place, through all lots."""
    polygons = [polygon for lot in lots for polygon in lot.polygons]
    (found,) = [k for k, each in enumerate(polygons) if each.contains(shapely.Point(x, y))]
    return found


def did(lots, ways, changes, verb, *places, **more):
    shapes = [shape_at(lots, *place) for place in places]
    found = edited(lots, changes, ways, WISH)
    return acted(lots, ways, changes, found, Act(verb=verb, shapes=shapes, **more), WISH.closeness)


def area_of(shape):
    return sum(each.area for each in shape.tracing.polygons(24))


def test_bare_paper_is_shapes_that_fill_what_ink_leaves():
    lots, _ = lots_of()
    white, ink = lots

    areas = sorted(each.area for each in white.tracing.polygons(24))

    assert len(areas) == 2
    assert areas[0] == pytest.approx(math.pi * (16 - 1.5**2), rel=0.002)
    inked = sum(each.area for each in ink.tracing.polygons(24))
    assert sum(areas) + inked == pytest.approx(1600, abs=0.3)
    assert len(white.tracing) == 2 and all(each.is_valid for each in white.polygons)


def test_paper_is_parted_by_ink_that_goes_from_edge_to_edge():
    across = tracing_of(np.array([[-1, 18], [41, 18], [41, 22], [-1, 22]]), disc(10, 8, 3))

    white = whites_of(across, SIDE_MM, SIDE_MM, WISH).polygons()

    assert sorted(round(each.area) for each in white) == [round(720 - 9 * math.pi), 720]


@pytest.mark.parametrize(
    ("seed", "soft", "closeness", "corners"),
    [
        (2, 14, 1.0, 60),
        (8, 18, 2.0, 60),
        (17, 14, 1.78, 129),
        (19, 22, 0.5, 129),
        (24, 22, 0.5, 129),
    ],
)
def test_strips_of_paper_that_a_coarse_closeness_leaves_nothing_of_are_no_shapes(
    seed, soft, closeness, corners
):
    soft_tone = blobs(300, 400, seed, float(soft))
    cover = np.clip((soft_tone - np.median(soft_tone)) * 40 + 0.5, 0, 1).astype(np.float32)
    wish = TraceWish(closeness=closeness, corners=corners, specks=3.0)

    ink = traced(cover, whole_frame(40, 400, 300), wish)
    white = whites_of(ink, 40, 30, wish)

    areas = [each.area for found in (ink, white) for each in found.polygons()]
    assert min(areas) > 0
    assert len(ink) and len(white)


def test_an_outline_of_one_line_there_and_back_goes_with_its_holes():
    line, hole = np.array([[0, 0], [9, 0]]), square(2, 2, 1)
    rings = [straight_ring(np.asarray(each, float)) for each in (line, hole, square(0, 0, 9), line)]
    both = replace(together(rings), shape=np.array([0, 0, 1, 1]))

    found = with_area(both)

    assert len(found) == 1 and len(found.first) == 2
    assert found.polygons()[0].area == pytest.approx(81)


@settings(max_examples=40)
@given(st.integers(0, 10_000))
def test_ink_and_paper_lie_beside_each_other_and_fill_the_sheet(seed):
    frame = whole_frame(10, 240, 240)
    cover = np.asarray(np.clip((blobs(240, 240, seed) - 0.5) * 24 + 0.5, 0, 1), np.float32)
    ink = traced(cover, frame, WISH)
    white = whites_of(ink, 10, 10, WISH)

    inks, whites = ink.polygons(12), white.polygons(12)

    total = sum(each.area for each in inks) + sum(each.area for each in whites)
    assert total == pytest.approx(100, abs=0.5)
    wholes = (united(each) for each in (inks, whites))
    both = shapely.intersection(*wholes)
    assert both.area < 0.3


def test_shapes_are_found_again_one_to_one_as_pieces_or_not_at_all():
    def known(polygon):
        part = part_of(polygon, np.eye(2, 3), "a")
        return Known(part.points, part.area)

    whole = shapely.box(0, 0, 10, 10)
    gone = shapely.box(30, 30, 33, 33)
    other = shapely.box(14, 0, 20, 6)
    pieces = [shapely.box(0, 0, 4.8, 10), shapely.box(5.2, 0, 10, 10)]

    found = recognised(
        [known(each) for each in (whole, gone, other)], [shapely.box(14.2, 0, 20.1, 6), *pieces]
    )

    assert [sorted(each.shapes) for each in found] == [[1, 2], [], [0]]
    assert recognised([], pieces) == [] and recognised([known(gone)], []) == [Found()]


def test_a_shape_that_went_up_in_another_is_not_lost_where_both_were_changed_alike():
    lots, ways = lots_of(tracing_of(square(5, 5, 10), square(15.5, 5, 4)))
    alike = did(lots, ways, [], "colour", (10, 10), (17, 7), colour="#ff0000")
    unlike = did(lots, ways, alike, "colour", (17, 7), colour="#00ff00")
    later, ways = lots_of(tracing_of(square(5, 5, 10), square(14.9, 5, 4.6)))

    assert edited(later, alike, ways, WISH).lost == []
    # Changed otherwise it is a part of it.
    found = edited(later, unlike, ways, WISH)
    assert found.lost == []
    assert sorted(map(area_of, found.shapes)) == pytest.approx([20.6, 100], abs=1.5)


@given(st.floats(0.5, 60), st.floats(0.2, 60), st.floats(-100, 100), st.floats(0, 360))
def test_a_shape_is_known_by_places_within_it(wide, high, left, turn):
    box = shapely.affinity.rotate(shapely.box(left, 0, left + wide, high), turn)

    part = part_of(box, np.array([[0.01, 0, 0], [0, 0.01, 0]]), "a")

    points = part.points * 100
    assert shapely.contains_xy(box.buffer(0.01), points[:, 0], points[:, 1]).all()
    assert part.area == pytest.approx(wide * high / 1e4) and len(points) >= 1


def test_a_recoloured_shape_keeps_its_colour_where_its_plate_is_moved():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "colour", (28, 9), colour="#ff0000")
    by = np.array([2, 1])
    moved = tracing_of(disc(10, 10, 6) + by, square(24, 5, 8) + by)
    later, elsewhere = lots_of(moved, np.column_stack([WAY[:, :2], WAY[:, 2] + by]))

    (shape,) = edited(later, changes, elsewhere, WISH).shapes

    assert shape.colour == RED and area_of(shape) == pytest.approx(64, rel=0.002)
    assert shape.members == ((1, 1),)


def test_a_shape_is_laid_elsewhere_and_may_go_back():
    lots, ways = lots_of()
    turned = [0, 1, 20, -1, 0, 40]
    changes = did(lots, ways, [], "lay", (28, 9), way=turned)

    (shape,) = edited(lots, changes, ways, WISH).shapes
    low, high = shape.tracing.bounds
    back = did(lots, ways, changes, "lay", (28, 9), way=[0, -1, 40, 1, 0, -20])

    assert low == pytest.approx([25, 8], abs=0.03) and high == pytest.approx([33, 16], abs=0.03)
    assert back == []


def test_a_mirrored_shape_keeps_its_holes():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "lay", (5, 10), way=[-1, 0, 40, 0, 1, 0])

    (shape,) = edited(lots, changes, ways, WISH).shapes

    again = filled(flattened(shape.tracing, 12), FRAME)
    assert again[10 * PX_PER_MM, 30 * PX_PER_MM] == 0
    assert again.sum() / PX_PER_MM**2 == pytest.approx(math.pi * 20, rel=0.005)


def test_coloured_paper_is_a_shape_beneath_the_ink_of_its_plate():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "colour", (10, 7.5), colour="#ff0000")
    changes = did(lots, ways, changes, "colour", (28, 9), colour="#00ff00")

    found = edited(lots, changes, ways, WISH).shapes

    assert [each.colour for each in found] == [RED, (0.0, 1.0, 0.0)]
    assert found[0].order < (0, 0, 1, 0) < found[1].order
    assert area_of(found[0]) == pytest.approx(math.pi * (16 - 1.5**2), rel=0.002)


def test_paper_that_is_only_chosen_prints_nothing():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "front", (10, 7.5))

    (shape,) = edited(lots, changes, ways, WISH).shapes

    assert not shape.is_printed


def test_shapes_are_joined_with_the_paper_between_them_and_parted_again():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "join", (5, 10), (10, 7.5), (10, 10))

    (shape,) = edited(lots, changes, ways, WISH).shapes
    parted = did(lots, ways, changes, "part", (5, 10))

    assert area_of(shape) == pytest.approx(math.pi * 36, rel=0.005)
    assert len(shape.tracing) == 1 and len(shape.tracing.first) == 2
    assert len(shape.tracing.curves) <= 12
    assert len(shape.members) == 3 and parted == []


def test_joined_shapes_meet_where_one_was_moved_to():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "lay", (28, 9), way=[1, 0, -20, 0, 1, 20])
    changes = did(lots, ways, changes, "join", (28, 9), (3, 28))

    (shape,) = edited(lots, changes, ways, WISH).shapes

    # From 0 to 12 by 25 to 34: one square over the other, less where both lie.
    assert area_of(shape) == pytest.approx(8 * 9 + 64 - 4 * 8, abs=0.3)


def test_a_shape_cuts_what_lies_beneath_it_and_may_be_hidden_then():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "lay", (10, 10), way=[1, 0, 18, 0, 1, -1])
    changes = did(lots, ways, changes, "cut", (10, 10))
    changes = did(lots, ways, changes, "hide", (10, 10))

    found = edited(lots, changes, ways, WISH).shapes

    cut = next(each for each in found if each.change is None)
    assert area_of(cut) == pytest.approx(64 - math.pi * 1.5**2, abs=0.1)
    assert [each.is_printed for each in found] == [True, False]
    deleted = did(lots, ways, changes, "delete", (10, 10))
    assert [each.change for each in edited(lots, deleted, ways, WISH).shapes] == [0]


def test_simpler_outlines_have_fewer_curves_and_stay_near():
    wavy = disc(20, 20, 12, 2000)
    wavy += 0.12 * np.sin(np.arange(2000) * 0.2)[:, None] * (wavy - 20) / 12
    lots, ways = lots_of(tracing_of(wavy))
    changes = did(lots, ways, [], "simplify", (20, 20))
    for _ in range(3):
        changes = did(lots, ways, changes, "simplify", (20, 20))

    (shape,) = edited(lots, changes, ways, WISH).shapes

    assert changes[0].looser == pytest.approx(0.32)
    assert len(shape.tracing.curves) < len(lots[1].tracing.curves) / 4
    assert area_of(shape) == pytest.approx(lots[1].polygons[0].area, rel=0.01)


def test_the_front_is_over_all_and_behind_beneath_all():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "front", (28, 9))
    changes = did(lots, ways, changes, "front", (10, 10))
    changes = did(lots, ways, changes, "back", (3, 28))

    found = edited(lots, changes, ways, WISH).shapes

    assert [each.order[1] for each in found] == [-1, 1, 2]


def test_what_is_hidden_shows_again_and_what_is_restored_is_as_traced():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "delete", (28, 9), (3, 28))

    shown = did(lots, ways, changes, "show", (28, 9))
    restored = did(lots, ways, shown, "restore", (3, 28))

    assert [each.gone for each in changes] == ["deleted", "deleted"]
    assert len(shown) == 1 and restored == []


def test_an_edit_goes_to_all_pieces_of_a_shape_that_was_parted():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "colour", (28, 9), colour="#ff0000")
    halves = [
        np.array([[24, 5], [27.7, 5], [27.7, 13], [24, 13]]),
        np.array([[28.3, 5], [32, 5], [32, 13], [28.3, 13]]),
    ]
    later, ways = lots_of(tracing_of(*halves))

    found = edited(later, changes, ways, WISH)

    assert len(found.shapes) == 2 and found.lost == []


def test_an_edit_whose_shape_is_gone_is_listed_until_it_is_dropped():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "colour", (28, 9), colour="#ff0000")
    changes = did(lots, ways, changes, "join", (5, 10), (3, 28))
    later, ways = lots_of(tracing_of(disc(10, 10, 6), disc(10, 10, 4)[::-1]))

    found = edited(later, changes, ways, WISH)
    dropped = acted(later, ways, changes, found, Act(verb="forget"), WISH.closeness)

    assert found.lost == [(0, 0), (1, 1)]
    assert [len(each.of) for each in dropped] == [1]
    assert edited(later, dropped, ways, WISH).lost == []


def test_nineteen_of_twenty_edits_find_their_shape_after_a_dial_is_turned_a_little():
    cover = blobs(960, 960, 4, scale=6)
    frame = whole_frame(40, 960, 960)

    def drawn(level):
        return traced(
            np.asarray(np.clip((cover - level) * 30 + 0.5, 0, 1), np.float32), frame, WISH
        )

    lots, ways = lots_of(drawn(0.35))
    every = Act(verb="colour", shapes=list(range(sum(len(each.tracing) for each in lots))))
    every = every.model_copy(update={"colour": "#ff0000"})
    changes = acted(lots, ways, [], edited(lots, [], ways, WISH), every, WISH.closeness)
    later, ways = lots_of(drawn(0.357))

    found = edited(later, changes, ways, WISH)

    assert len(changes) > 100
    assert len(found.lost) <= 0.05 * len(changes)


@given(st.lists(st.tuples(*[st.floats(-3, 3)] * 6), min_size=2, max_size=2))
def test_ways_one_after_the_other_are_one_way(ways):
    first, second = ([a + 4, b, c, d, e + 4, f] for a, b, c, d, e, f in ways)

    both = composed(second, first)

    place = np.array([0.3, -1.7, 1])
    assert both is not None
    assert matrix(both) @ place == pytest.approx(matrix(second) @ (matrix(first) @ place))
    assert composed(None, first) == first and composed(second, None) == second


def test_polygons_become_curves_again():
    ring = shapely.Polygon(disc(20, 20, 10), [disc(20, 20, 5)[::-1]])

    found = refitted([ring, shapely.box(1, 1, 4, 4)], WISH)

    assert [each.area for each in found.polygons(96)] == pytest.approx([ring.area, 9.0], rel=2e-4)
    assert len(found.curves) <= 24 and found.is_line.sum() == 4
    assert len(refitted([], WISH)) == 0


def test_what_is_no_change_is_refused_in_words():
    with pytest.raises(ValidationError, match="pairs"):
        Footprint(plate="a", area=1, places=[1, 2, 3])
    with pytest.raises(ValidationError, match="nothing of it is left"):
        Footprint(plate="a", area=1, places=[1, 2], way=[0, 0, 0, 0, 0, 0])
    lots, ways = lots_of()
    with pytest.raises(DocumentError, match="not in this tracing"):
        acted(lots, ways, [], edited(lots, [], ways, WISH), Act(verb="hide", shapes=[99]), 0.02)
    assert ShapeChange(of=[Footprint(plate="a", area=1, places=[1, 2])]).says_nothing


@pytest.mark.parametrize(("ink", "pieces"), [(0.0, 1), (1.0, 0)])
def test_bare_and_solid_sheets_are_one_shape(ink, pieces):
    cover = np.full((240, 240), ink, np.float32)
    tracing = traced(cover, whole_frame(10, 240, 240), WISH)

    white = whites_of(tracing, 10, 10, WISH)

    assert (len(white), len(tracing)) == (pieces, 1 - pieces)
    assert sum(each.area for each in white.polygons()) == pytest.approx(100 * pieces)


def test_joined_shapes_are_of_the_ink_among_them_whichever_was_chosen_first():
    lots, ways = lots_of()
    changes = did(lots, ways, [], "join", (10, 7.5), (5, 10))

    (shape,) = edited(lots, changes, ways, WISH).shapes

    assert (shape.lot, shape.colour) == (1, BLACK)
