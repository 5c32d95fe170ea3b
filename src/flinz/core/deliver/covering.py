"""Layers for formats whose ink always covers: what shows through is painted again in its colours.

Where a plate lets through what lies beneath it, that is painted once more within its outlines, in
the colours that both come to. Greys over another plate, and what would come to too many paths, are
laid together in a picture first.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import WHITE, Artwork, Colour, Content, Greys, Item, Layer
from flinz.core.deliver.layering import PICTURE_PX_PER_MM, colour_of
from flinz.core.deliver.primitives import Filled, Lines, Primitive, of_items
from flinz.core.deliver.redrawn import lay, parted
from flinz.core.marks.pen import dots_cover, strokes_cover
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, whole_frame
from flinz.core.shapes.edges import thickened
from flinz.core.shapes.filled import filled
from flinz.core.stages.blend import Blend, mixed
from flinz.core.trace.tracing import LOOKED_AT, Tracing, flattened

# A picture of layers laid together has so many pixels at most.
PICTURE_PIXELS = 24_000_000
# Rows of a picture that are mixed at a time.
ROWS = 256
# Curves and points that a file may have; a pixel takes as much as so much of a point.
MOST_POINTS, OF_A_PIXEL = 3_000_000, 0.2
# A way of meeting that makes these all the same colour hides whatever lies beneath.
TOLD_BY = np.array(
    [[0, 0, 0], [1, 1, 1], [1, 0, 0], [0, 1, 0], [0, 0, 1], [0.5, 0.5, 0.5]], np.float32
)

Colours = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Meeting:
    """How a colour comes to lie on whatever is beneath it."""

    colour: Colour
    opacity: float
    blend: Blend
    times: int = 1

    def over(self, beneath: Colours) -> Colours:
        """What some colours (N, 3) come to, float32 0..1."""
        source = np.array([self.colour], np.float32)
        share = np.array([[self.opacity]], np.float32)
        met: Colours = mixed(beneath[None], source, share, self.blend, self.times)[0]
        return np.clip(met, 0, 1, out=met)

    @property
    def hides(self) -> bool:
        """Whether nothing shows through it."""
        return bool(np.ptp(self.over(TOLD_BY), axis=0).max() < 0.5 / 255)


@dataclass(frozen=True, eq=False)
class Painted:
    """Something in one colour that covers: a part of an item."""

    item: Item
    primitive: Primitive
    colour: Colour


@dataclass(frozen=True, eq=False)
class Pictured:
    """A picture of the whole sheet that covers: (H, W, 3) uint8, sRGB."""

    pixels: NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class Within:
    """What is painted within a part of an item alone."""

    item: Item
    primitive: Primitive
    painted: "Iterator[Covering]"


Covering = Painted | Pictured | Within


def covering(artwork: Artwork) -> Iterator[tuple[str, Covering]]:
    """What a file paints on the paper, one over the other, each with the names of its plates."""
    layers = _ordered(artwork.layers)
    greys = [k for k, layer in enumerate(layers) if layer.has_greys]
    layers = _laid_together(layers, max(greys, default=0), artwork)
    last = max((k for k, layer in enumerate(layers) if not _hides(layer)), default=0)
    # Most sheets have nothing that shows through, and need not be counted.
    if last and _points(layers) > MOST_POINTS:
        layers = _laid_together(layers, last, artwork)
    base = np.array([artwork.paper or WHITE], np.float32)
    for k, layer in enumerate(layers):
        for each in _layer(layers, k, [], base):
            yield layer.name, each


def _ordered(layers: list[Layer]) -> list[Layer]:
    """Layers so that what shows through comes early: those that multiply may change places."""
    found: list[Layer] = []
    for multiplies, own in groupby(layers, _multiplies):
        found.extend(sorted(own, key=_rank) if multiplies else own)  # noqa: B031
    return found


def _multiplies(layer: Layer) -> bool:
    return layer.blend == Blend.MULTIPLY and layer.opacity >= 1


def _rank(layer: Layer) -> int:
    """Pictures first, then marks, of which there are many, then shapes, at last what hides."""
    if layer.has_greys:
        return 0
    if _hides(layer):
        return 3
    return 2 if all(isinstance(item.content, Tracing) for item in layer.items) else 1


def meeting_of(layer: Layer, item: Item) -> Meeting:
    """How an item of a layer comes to lie on what is beneath."""
    return Meeting(item.colour, layer.opacity, layer.blend, layer.times)


def _hides(layer: Layer) -> bool:
    """Whether nothing shows through a layer."""
    return not layer.has_greys and all(meeting_of(layer, item).hides for item in layer.items)


def _layer(
    layers: list[Layer], number: int, above: list[Meeting], base: Colours
) -> Iterator[Covering]:
    """A layer, and what shows through it, as seen through what lies above, the lowest first."""
    layer = layers[number]
    for item, primitive in of_items(layer.items):
        if isinstance(primitive, Greys):
            yield Pictured(seen(primitive, layer, base, above))
            continue
        meeting = meeting_of(layer, item)
        met = _through(meeting.over(base), above)[0]
        yield Painted(item, primitive, colour_of(met))
        if number and not meeting.hides:
            yield Within(item, primitive, _beneath(layers, number, [meeting, *above], base))


def _beneath(
    layers: list[Layer], number: int, above: list[Meeting], base: Colours
) -> Iterator[Covering]:
    for k in range(number):
        yield from _layer(layers, k, above, base)


def _through(colours: Colours, above: Sequence[Meeting]) -> Colours:
    for meeting in above:
        colours = meeting.over(colours)
    return colours


def seen(
    picture: Greys, layer: Layer, base: Colours, above: Sequence[Meeting] = ()
) -> NDArray[np.uint8]:
    """A layer's picture on one colour, (H, W, 3), as seen through what lies above it."""
    found = np.empty((*picture.pixels.shape[:2], 3), np.uint8)
    for top in range(0, len(found), ROWS):
        pixels = shares_of(picture.pixels[top : top + ROWS])
        under = np.empty_like(pixels[..., :3])
        under[:] = base
        alpha = pixels[..., 3] * np.float32(layer.opacity)
        met = mixed(under, pixels[..., :3], alpha, layer.blend, layer.times)
        colours = _through(met.reshape(-1, 3), above).reshape(met.shape)
        found[top : top + ROWS] = np.rint(np.clip(colours, 0, 1) * 255)
    return found


