"""What can be seen of marks and shapes where others cut or hide them: for pens and cutters."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Item, Layer
from flinz.core.stages.blend import Blend
from flinz.core.trace.tracing import Tracing

# Curves are cut in so many pieces where shapes are taken from each other.
PIECES = 16
# A plate that hides less lets through what lies beneath it.
OPAQUE = 0.99

# (N,) shapely geometries.
Geometries = NDArray[Any]
# (N, 2) float64 mm; one point is a dot, or a touch of a pen.
Line = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Sight:
    """Where on the sheet something can be seen: within what cuts it, beside what hides it; None
    where nothing does.
    """

    within: shapely.Geometry | None = None
    hidden: shapely.Geometry | None = None

    @property
    def is_whole(self) -> bool:
        """Whether all can be seen."""
        return self.within is None and self.hidden is None

    def of(self, geometries: Geometries) -> Geometries:
        """What is seen of points, lines or areas in mm: (N,) as they came, some of them empty."""
        found = np.asarray(geometries, object)
        if self.within is not None:
            is_in, is_crossed = _met(found, self.within)
            found = _cut(found, is_crossed, self.within, shapely.intersection)
            found[~is_in & ~is_crossed] = shapely.Point()
        if self.hidden is not None:
            is_in, is_crossed = _met(found, self.hidden)
            found = _cut(found, is_crossed, self.hidden, shapely.difference)
            found[is_in] = shapely.Point()
        return found


def _met(
    geometries: Geometries, area: shapely.Geometry
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which lie within an area, and which its rim crosses."""
    shapely.prepare(area)
    is_in = shapely.contains_properly(area, geometries)
    return is_in, shapely.intersects(area, geometries) & ~is_in


def _cut(
    geometries: Geometries,
    which: NDArray[np.bool_],
    area: shapely.Geometry,
    way: Callable[..., Geometries],
) -> Geometries:
    found = geometries.copy()
    found[which] = way(geometries[which], area)
    return found


def seen_lines(lines: Iterable[Line], sight: Sight) -> Iterator[Line]:
    """What is seen of lines."""
    if sight.is_whole:
        yield from lines
        return
    found = [shapely.LineString(line) if len(line) > 1 else shapely.Point(*line) for line in lines]
    for part in shapely.get_parts(sight.of(np.array(found, object))):
        if part.geom_type in ("LineString", "Point") and not part.is_empty:
            yield np.array(part.coords)


def sights(artwork: Artwork, *, opaque: bool) -> list[tuple[Layer, list[tuple[Item, Sight]]]]:
    """The layers of an artwork but for bare paper, each with its items and where these are seen.

    opaque: whether shapes hide what lies beneath where they print over it: those of plates that
    let nothing through, and in one plate those above in another colour or strength.
    """
    hidden: shapely.Geometry | None = None
    found = []
    for layer in reversed(artwork.layers):
        if not layer.is_bare:
            found.append((layer, _of_layer(layer, hidden, opaque)))
        if layer.is_bare or (opaque and _lets_nothing_through(layer)):
            hidden = _joined(hidden, layer.items)
    return found[::-1]


def _of_layer(
    layer: Layer, hidden: shapely.Geometry | None, opaque: bool
) -> list[tuple[Item, Sight]]:
    # What prints alike need not be parted, which would leave seams.
    is_mixed = len({(item.colour, item.strength) for item in layer.items}) > 1
    found = []
    for item in reversed(layer.items):
        within = None if item.clip is None else _area([item.clip])
        found.append((item, Sight(within, hidden)))
        if opaque and is_mixed:
            hidden = _joined(hidden, [item])
    return found[::-1]


def _lets_nothing_through(layer: Layer) -> bool:
    return layer.blend == Blend.NORMAL and layer.opacity >= OPAQUE


def _joined(area: shapely.Geometry | None, items: list[Item]) -> shapely.Geometry | None:
    tracings = [item.content for item in items if isinstance(item.content, Tracing)]
    if not any(len(each) for each in tracings):
        return area
    own = _area(tracings)
    return own if area is None else shapely.union(area, own)


def _area(tracings: list[Tracing]) -> shapely.Geometry:
    polygons = [polygon for each in tracings for polygon in each.polygons(PIECES)]
    return shapely.union_all(shapely.make_valid(np.array(polygons, object)))
