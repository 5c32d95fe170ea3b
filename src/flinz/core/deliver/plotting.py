"""What the pens of a plotter draw of a sheet: a pen a plate and colour, its lines in order."""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from flinz.core.deliver.artwork import WHITE, Artwork, Colour, Item, Layer
from flinz.core.deliver.pen_ways import ways_of_pen
from flinz.core.deliver.sight import Line, Sight, seen_lines, sights
from flinz.core.marks.ordering import order_of, way_of
from flinz.core.stages.ink import hex_of

# A small table-top machine: mm a second drawing and travelling, seconds to lift and lower.
DRAWS, TRAVELS, LIFTS = 40.0, 90.0, 0.25


@dataclass(frozen=True, eq=False)
class _Part:
    """Marks or shapes of one pen, where they are seen, and how much of its ink they have, 0..1."""

    item: Item
    sight: Sight
    strength: float


@dataclass(frozen=True, eq=False)
class _Pen:
    """What one pen is to draw."""

    name: str
    id: str
    colour: Colour
    parts: list[_Part]


@dataclass(frozen=True)
class Drawn:
    """What one pen draws, in order. drawn, travelled: mm."""

    name: str
    id: str
    colour: Colour
    lines: list[Line]
    drawn: float
    travelled: float


def pens_of(artwork: Artwork, nib: float, *, to_width: bool = False) -> list[Drawn]:
    """What the pens of an artwork draw, with a nib of so many mm: one a plate, one for its lights
    where it prints two colours, and one a colour that shapes of it were given; none in the colour
    of the paper. What lies under bare paper or shapes that let nothing through is not drawn.

    to_width: whether strokes wider than the nib are drawn as wide as they are; else by their
    middle lines.
    """
    paper = artwork.paper or WHITE
    # Marks may hang over its edge.
    sheet = Sight(shapely.box(0, 0, artwork.width, artwork.height))
    found = []
    for layer, seen in sights(artwork, opaque=True):
        for pen in _pens_of_layer(layer, seen):
            if pen.colour != paper:
                lines = (
                    ways_of_pen(part.item, part.sight, part.strength, nib, to_width=to_width)
                    for part in pen.parts
                )
                whole = itertools.chain.from_iterable(lines)
                found.append(_drawn(pen, list(seen_lines(whole, sheet))))
    return found


def _pens_of_layer(layer: Layer, seen: list[tuple[Item, Sight]]) -> Iterator[_Pen]:
    own = [(item, sight) for item, sight in seen if not item.given]
    parts = [_Part(item, sight, item.strength) for item, sight in own]
    yield _Pen(layer.name, layer.id, layer.ink, parts)
    if layer.lights is not None:
        parts = [_Part(item, sight, 1 - item.strength) for item, sight in own]
        yield _Pen(f"{layer.name}, lights", f"{layer.id}-lights", layer.lights, parts)
    for colour in dict.fromkeys(item.colour for item in layer.items if item.given):
        words = hex_of(colour)
        given = [each for each in seen if each[0].given and each[0].colour == colour]
        parts = [_Part(item, sight, 1.0) for item, sight in given]
        yield _Pen(f"{layer.name}, {words}", f"{layer.id}-{words[1:]}", colour, parts)


def _drawn(pen: _Pen, lines: list[Line]) -> Drawn:
    begin = np.array([line[0] for line in lines]).reshape(-1, 2)
    end = np.array([line[-1] for line in lines]).reshape(-1, 2)
    order, turned = order_of(begin, end)
    ordered = [lines[k][::-1] if back else lines[k] for k, back in zip(order, turned, strict=True)]
    drawn = sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in lines)
    travelled = way_of(begin, end, order, turned) if len(lines) else 0.0
    return Drawn(pen.name, pen.id, pen.colour, ordered, drawn, travelled)


def left_out(artwork: Artwork) -> list[str]:
    """Names of plates that have greys, which no pen draws."""
    return [layer.name for layer in artwork.layers if layer.has_greys]


def work_words(lines: int, drawn: float, travelled: float) -> str:
    """What a machine has to do, and about how long it takes; drawn, travelled: mm."""
    seconds = drawn / DRAWS + travelled / TRAVELS + LIFTS * lines
    minutes = max(1, round(seconds / 60))
    takes = f"{minutes} min" if minutes < 90 else f"{minutes // 60} h {minutes % 60} min"
    return (
        f"{lines:,} lines, {drawn / 1000:.1f} m drawn, {travelled / 1000:.1f} m travelled, "
        f"about {takes}"
    )
