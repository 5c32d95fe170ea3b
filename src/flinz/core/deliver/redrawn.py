"""A plate with changed shapes, drawn from its outlines in place of its look."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Item, Layer, VectorWish
from flinz.core.deliver.format import PASSING_BYTES, Delivery
from flinz.core.planes.filters import Plane
from flinz.core.press.press import Press
from flinz.core.scale import Frame
from flinz.core.shapes.edges import thickened
from flinz.core.shapes.filled import Ring, filled
from flinz.core.stages.ink import Colouring, Ink
from flinz.core.trace.tracing import LOOKED_AT, Tracing, flattened

if TYPE_CHECKING:
    from flinz.core.deliver.shaping import TracedSheet

# Less of a pixel has no colour to tell.
LEAST_COVER = 0.02


@dataclass(eq=False)
class Redrawn:
    """What a plate with changed shapes leaves, in any frame of the sheet.

    Its shapes lie over each other in their own colours, and together meet what is beneath, as they
    do in files of shapes.
    """

    layer: Layer
    _rings: dict[int, list[Ring]] = field(default_factory=dict)
    # What was drawn last: its cover is asked for, and then its colours.
    _last: tuple[Frame, Plane, NDArray[np.float32] | None] | None = None

    @property
    def is_coloured(self) -> bool:
        """Whether any of its shapes has another colour than its plate's ink."""
        return any(item.colour != self.layer.ink for item in self.layer.items)

    def ink(self, ink: Ink) -> Ink:
        """The ink of its plate as it prints now."""
        layer = self.layer
        return in_own_colours(ink, layer.opacity, layer.times) if self.is_coloured else ink

    def cover(self, frame: Frame) -> Plane:
        """How much of each pixel is covered, (H, W) float32 0..1."""
        return self._laid(frame)[0]

    def pictured(self, frame: Frame) -> NDArray[np.float32] | None:
        """Colours of what covers, (H, W, 3) float32 0..1, and beside it the nearest, since ink may
        run; None where all are the ink's own.
        """
        return self._laid(frame)[1]

    def inked(self, frame: Frame, strength: Callable[[Item], float]) -> Plane:
        """How much of an ink lies in each pixel, where strength says how much an item has of it;
        what lies under others is hidden.
        """
        found = np.zeros((frame.height, frame.width), np.float32)
        for number, item in enumerate(self.layer.items):
            cover = self._cover_of(number, item, frame)
            found += cover * (np.float32(strength(item)) - found)
        return found

    def _laid(self, frame: Frame) -> tuple[Plane, NDArray[np.float32] | None]:
        # Several threads may ask for different frames.
        last = self._last
        if last is None or last[0] != frame:
            alpha = np.zeros((frame.height, frame.width), np.float32)
            laid = np.zeros((*alpha.shape, 3), np.float32) if self.is_coloured else None
            for number, item in enumerate(self.layer.items):
                cover = self._cover_of(number, item, frame)
                lay(alpha, laid, cover, np.array(item.colour, np.float32))
            if laid is not None:
                gone_on(parted(laid, alpha), alpha >= LEAST_COVER)
            last = self._last = frame, alpha, laid
        return last[1:]

    def _cover_of(self, number: int, item: Item, frame: Frame) -> Plane:
        if not isinstance(item.content, Tracing):
            raise TypeError("Only shapes can be drawn from their outlines.")
        if number not in self._rings:
            self._rings[number] = flattened(item.content, LOOKED_AT)
        cover = filled(self._rings[number], frame)
        return thickened(cover, frame.px(item.reach)) if item.reach else cover


def in_own_colours(ink: Ink, opacity: float, times: int) -> Ink:
    """An ink that leaves the colours that it is given, so often."""
    own = {"colouring": Colouring.PHOTO, "saturation": 1.0, "times": times, "opacity": opacity}
    return ink.model_copy(update=own)


def lay(
    alpha: Plane, laid: NDArray[np.float32] | None, cover: Plane, colours: NDArray[np.float32]
) -> None:
    """Lay colours over what is laid already, as far as they cover; None where none are wanted.

    alpha: (H, W) 0..1; laid: (H, W, 3), times alpha; both change.
    """
    alpha += cover * (1 - alpha)
    if laid is not None:
        laid += cover[..., None] * (colours - laid)


def parted(laid: NDArray[np.float32], alpha: Plane) -> NDArray[np.float32]:
    """The colours of what is laid, however much it covers, in place."""
    laid /= np.maximum(alpha, np.float32(1e-6))[..., None]
    return laid


def gone_on(colours: NDArray[Any], known: NDArray[np.bool_]) -> None:
    """Let the colours (H, W, C) of what is known go on to where nothing is, the nearest first."""
    if known.all() or not known.any():
        return
    bare = ~known
    _, nearest = cv2.distanceTransformWithLabels(
        bare.astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    of_label = np.zeros((int(nearest.max()) + 1, colours.shape[2]), colours.dtype)
    of_label[nearest[known]] = colours[known]
    colours[bare] = of_label[nearest[bare]]


def redrawn_of(delivery: Delivery) -> dict[str, Redrawn]:
    """What the press of a delivery draws from outlines, by the plate."""
    found = delivery.press.results.instead.items()
    return {plate: each for plate, each in found if isinstance(each, Redrawn)}


def with_shapes(
    delivery: Delivery, traced: "TracedSheet", wish: VectorWish | None = None
) -> Delivery:
    """A delivery whose press draws the shapes of a traced sheet as the delivery's changes them."""
    found = traced.edited(delivery.sheet.shapes, wish or VectorWish())
    changed = {shape.plate for shape in found.shapes}
    instead = {
        layer.id: Redrawn(layer)
        for layer in traced.layers(found)
        if layer.id in changed and not layer.has_greys
    }
    old = delivery.press
    press = Press(PASSING_BYTES, gate=old.gate, stock=old.results.stock, instead=instead)
    return replace(delivery, press=press, sheet=delivery.sheet.model_copy(update={"shapes": []}))
