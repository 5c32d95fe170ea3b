"""Sheets with changed shapes as pictures of pixels."""

from dataclasses import replace

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.redrawn import with_shapes
from flinz.core.deliver.shaping import traced_as_changed

# Of the work on a file, what its shapes take.
TRACED_SHARE = 0.6


def reshaped(delivery: Delivery) -> Delivery:
    """A delivery whose press draws changed shapes as they are changed; the same where none are.

    Raises DocumentError, Stopped.
    """
    changes = delivery.sheet.shapes
    if not changes:
        return delivery
    changed = {part.plate for change in changes for part in change.of}
    first = replace(delivery, progress=lambda share: delivery.progress(TRACED_SHARE * share))
    traced = traced_as_changed(first, VectorWish(), only=changed)
    then = with_shapes(delivery, traced)
    return replace(
        then,
        progress=lambda share: delivery.progress(TRACED_SHARE + (1 - TRACED_SHARE) * share),
    )
