"""Areas with holes, drawn in ring by ring."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.deliver.drawn_in import drawn_in, plainer_areas

NONE = np.zeros(0, object)


def riddled(seed, holes=40):
    """Blots with holes in them, some of these in the middle of what others leave."""
    chance = np.random.default_rng(seed)
    blots = shapely.buffer(shapely.points(chance.uniform(0, 40, (12, 2))), chance.uniform(2, 9, 12))
    bites = shapely.points(chance.uniform(0, 40, (holes, 2)))
    gone = shapely.union_all(shapely.buffer(bites, chance.uniform(0.2, 2, holes)))
    return shapely.get_parts(shapely.difference(shapely.union_all(blots), gone))


@given(st.integers(0, 10_000), st.floats(0.05, 1.5))
def test_areas_drawn_in_are_what_a_rim_all_round_leaves(seed, way):
    areas = riddled(seed)
    found, known = drawn_in(areas, way), shapely.buffer(areas, -way)
    apart = shapely.area(shapely.symmetric_difference(found, known))
    assert len(found) == len(areas)
    assert apart.max() < 1e-6 * shapely.length(areas).max()


def test_an_area_drawn_in_by_more_than_it_is_wide_is_gone():
    plate = shapely.box(0, 0, 10, 10).difference(shapely.box(1, 1, 9, 9))
    areas = np.array([shapely.box(20, 0, 30, 10), plate], object)
    found = drawn_in(areas, 0.6)
    assert shapely.area(found) == pytest.approx([8.8**2, 0])


@given(st.integers(0, 10_000), st.floats(0.01, 0.5))
def test_plainer_areas_stray_by_no_more_than_asked_and_never_cross_themselves(seed, way):
    areas = riddled(seed)
    found = plainer_areas(areas, way)
    assert shapely.is_valid(found).all()
    assert shapely.get_num_coordinates(found).sum() < shapely.get_num_coordinates(areas).sum()
    rims = shapely.union_all(shapely.boundary(areas))
    corners = shapely.points(shapely.get_coordinates(found))
    # Where rims crossed each other, new corners lie between theirs.
    assert shapely.distance(corners, rims).max() <= way + 1e-9


def test_a_rim_that_would_cross_another_leaves_an_area_all_the_same():
    # A hole so near to a bay that a side across the bay goes through it.
    bay = [(0, 0), (4, 0), (5, 0.9), (6, 0), (10, 0), (10, 10), (0, 10)]
    area = shapely.Polygon(bay, [[(4.9, 0.95), (5.1, 0.95), (5, 1.05)]])
    assert area.is_valid
    (found,) = plainer_areas(np.array([area], object), 1.0)
    assert found.is_valid
    assert found.area == pytest.approx(100, abs=0.1)


def test_nothing_stays_nothing():
    assert len(plainer_areas(NONE, 0.1)) == len(drawn_in(NONE, 0.1)) == 0
