"""Lines for a pen plotter: middle lines of marks, outlines and nib-wide hatching of shapes."""

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Colour, Greys, Layer
from flinz.core.marks.ordering import order_of, way_of
from flinz.core.marks.outlines import plainer
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.stages.ink import hex_of
from flinz.core.trace.tracing import Tracing

# Hatching lines lie a little closer than they are wide, so that no paper is left between.
OVERLAP, HATCH_DEG = 0.9, 45.0
# A dot up to so many nibs wide is one touch of the pen.
TOUCH_NIBS = 1.4
WITHIN_MM, LONGEST_CHORD_MM = 0.01, 0.4
# A small table-top machine: mm a second drawing and travelling, seconds to lift and lower.
DRAWS, TRAVELS, LIFTS = 40.0, 90.0, 0.25

WHITE: Colour = (1.0, 1.0, 1.0)

# (N, 2) float64 mm; one point is a touch.
Line = NDArray[np.float64]


@dataclass(frozen=True)
class Drawn:
    """What one pen draws, in order. drawn, travelled: mm."""

    name: str
    id: str
    colour: Colour
    lines: list[Line]
    drawn: float
    travelled: float

    @property
    def seconds(self) -> float:
        """About how long it takes."""
        return seconds_of(self.drawn, self.travelled, len(self.lines))


def pens_of(artwork: Artwork, nib: float) -> list[Drawn]:
    """What the pens of an artwork draw, with a nib of so many mm: one a plate, and one a colour
    that shapes of it were given, but for white.
    """
    sheet = shapely.box(0, 0, artwork.width, artwork.height)
    return [
        _drawn(pen, [part for line in _lines_of(pen, nib) for part in _on_sheet(line, sheet)])
        for layer in artwork.layers
        for pen in _by_colour(layer)
    ]


def _by_colour(layer: Layer) -> Iterator[Layer]:
    """A plate's own items, then those in each given colour."""
    given = dict.fromkeys(item.colour for item in layer.items if item.given)
    yield replace(layer, items=[item for item in layer.items if not item.given])
    for colour in given:
        if colour != WHITE:
            own = [item for item in layer.items if item.given and item.colour == colour]
            words = hex_of(colour)
            name, at = f"{layer.name}, {words}", f"{layer.id}-{words[1:]}"
            yield replace(layer, id=at, name=name, ink=colour, items=own)


def _on_sheet(line: Line, sheet: shapely.Polygon) -> Iterator[Line]:
    """What of a line lies on the sheet: marks may hang over its edge."""
    left, top, right, bottom = sheet.bounds
    inside = (line >= (left, top)).all(1) & (line <= (right, bottom)).all(1)
    if inside.all():
        yield line
    elif len(line) > 1:
        cut = shapely.intersection(shapely.LineString(line), sheet)
        for part in shapely.get_parts(cut):
            if part.geom_type == "LineString" and part.length > 0:
                yield np.array(part.coords)


def _drawn(layer: Layer, lines: list[Line]) -> Drawn:
    begin = np.array([line[0] for line in lines]).reshape(-1, 2)
    end = np.array([line[-1] for line in lines]).reshape(-1, 2)
    order, turned = order_of(begin, end)
    ordered = [lines[k][::-1] if back else lines[k] for k, back in zip(order, turned, strict=True)]
    drawn = sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in lines)
    travelled = way_of(begin, end, order, turned) if len(lines) else 0.0
    return Drawn(layer.name, layer.id, layer.ink, ordered, drawn, travelled)


def _lines_of(layer: Layer, nib: float) -> Iterator[Line]:
    for item in layer.items:
        content = item.content
        if isinstance(content, Dots):
            yield from _of_dots(content, nib)
        elif isinstance(content, Strokes):
            thin = plainer(content, WITHIN_MM)
            points = np.column_stack([thin.x, thin.y]).astype(np.float64)
            for low, high in itertools.pairwise(thin.first):
                if high > low:
                    yield points[low:high]
        elif isinstance(content, Tracing):
            for shape in content.polygons(16):
                yield from _of_shape(shape, nib)


def _of_dots(dots: Dots, nib: float) -> Iterator[Line]:
    for x, y, radius in zip(dots.x.tolist(), dots.y.tolist(), dots.radius.tolist(), strict=True):
        if 2 * radius <= TOUCH_NIBS * nib:
            yield np.array([[x, y]])
            continue
        ring = radius - nib / 2
        while ring > 0:
            count = max(8, math.ceil(2 * math.pi * ring / LONGEST_CHORD_MM))
            turn = np.linspace(0, 2 * math.pi, count + 1)
            yield np.column_stack([x + ring * np.cos(turn), y + ring * np.sin(turn)])
            ring -= nib * OVERLAP


def _of_shape(shape: shapely.Polygon, nib: float) -> Iterator[Line]:
    """Its outline drawn within it, and hatching within that."""
    inner = shape.buffer(-nib / 2)
    if inner.is_empty:
        # Thinner than the nib: the line that it is nearest to.
        outline = np.array(shape.exterior.coords)
        yield outline[: len(outline) // 2 + 1]
        return
    for part in shapely.get_parts(inner):
        for ring in (part.exterior, *part.interiors):
            yield np.array(ring.simplify(WITHIN_MM).coords)
    within = shape.buffer(-nib)
    if within.is_empty:
        return
    turned = shapely.affinity.rotate(within, -HATCH_DEG, origin=(0, 0))
    left, top, right, bottom = turned.bounds
    heights = np.arange(top + nib / 2, bottom, nib * OVERLAP)
    rows = shapely.linestrings([[(left - 1, y), (right + 1, y)] for y in heights])
    back = math.radians(HATCH_DEG)
    way = np.array([[math.cos(back), math.sin(back)], [-math.sin(back), math.cos(back)]])
    for cut in shapely.get_parts(shapely.intersection(rows, turned)):
        if cut.geom_type == "LineString" and cut.length > 0:
            yield np.array(cut.coords) @ way


def left_out(artwork: Artwork) -> list[str]:
    """Names of plates that have greys, which no pen draws."""
    return [
        layer.name
        for layer in artwork.layers
        if any(isinstance(item.content, Greys) for item in layer.items)
    ]


def seconds_of(drawn: float, travelled: float, lines: int) -> float:
    """About how long a machine takes; drawn, travelled: mm."""
    return drawn / DRAWS + travelled / TRAVELS + LIFTS * lines


def time_words(seconds: float) -> str:
    """About how long, in words."""
    minutes = max(1, round(seconds / 60))
    return f"{minutes} min" if minutes < 90 else f"{minutes // 60} h {minutes % 60} min"
