"""Finds the size at which a plate is drawn in so many marks."""

import math
from collections.abc import Callable

from flinz.core.dial import dial_of
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.errors import DocumentError

# Marks within this share of what is wished are as many as wished.
NEAR = 0.01
ROUNDS = 9
# How marks grow in number as they grow smaller, until it is known better: as the square.
USUAL_POWER = 2.0


def sized_for(
    press: Press, photo: Photo, sheet: Sheet, plate: Plate, count: int, *, stop: Stop = never
) -> tuple[float, int]:
    """The value of the plate's sizing dial, mm, that gives so many marks, and how many it gives.

    As near as the dial's limits and the most marks a look draws allow. Raises DocumentError where
    the look has no marks by number, or draws none of this photo at all; Stopped.
    """
    look = look_of(plate.draw)
    if not look.sized_by:
        raise DocumentError(f"{look.label} has no marks that could be asked for by number.")
    dial = dial_of(look.settings, look.sized_by)

    def counted(size: float) -> int | None:
        draw = plate.draw.model_copy(update={look.sized_by: size})
        sized = plate.model_copy(update={"draw": draw})
        try:
            if look.predicted:
                return press.predicted(photo, sheet, sized, stop=stop)
            found = press.marks(photo, sheet, sized, stop=stop)
        except DocumentError:
            # More than are drawn at all.
            return None
        return len(found) if found is not None else 0

    size = float(getattr(plate.draw, look.sized_by))
    return _searched(counted, size, (dial.minimum, dial.maximum), count)


def _searched(
    counted: Callable[[float], int | None], size: float, limits: tuple[float, float], count: int
) -> tuple[float, int]:
    """The size whose count is nearest to the wished one, by secants between bounds."""
    low, high = limits
    best: tuple[float, int] | None = None
    power, before = USUAL_POWER, None
    for _ in range(ROUNDS):
        size = round(size, 3)
        found = counted(size)
        if found is None:
            # What is refused is too fine: all that is finer is, too.
            low, size = size, min(high, size * 1.5)
            continue
        if best is None or abs(found - count) < abs(best[1] - count):
            best = size, found
        if abs(found - count) <= NEAR * count:
            break
        if found > count:
            low = max(low, size)
        else:
            high = min(high, size)
        if before is not None and before[0] != size and before[1] != found and found and before[1]:
            power = math.log(before[1] / found) / math.log(size / before[0])
        before = size, found
        wanted = size * (max(found, 1) / count) ** (1 / power) if power > 0 else 0.0
        # A secant that leaves the bounds tells less than their middle.
        size = wanted if low < wanted < high else math.sqrt(low * high)
        if high - low < 0.002 * low:
            break
    if best is None or best[1] == 0:
        raise DocumentError("This drawing has no marks: there is nothing dark enough to draw.")
    return best
