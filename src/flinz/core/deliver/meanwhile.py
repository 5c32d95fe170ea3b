"""Changed shapes over a drawing that was not traced yet: colours and what is gone lie where they
lay in the tracing before it.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Colour
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.layering import printed_colour
from flinz.core.deliver.redrawn import gone_on, in_own_colours, lay, parted
from flinz.core.deliver.shaping import REACH_MM, TracedSheet, ways_of
from flinz.core.planes.filters import Plane
from flinz.core.press.impressions import Impression
from flinz.core.press.keys import content_key
from flinz.core.press.press import Press
from flinz.core.press.results import Results
from flinz.core.scale import Frame
from flinz.core.shapes.edges import thickened
from flinz.core.shapes.filled import Ring, filled
from flinz.core.stages.ink import Colouring
from flinz.core.trace.changes import ShapeChange
from flinz.core.trace.editing import Edited, EditedShape, untouched
from flinz.core.trace.lots import Lot
from flinz.core.trace.tracing import LOOKED_AT, Tracing, flattened

# Coloured paper goes on so far beneath ink that may draw back from it.
UNDER_MM = 4 * REACH_MM
# Less of a pixel is of no shape.
LEAST_COVER = 0.5

Pixels = NDArray[np.uint8]


class _Place(NamedTuple):
    """Outlines, and the colour of what lies within them; None for its plate's own."""

    rings: list[Ring]
    colour: Colour | None


@dataclass(frozen=True, eq=False)
class Meanwhile:
    """What is done to the ink of one plate that was drawn otherwise since it was traced.

    key: of the tracing and its changes. Ink has the colour of the nearest ink of the tracing, and
    is gone where that went. beneath and above: what does not lie where it was traced, and coloured
    paper, printed as it was.
    """

    key: str
    way: NDArray[np.float64]
    _ink: list[_Place]
    _gone: list[Ring]
    _beneath: list[_Place]
    _above: list[_Place]

    @property
    def is_coloured(self) -> bool:
        """Whether anything has another colour than its plate's ink."""
        return any(each.colour for each in (*self._ink, *self._beneath, *self._above))

    def over(self, found: Impression, frame: Frame, results: Results) -> Impression:
        """What the plate leaves in a frame, with what is done to it."""
        own, opacity, times = printed_colour(found.ink)

        def kept(what: str, make: Callable[[], Pixels]) -> tuple[NDArray[np.float32], Plane]:
            # None of it answers to the dials of the drawing.
            key = content_key(self.key, what, own, frame)
            pixels = np.float32(1 / 255) * results.get("changed shapes", key, make)
            return pixels[..., :3], pixels[..., 3]

        alpha = np.zeros((frame.height, frame.width), np.float32)
        laid = np.zeros((*alpha.shape, 3), np.float32)
        if self._beneath:
            colours, cover = kept("beneath", lambda: _printed(self._beneath, own, frame, UNDER_MM))
            lay(alpha, laid, cover, colours)
        colours, stays = kept("ink", lambda: self._marked(own, frame))
        lay(alpha, laid, found.share * stays, colours)
        if self._above:
            colours, cover = kept("above", lambda: _printed(self._above, own, frame))
            lay(alpha, laid, cover, colours)
        if not self.is_coloured:
            return replace(found, cover=alpha, where=None)
        ink = in_own_colours(found.ink, opacity, times)
        return replace(found, cover=alpha, where=None, ink=ink, photo=parted(laid, alpha))

    def _marked(self, own: Colour, frame: Frame) -> Pixels:
        """The colour of the nearest ink, and 255 where that stays, (H, W, 4)."""
        marked = np.zeros((frame.height, frame.width, 4), np.uint8)
        marked[:] = _bytes_of(own)
        known = filled(self._gone, frame) >= LEAST_COVER
        marked[known] = 0
        for place in self._ink:
            within = filled(place.rings, frame) >= LEAST_COVER
            marked[within] = _bytes_of(place.colour or own)
            known |= within
        gone_on(marked, known)
        return marked


