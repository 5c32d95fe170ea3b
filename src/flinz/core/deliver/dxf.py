"""DXF: outlines as closed lines in millimetres, a layer a plate, for cutters."""

import contextlib
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import numpy as np

from flinz.core.deliver.artwork import Artwork, Item, VectorWish
from flinz.core.deliver.primitives import contents_of
from flinz.core.deliver.sight import Sight, sights
from flinz.core.deliver.vectors import vector_format
from flinz.core.deliver.welding import PIECES, Cut, cuts_of_marks, rims
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.trace.tracing import Tracing, flattened

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.layouts.layout import Modelspace


class DxfWish(VectorWish):
    """What DXF is wanted."""

    format: Literal["dxf"] = "dxf"


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write a DXF: outlines as closed polylines, dots as circles, lines by their middle."""
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
            for cut in _seen(item, sight):
                _add(space, cut, name, artwork.height)
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


def _seen(item: Item, sight: Sight) -> Iterator[Cut]:
    """What is seen of an item."""
    for content in contents_of(item):
        if isinstance(content, Dots | Strokes):
            yield from cuts_of_marks(content, sight)
        elif isinstance(content, Tracing) and sight.is_whole:
            yield from ((ring, None) for ring in flattened(content, PIECES))
        elif isinstance(content, Tracing):
            yield from rims(sight.of(np.array(content.polygons(PIECES), object)))


def _add(space: "Modelspace", cut: Cut, layer: str, height: float) -> None:
    """Add what a cutter gets, with y upwards, as DXF has it."""
    line, width = cut
    points = np.column_stack([line[:, 0], height - line[:, 1]]).round(4)
    if width is not None and len(points) == 1:
        space.add_circle(points[0].tolist(), width / 2, dxfattribs={"layer": layer})
        return
    found = space.add_lwpolyline([], close=width is None, dxfattribs={"layer": layer})
    # All points at once: of long outlines one after the other takes minutes.
    found.lwpoints.set(np.pad(points, ((0, 0), (0, 3))))
    if width is not None:
        found.dxf.const_width = width


FORMAT = vector_format(DxfWish, "DXF (outlines for cutters)", ("dxf",), "image/vnd.dxf", write)