def shares_of(pixels: NDArray[np.uint8]) -> Colours:
    """Colours and how much they cover, (H, W, 4) float32 0..1."""
    return np.asarray(pixels / np.float32(255), np.float32)


def opaque(colours: NDArray[np.uint8]) -> Greys:
    """A picture that covers the whole sheet, of its colours, (H, W, 3)."""
    return Greys(np.dstack([colours, np.full(colours.shape[:2], 255, np.uint8)]))


def _points(layers: list[Layer]) -> float:
    """About how many curves and points a file of layers has."""
    beneath = 0.0
    for number, layer in enumerate(layers):
        own = 0.0
        for item, primitive in of_items(layer.items):
            shows = number and not meeting_of(layer, item).hides
            own += _size(primitive) * (2 if shows else 1) + (beneath if shows else 0)
        beneath += own
    return beneath


def _size(primitive: Primitive) -> float:
    if isinstance(primitive, Greys):
        return OF_A_PIXEL * primitive.pixels[..., 0].size
    if isinstance(primitive, Filled):
        return len(primitive.curves)
    return len(primitive.points) if isinstance(primitive, Lines) else 0


def _laid_together(layers: list[Layer], last: int, artwork: Artwork) -> list[Layer]:
    """Layers of which all up to the last of some are one picture; as they are where that is the
    first.
    """
    if last == 0:
        return layers
    most = (PICTURE_PIXELS / (artwork.width * artwork.height)) ** 0.5
    px_per_mm = min(PICTURE_PX_PER_MM, most)
    width, height = (max(1, round(px_per_mm * mm)) for mm in (artwork.width, artwork.height))
    frame = whole_frame(artwork.width, width, height)
    sheet = np.empty((height, width, 3), np.float32)
    sheet[:] = artwork.paper or WHITE
    for layer in layers[: last + 1]:
        colours, alpha = _colours(layer, frame)
        share = alpha * np.float32(layer.opacity)
        sheet = mixed(sheet, colours, share, layer.blend, layer.times)
    name = ", ".join(layer.name for layer in layers[: last + 1])
    picture = Item(opaque(np.asarray(np.rint(np.clip(sheet, 0, 1) * 255), np.uint8)))
    together = Layer("together", name, (0.0, 0.0, 0.0), [picture], Blend.NORMAL)
    return [together, *layers[last + 1 :]]


def _colours(layer: Layer, frame: Frame) -> tuple[Colours, Plane]:
    """The colours of a layer, (H, W, 3), and how much of each pixel they cover, (H, W)."""
    alpha = np.zeros((frame.height, frame.width), np.float32)
    laid = np.zeros((*alpha.shape, 3), np.float32)
    for item in layer.items:
        if isinstance(item.content, Greys):
            # As a picture it is alone in its layer.
            pixels = shares_of(item.content.pixels)
            way = cv2.INTER_AREA if pixels.shape[1] > frame.width else cv2.INTER_LINEAR
            sized = cv2.resize(pixels, (frame.width, frame.height), interpolation=way)
            return np.asarray(sized[..., :3], np.float32), np.asarray(sized[..., 3], np.float32)
        cover = _cover(item.content, frame)
        if item.reach > 0:
            cover = thickened(cover, frame.px(item.reach))
        if item.clip is not None:
            cover *= _cover(item.clip, frame)
        lay(alpha, laid, cover, np.array(item.colour, np.float32))
    return parted(laid, alpha), alpha


def _cover(content: Content, frame: Frame) -> Plane:
    if isinstance(content, Dots):
        return dots_cover(content, frame)
    if isinstance(content, Strokes):
        return strokes_cover(content, frame)
    if isinstance(content, Tracing):
        return filled(flattened(content, LOOKED_AT), frame)
    raise TypeError("Only shapes and marks can be laid together.")