def _bytes_of(colour: Colour) -> Pixels:
    return np.asarray(np.rint(255 * np.array((*colour, 1))), np.uint8)


def _printed(places: list[_Place], own: Colour, frame: Frame, reach_mm: float = 0.0) -> Pixels:
    """Places printed over each other, each as far beyond its outlines: colours and cover."""
    alpha = np.zeros((frame.height, frame.width), np.float32)
    laid = np.zeros((*alpha.shape, 3), np.float32)
    for place in places:
        cover = filled(place.rings, frame)
        if reach_mm:
            cover = thickened(cover, frame.px(reach_mm))
        lay(alpha, laid, cover, np.array(place.colour or own, np.float32))
    return np.asarray(np.rint(255 * np.dstack([parted(laid, alpha), alpha])), np.uint8)


def all_meanwhile(
    traced: TracedSheet, changes: Sequence[ShapeChange], key: str
) -> dict[str, Meanwhile]:
    """What changes do to the plates of a tracing while they are drawn otherwise, by their ids.

    key: of the tracing and the changes. Plates of several colours are left as they are.
    """
    found = traced.edited(changes, traced.wish)
    all_of = {}
    for layer in traced.plain.layers:
        numbers = [
            at for at, lot in enumerate(traced.lots) if lot.plate == layer.id and not lot.is_white
        ]
        own = [each for each in found.shapes if each.plate == layer.id]
        if len(numbers) == 1 and own:
            way = traced.ways[layer.id]
            parts = _parted(traced.lots[numbers[0]], numbers[0], found, own, changes)
            all_of[layer.id] = Meanwhile(f"{key} {layer.id}", way, *parts)
    return all_of


def drawn_meanwhile(delivery: Delivery, all_of: Mapping[str, Meanwhile]) -> Press:
    """The press of a delivery, with its memory, which does that to plates. One that was moved
    since, and one whose tones have colours of their own, are drawn without.
    """
    plates = [
        plate
        for plate in delivery.sheet.plates
        if plate.id in all_of and plate.ink.colouring == Colouring.SINGLE
    ]
    ways = ways_of(delivery, plates)
    over = {
        plate.id: all_of[plate.id]
        for plate in plates
        if np.array_equal(ways[plate.id], all_of[plate.id].way)
    }
    return delivery.press.with_over(over) if over else delivery.press


def _parted(
    lot: Lot,
    at: int,
    found: Edited,
    own: Sequence[EditedShape],
    changes: Sequence[ShapeChange],
) -> tuple[list[_Place], list[Ring], list[_Place], list[_Place]]:
    """Ink that lies where it was traced, what has gone, what lies beneath and above.

    own: shapes of a plate that are otherwise, in the order that they print.
    """
    left = untouched(at, lot, found)
    ink = [_Place(_rings(lot.tracing.some(left)), None)]
    gone = np.setdiff1d(np.arange(len(lot.tracing)), left)
    beneath, above = [], []
    for shape in own:
        if not shape.is_printed:
            continue
        colour = None if shape.colour == lot.colour else shape.colour
        place = _Place(_rings(shape.tracing), colour)
        if not shape.is_white and not _went(shape, changes):
            ink.append(place)
        elif shape.order < (shape.order[0], 0, at, 0):
            beneath.append(place)
        else:
            above.append(place)
    return ink, _rings(lot.tracing.some(gone)), beneath, above


def _went(shape: EditedShape, changes: Sequence[ShapeChange]) -> bool:
    """Whether anything of a shape lies elsewhere than it was traced."""
    change = None if shape.change is None else changes[shape.change]
    return change is not None and any(part.way is not None for part in change.of)


def _rings(tracing: Tracing) -> list[Ring]:
    return flattened(tracing, LOOKED_AT)
