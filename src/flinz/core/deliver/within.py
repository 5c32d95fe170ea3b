"""Changed shapes of a sheet that lies on another."""

import threading
from collections.abc import Mapping
from dataclasses import replace

from flinz.core.deliver.format import PASSING_BYTES, Delivery
from flinz.core.deliver.reshaped import reshaped
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.impressions import Instead
from flinz.core.press.keys import content_key
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.press.stopping import Stop, check

# Sheets whose shapes are remembered.
MOST = 8
# Who waits for another's tracing looks so often whether it is still wanted, s.
LOOKING_SECONDS = 0.1


class ShapesWithin:
    """What plates with changed shapes leave on sheets that lie on others, drawn from a stock."""

    def __init__(self, stock: Stock) -> None:
        self._stock = stock
        self._known: dict[str, Mapping[str, Instead]] = {}
        self._tracing = threading.Lock()

    def __call__(
        self, photo: Photo, sheet: Sheet, stop: Stop, *, is_draft: bool
    ) -> Mapping[str, Instead] | None:
        """By the plate of a sheet, traced once; None for a draft before that.

        Raises DocumentError, Stopped.
        """
        key = content_key(photo.key, sheet.said)
        if key in self._known or is_draft:
            return self._known.get(key)
        while not self._tracing.acquire(timeout=LOOKING_SECONDS):
            check(stop)
        try:
            if key not in self._known:
                press = Press(PASSING_BYTES, stock=self._stock)
                drawn = reshaped(Delivery(press, photo, sheet, stop=stop))
                self._known[key] = drawn.press.results.instead
                if len(self._known) > MOST:
                    self._known.pop(next(iter(self._known)), None)
            return self._known[key]
        finally:
            self._tracing.release()


def with_shapes_within(stock: Stock) -> Stock:
    """A stock by which sheets that lie on others are drawn with their changed shapes."""
    return replace(stock, shapes_of=ShapesWithin(stock))
