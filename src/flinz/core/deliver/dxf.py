"""DXF: outlines as closed lines in millimetres, a layer a plate, for cutters."""

import contextlib
import itertools
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Item, VectorWish
from flinz.core.deliver.primitives import Filled, Lines, of_items
from flinz.core.deliver.sight import Line, Sight, seen_lines, sights
from flinz.core.deliver.vectors import vector_format
from flinz.core.trace.tracing import Tracing, flattened

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.layouts.layout import Modelspace

# Curves are cut in pieces of about this length, at least so many and at most.
PIECES = 12
NO_SHAPES = np.zeros(0)


class DxfWish(VectorWish):
    """What DXF is wanted."""

    format: Literal["dxf"] = "dxf"


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write a DXF: rings as closed polylines, dots as circles, strokes by their middle lines."""
    with _without_clock():
        document = _document(artwork)
        with path.open("w", encoding="utf-8") as file:
            document.write(file)


def _document(artwork: Artwork) -> "Drawing":
    # Loaded once a DXF is wanted: it takes long to import.
    from ezdxf import units
    from ezdxf.filemanagement import new

    document = new("R2010", units=units.MM)
    _order_classes(document)
    space = document.modelspace()
    for layer, seen in sights(artwork, opaque=False):
        name = layer.id.upper()
        red, green, blue = (round(value * 255) for value in layer.ink)
        document.layers.add(name, true_color=(red << 16) + (green << 8) + blue)
        for item, sight in seen:
            for line, width in _seen(item, sight):
                _add(space, _placed(line, artwork.height), width, name)
    return document


@contextlib.contextmanager
def _without_clock() -> Iterator[None]:
    """Equal sheets are equal files: no time and no chance in them."""
    from ezdxf import options  # type: ignore[attr-defined]

    before = options.write_fixed_meta_data_for_testing
    options.write_fixed_meta_data_for_testing = True
    try:
        yield
    finally:
        options.write_fixed_meta_data_for_testing = before


def _order_classes(document: "Drawing") -> None:
    document.classes.add_required_classes(document.dxfversion)
    classes = document.classes.classes
    document.classes.classes = dict(sorted(classes.items()))


def _seen(item: Item, sight: Sight) -> Iterator[tuple[Line, float | None]]:
    """What is seen of an item: closed outlines, and middle lines with their width, mm."""
    if isinstance(item.content, Tracing) and not sight.is_whole:
        polygons = np.array(item.content.polygons(PIECES), object)
        yield from ((ring, None) for ring in _rims(sight.of(polygons)))
        return
    for _, primitive in of_items([item]):
        if isinstance(primitive, Filled):
            yield from ((ring, None) for ring in _rings(primitive, sight))
        elif isinstance(primitive, Lines):
            bounds = itertools.pairwise(primitive.first)
            for line in seen_lines((primitive.points[low:high] for low, high in bounds), sight):
                yield line, primitive.width


def _rings(filled: Filled, sight: Sight) -> Iterator[Line]:
    whole = Tracing(filled.curves, filled.first, NO_SHAPES, NO_SHAPES)  # type: ignore[arg-type]
    rings = flattened(whole, PIECES)
    if sight.is_whole:
        yield from rings
    else:
        marks = np.array([shapely.Polygon(ring) for ring in rings], object)
        yield from _rims(sight.of(shapely.make_valid(marks)))


def _rims(areas: NDArray[Any]) -> Iterator[Line]:
    for ring in shapely.get_rings(shapely.get_parts(areas)):
        yield np.array(ring.coords)[:-1]


def _add(space: "Modelspace", points: list[list[float]], width: float | None, layer: str) -> None:
    """Add an outline, or a line of a width, mm; one of one point is a circle."""
    if width is None:
        space.add_lwpolyline(points, close=True, dxfattribs={"layer": layer})
    elif len(points) == 1:
        space.add_circle(points[0], width / 2, dxfattribs={"layer": layer})
    else:
        space.add_lwpolyline(points, dxfattribs={"layer": layer, "const_width": width})


def _placed(points: Line, height: float) -> list[list[float]]:
    """Points with y upwards, as DXF has it."""
    placed: list[list[float]] = (
        np.column_stack([points[:, 0], height - points[:, 1]]).round(4).tolist()
    )
    return placed


FORMAT = vector_format(DxfWish, "DXF (outlines for cutters)", ("dxf",), "image/vnd.dxf", write)
