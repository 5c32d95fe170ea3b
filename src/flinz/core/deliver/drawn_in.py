"""Areas made plainer, and drawn in from their rims: ring by ring, since of many holes all at once
takes as long as their square.
"""

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

# (N,) shapely polygons, none of them empty.
Areas = NDArray[Any]

# Of a ring, which ends where it begins.
LEAST_CORNERS = 4


def plainer_areas(areas: Areas, way: float) -> Areas:
    """Areas whose rims stray by no more than so many mm, with as few corners as that allows
    (D. H. Douglas and T. K. Peucker 1973): (N,) polygons, or several in one where a rim then
    crosses itself or another.
    """
    if not len(areas):
        return areas
    rings, area = shapely.get_rings(areas, return_index=True)
    plain = shapely.simplify(rings, way, preserve_topology=False)
    # What is smaller than that is left as it is.
    plain = np.where(shapely.get_num_coordinates(plain) < LEAST_CORNERS, rings, plain)
    own = np.split(plain, np.flatnonzero(np.diff(area)) + 1)
    found = np.array([shapely.Polygon(outer, list(holes)) for outer, *holes in own], object)
    crosses = ~shapely.is_valid(found)
    found[crosses] = shapely.make_valid(found[crosses], method="structure", keep_collapsed=False)
    return found


def drawn_in(areas: Areas, way: float) -> Areas:
    """What is left of areas, (N,), without what lies within so many mm of their rims."""
    rings, area = shapely.get_rings(areas, return_index=True)
    is_outer = np.diff(area, prepend=-1) > 0
    found: Areas = shapely.buffer(shapely.polygons(rings[is_outer]), -way)
    holed, first = np.unique(area[~is_outer], return_index=True)
    if not len(holed):
        return found
    holes = shapely.buffer(shapely.polygons(rings[~is_outer]), way)
    gone = [shapely.disjoint_subset_union_all(own) for own in np.split(holes, first[1:])]
    found[holed] = shapely.difference(found[holed], np.array(gone, object))
    return found
