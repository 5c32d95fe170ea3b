"""DXF: outlines as closed lines in millimetres, a layer a plate, for cutters."""

import contextlib
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import numpy as np

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.primitives import Filled, Lines, of_items
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
    for layer in artwork.layers:
        name = layer.id.upper()
        red, green, blue = (round(value * 255) for value in layer.ink)
        document.layers.add(name, true_color=(red << 16) + (green << 8) + blue)
        for _, primitive in of_items(layer.items):
            if isinstance(primitive, Filled):
                _rings(space, primitive, artwork.height, name)
            elif isinstance(primitive, Lines):
                _lines(space, primitive, artwork.height, name)
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


def _rings(space: "Modelspace", filled: Filled, height: float, layer: str) -> None:
    whole = Tracing(filled.curves, filled.first, NO_SHAPES, NO_SHAPES)  # type: ignore[arg-type]
    for ring in flattened(whole, PIECES):
        points = np.column_stack([ring[:, 0], height - ring[:, 1]]).round(4)
        space.add_lwpolyline(points.tolist(), close=True, dxfattribs={"layer": layer})


def _lines(space: "Modelspace", lines: Lines, height: float, layer: str) -> None:
    points = np.column_stack([lines.points[:, 0], height - lines.points[:, 1]]).round(4)
    for low, high in zip(lines.first[:-1], lines.first[1:], strict=True):
        own = points[low:high].tolist()
        if len(own) == 1:
            space.add_circle(own[0], lines.width / 2, dxfattribs={"layer": layer})
        else:
            space.add_lwpolyline(own, dxfattribs={"layer": layer, "const_width": lines.width})


FORMAT = vector_format(DxfWish, "DXF (outlines for cutters)", ("dxf",), "image/vnd.dxf", write)
