"""Plates whose blend modes vector files have no name for, as plates by modes that have one.

An ink s takes c = 1 - s of white. What lies beneath, b, comes to

    sum:                 max(b + s - 1, 0) = |max(b, c) - c|    (lighten with c, difference with c)
    density difference:  1 - |b - s|                            (difference with s, and with white)

Where the ink, or all that lies beneath, is of black, white and full primaries alone, multiply is
the former and exclusion with c the latter; exclusion is also nearest for what is mostly edges,
whose softness doubles where a plate is printed twice, and for less than full ink. Of greys, sums
are so exact where what lies beneath is lighter than c; those of dark ink come nearer by multiply.
"""

from dataclasses import replace

import numpy as np

from flinz.core.deliver.artwork import NO_NAME, WHITE, Artwork, Colour, Greys, Item, Layer, Text
from flinz.core.deliver.covering import meeting_of, opaque, seen, shares_of
from flinz.core.deliver.layering import colour_of
from flinz.core.stages.blend import BY_COLOUR, Blend
from flinz.core.trace.tracing import Tracing

# As near as bytes tell.
NEAR = 1 / 510
# Over all tones alike greys of an ink whose channels sum to less are nearer by multiply: half of c
# squared is how far the one is off, half of c (1 - c) the other.
DARK = 1.5


def in_named_modes(artwork: Artwork) -> Artwork:
    """Artwork that looks the same, or nearly so where a plate has greys, in modes with names.

    Where the paper is left out there is nothing that the ink of such a plate meets beside other
    ink: it multiplies there, as its notes say.
    """
    if not any(layer.blend in NO_NAME for layer in artwork.layers):
        return artwork
    layers: list[Layer] = []
    for layer in artwork.layers:
        layers += _named(layer, artwork.paper, layers) if layer.blend in NO_NAME else [layer]
    return replace(artwork, layers=layers)


def _named(layer: Layer, paper: Colour | None, beneath: list[Layer]) -> list[Layer]:
    if paper is None:
        return [replace(layer, blend=Blend.MULTIPLY)]
    if not beneath:
        return [_on_paper(layer, paper)]
    is_full = _is_full(layer) or (_are_full([paper]) and all(map(_stays_full, beneath)))
    if layer.blend == Blend.SUM:
        if is_full or (layer.has_greys and sum(layer.ink) < DARK):
            return [replace(layer, blend=Blend.MULTIPLY)]
        taken = _taken(layer)
        return [
            replace(taken, blend=Blend.LIGHTEN),
            replace(taken, id=f"{layer.id}-then", blend=Blend.DIFFERENCE),
        ]
    if is_full or layer.opacity < 1 or not all(map(_is_area, layer.items)):
        return [replace(_taken(layer), blend=Blend.EXCLUSION)]
    white = [replace(item, colour=WHITE) for item in layer.items]
    once = replace(layer, blend=Blend.DIFFERENCE, times=1)
    return [
        replace(once, id=name, items=items)
        for k in range(layer.times)
        for name, items in (
            (f"{layer.id}-{k}" if k else layer.id, layer.items),
            (f"{layer.id}-{k}-then", white),
        )
    ]


def _on_paper(layer: Layer, paper: Colour) -> Layer:
    """A layer that lies on bare paper, in the colours that this comes to."""
    base = np.array([paper], np.float32)

    def laid(item: Item) -> Item:
        if isinstance(item.content, Greys):
            return replace(item, content=opaque(seen(item.content, layer, base)))
        return replace(item, colour=colour_of(meeting_of(layer, item).over(base)[0]))

    items = [laid(item) for item in layer.items]
    return replace(layer, items=items, blend=Blend.NORMAL, opacity=1.0, times=1)


def _taken(layer: Layer) -> Layer:
    """A layer in what its inks take of white; less than full ink takes so much less."""
    share = np.float32(layer.opacity)

    def taken(item: Item) -> Item:
        if isinstance(item.content, Greys):
            pixels = shares_of(item.content.pixels)
            gone = (1 - pixels[..., :3]) * pixels[..., 3:] * share
            return replace(item, content=opaque(np.asarray(np.rint(gone * 255), np.uint8)))
        return replace(item, colour=colour_of((1 - np.array(item.colour, np.float32)) * share))

    return replace(layer, items=[taken(item) for item in layer.items], opacity=1.0)


def _is_area(item: Item) -> bool:
    return isinstance(item.content, Tracing | Text)


def _is_full(layer: Layer) -> bool:
    """Whether all of a layer is of black, white and full primaries."""
    return not layer.has_greys and _are_full([item.colour for item in layer.items])


def _stays_full(layer: Layer) -> bool:
    """Whether a layer leaves what is of such colours of such colours."""
    return _is_full(layer) and layer.opacity == 1 and layer.blend not in BY_COLOUR


def _are_full(colours: list[Colour]) -> bool:
    values = np.array(colours, float)
    return bool((np.minimum(values, 1 - values) < NEAR).all())
