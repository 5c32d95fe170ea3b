"""Shapes that opened into what lies beside them: changes go to the part that they were."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.trace.acting import Act, acted
from flinz.core.trace.editing import edited
from flinz.core.trace.parting import part_that_was
from flinz.core.trace.recognising import Known
from tests.core.test_changed_shapes import (
    WISH,
    area_of,
    did,
    disc,
    lots_of,
    shape_at,
    square,
    tracing_of,
)

BOX = square(5, 5, 12)
ROOM = square(6, 6, 10)[::-1]
OTHER = disc(26, 11, 3)


def gap(wide):
    """A box of pen lines with a gap in its right side, and a disc beside it."""
    ring = np.array(
        [(5, 5), (17, 5), (17, 11 - wide / 2), (16, 11 - wide / 2), (16, 6), (6, 6), (6, 16),
         (16, 16), (16, 11 + wide / 2), (17, 11 + wide / 2), (17, 17), (5, 17)],
        float,
    )  # fmt: skip
    return tracing_of(ring, OTHER)


def bridged(wide):
    """The box, whole, joined with the disc by a bridge."""
    body = shapely.union_all(
        [
            shapely.Polygon(BOX, [ROOM]),
            shapely.Polygon(OTHER),
            shapely.box(16.5, 11 - wide / 2, 24, 11 + wide / 2),
        ]
    )
    rings = [np.asarray(body.exterior.coords)[:-1][::-1]]
    rings += [np.asarray(each.coords)[:-1][::-1] for each in body.interiors]
    return tracing_of(*rings)


def overlap(shape, polygon):
    own = shapely.union_all(shape.tracing.polygons(24))
    return own.intersection(polygon).area / own.union(polygon).area


def test_paper_whose_line_broke_keeps_its_colour_to_about_the_gap():
    lots, ways = lots_of(tracing_of(BOX, ROOM, OTHER))
    changes = did(lots, ways, [], "colour", (11, 11), colour="#ff0000")
    later, ways = lots_of(gap(0.6))

    found = edited(later, changes, ways, WISH)

    assert found.lost == []
    red, rest = sorted(found.shapes, key=lambda each: each.change is None)
    assert red.colour == (1.0, 0.0, 0.0) and red.is_white and red.is_printed
    assert overlap(red, shapely.Polygon(ROOM)) > 0.95
    assert rest.change is None and rest.is_bare and not rest.is_printed
    # Together they are the paper that there is.
    assert area_of(red) + area_of(rest) == pytest.approx(
        later[0].polygons[rest.members[0][1]].area, rel=0.003
    )


@pytest.mark.parametrize("verb", ["colour", "hide", "lay"])
def test_ink_that_grew_into_other_ink_is_changed_as_far_as_it_was(verb):
    lots, ways = lots_of(tracing_of(BOX, ROOM, OTHER))
    more = {"colour": {"colour": "#ff0000"}, "lay": {"way": [1, 0, 3, 0, 1, 20]}}.get(verb, {})
    changes = did(lots, ways, [], verb, (26, 11), **more)
    later, ways = lots_of(bridged(0.8))

    found = edited(later, changes, ways, WISH)

    assert found.lost == []
    part, rest = sorted(found.shapes, key=lambda each: each.change is None)
    moved = shapely.Polygon(disc(29, 31, 3) if verb == "lay" else OTHER)
    assert overlap(part, moved) > 0.9
    assert part.is_printed == (verb != "hide") and rest.is_printed
    # The bridge is of the one that was not changed.
    assert overlap(rest, shapely.Polygon(BOX, [ROOM])) > 0.88


def test_both_sides_are_chosen_and_changed_by_themselves():
    lots, ways = lots_of(tracing_of(BOX, ROOM, OTHER))
    changes = did(lots, ways, [], "colour", (26, 11), colour="#ff0000")
    later, ways = lots_of(bridged(0.8))
    found = edited(later, changes, ways, WISH)
    first = sum(len(lot.tracing) for lot in later)

    def after(verb, shape, **more):
        act = Act(verb=verb, shapes=[shape], **more)
        return acted(later, ways, changes, found, act, WISH.closeness)

    blue = after("colour", shape_at(later, 5.5, 11), colour="#0000ff")
    both = edited(later, blue, ways, WISH)
    assert sorted(each.colour for each in both.shapes) == [(0.0, 0.0, 1.0), (1.0, 0.0, 0.0)]
    (red,) = [each for each in both.shapes if each.colour[0] == 1]
    assert overlap(red, shapely.Polygon(OTHER)) > 0.9

    # The part's number is the first after those of all shapes.
    hidden = edited(later, after("hide", first), ways, WISH)
    assert [each.gone for each in hidden.shapes if each.change is not None] == ["hidden"]
    assert after("restore", first) == []


def test_what_parts_come_to_is_worked_out_once():
    lots, ways = lots_of(tracing_of(BOX, ROOM, OTHER))
    changes = did(lots, ways, [], "colour", (26, 11), colour="#ff0000")
    later, ways = lots_of(bridged(0.8))

    first, second = (edited(later, changes, ways, WISH) for _ in range(2))

    assert [each.tracing for each in first.shapes] == [each.tracing for each in second.shapes]


@settings(deadline=None, max_examples=30)
@given(st.floats(0.3, 2.0), st.floats(2.5, 6.0), st.floats(2.5, 6.0), st.integers(10, 80))
def test_two_discs_joined_are_parted_at_the_neck(wide, one, other, many):
    left, right = shapely.Point(10, 10).buffer(one), shapely.Point(26, 10).buffer(other)
    neck = shapely.box(10, 10 - wide / 2, 26, 10 + wide / 2)
    angles, radii = np.arange(many) * 2.39996, one * np.sqrt((np.arange(many) + 0.5) / many)
    points = np.column_stack([10 + radii * np.cos(angles), 10 + radii * np.sin(angles)])

    pieces = part_that_was(Known(points, left.area), shapely.union_all([left, right, neck]))

    found = shapely.union_all(pieces)
    assert found.intersection(left).area > 0.9 * left.area
    assert found.intersection(right).area < 0.05 * right.area


def test_a_shape_that_drowned_in_ink_all_round_it_is_about_where_it_was():
    lots, ways = lots_of(tracing_of(disc(20, 20, 3)))
    changes = did(lots, ways, [], "colour", (20, 20), colour="#ff0000")
    later, ways = lots_of(tracing_of(square(5, 5, 30)))

    found = edited(later, changes, ways, WISH)

    assert found.lost == []
    (part,) = [each for each in found.shapes if each.change is not None]
    assert overlap(part, shapely.Point(20, 20).buffer(3)) > 0.5


def test_half_of_a_shape_that_moved_away_is_no_part():
    angles, radii = np.arange(60) * 2.39996, 3 * np.sqrt((np.arange(60) + 0.5) / 60)
    points = np.column_stack([10.5 + radii * np.cos(angles), 10 + radii * np.sin(angles)])

    assert part_that_was(Known(points, np.pi * 9), shapely.box(-20, -20, 10, 40)) == []
