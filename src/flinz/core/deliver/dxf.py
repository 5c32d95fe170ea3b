"""DXF: outlines as closed lines in millimetres, a layer a plate, for cutters."""

from pathlib import Path
from typing import Literal

import numpy as np
from ezdxf import units
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.primitives import Filled, Lines, of_items
from flinz.core.deliver.vectors import vector_format
from flinz.core.trace.tracing import Tracing, flattened

# Curves are cut in pieces of about this length, at least so many and at most.
PIECES = 12
NO_SHAPES = np.zeros(0)


class DxfWish(VectorWish):
    """What DXF is wanted."""

    format: Literal["dxf"] = "dxf"


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write a DXF: rings as closed polylines, dots as circles, strokes by their middle lines."""
    document = new("R2010", units=units.MM)
    # Neither clock nor chance.
    for name in ("$TDCREATE", "$TDUCREATE", "$TDUPDATE", "$TDUUPDATE"):
        document.header[name] = 2451544.0
    for name in ("$VERSIONGUID", "$FINGERPRINTGUID"):
        document.header[name] = "{00000000-0000-0000-0000-000000000000}"
    space = document.modelspace()
    for layer in artwork.layers:
        name = _layer_name(layer.id)
        red, green, blue = (round(value * 255) for value in layer.ink)
        document.layers.add(name, true_color=(red << 16) + (green << 8) + blue)
        for _, primitive in of_items(layer.items):
            if isinstance(primitive, Filled):
                _rings(space, primitive, artwork.height, name)
            elif isinstance(primitive, Lines):
                _lines(space, primitive, artwork.height, name)
    with path.open("w", encoding="utf-8") as file:
        document.write(file)


def _rings(space: Modelspace, filled: Filled, height: float, layer: str) -> None:
    whole = Tracing(filled.curves, filled.first, NO_SHAPES, NO_SHAPES)  # type: ignore[arg-type]
    for ring in flattened(whole, PIECES):
        points = np.column_stack([ring[:, 0], height - ring[:, 1]]).round(4)
        space.add_lwpolyline(points.tolist(), close=True, dxfattribs={"layer": layer})


def _lines(space: Modelspace, lines: Lines, height: float, layer: str) -> None:
    points = np.column_stack([lines.points[:, 0], height - lines.points[:, 1]]).round(4)
    for low, high in zip(lines.first[:-1], lines.first[1:], strict=True):
        own = points[low:high].tolist()
        if len(own) == 1:
            space.add_circle(own[0], lines.width / 2, dxfattribs={"layer": layer})
        else:
            space.add_lwpolyline(own, dxfattribs={"layer": layer, "const_width": lines.width})


def _layer_name(plate_id: str) -> str:
    return plate_id.upper()


FORMAT = vector_format(DxfWish, "DXF (outlines for cutters)", ("dxf",), "image/vnd.dxf", write)
