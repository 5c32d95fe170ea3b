"""The picture that stands while a stroke is made: only what lies round the stroke is drawn anew."""

import time
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum
from typing import TYPE_CHECKING

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import Sheet
from flinz.core.planes.filters import Plane
from flinz.core.press.figures import Figures
from flinz.core.scale import Frame, region_frame
from flinz.server.said import SaidStroke

if TYPE_CHECKING:
    from flinz.server.views import Answer, View

Pixels = NDArray[np.uint8]

# Over so many mm what is drawn anew gives way to what stands.
GIVES_WAY_MM = 1.0
# Parts that are drawn anew begin and end at multiples of this.
STEP_PX = 16
# Of a stroke that goes over more of the picture than this, all is drawn anew.
MOST_OF_PICTURE = 0.7
# Nobody reads figures that change more often; to work them out is a quarter of a draft.
FIGURES_S = 0.15


class Painted(Enum):
    """What is being painted. IN_PLACE: over a picture that stands but for what lies round it.
    WAITING: nothing more; what was painted is shown, and has not settled. NO_MORE: nothing, and
    what is looked at is shown, settled.
    """

    NOTHING = "nothing"
    SOMEWHERE = "somewhere"
    IN_PLACE = "in place"
    WAITING = "waiting"
    NO_MORE = "no more"


@dataclass(frozen=True)
class Stood:
    """A picture of the sheet looked at, with what was said of it."""

    sheet: Sheet
    view: "View"
    answer: "Answer"
    pixels: Pixels


@dataclass(frozen=True)
class Measured:
    """Figures of a drawing, and the share on which the plate looked at may print; where known."""

    figures: Figures | None = None
    prints: float | None = None


class Standing:
    """What a page was shown last, settled, and since then under strokes that were made."""

    def __init__(self) -> None:
        self._settled: Stood | None = None
        # What it is of, when it was measured, and what was.
        self._measured: tuple[object, float, Measured] | None = None
        # With the stroke that is being made, or was made last.
        self._painted: tuple[SaidStroke, Stood] | None = None

    def settle(self, stood: Stood) -> None:
        """A settled picture, which stands from now on."""
        self._settled, self._painted = stood, None

    def paint(self, said: SaidStroke, stood: Stood) -> None:
        """What stood, with a stroke so far."""
        self._painted = said, stood

    def left(self, sheet: Sheet) -> None:
        """Nothing is being made of a sheet: a stroke that is not in it by now was given up."""
        if self._settled is not None and self._settled.sheet.seen == sheet.seen:
            self._painted = None

    def measured(
        self, of: object, measure: Callable[[], Measured], *, may_be_old: bool = False
    ) -> Measured:
        """Figures of a picture of something. may_be_old: those of the one before will do, if it was
        shown a moment ago.
        """
        held, now = self._measured, time.monotonic()
        if may_be_old and held is not None and held[0] == of and now - held[1] < FIGURES_S:
            return held[2]
        found = measure()
        self._measured = of, now, found
        return found

    def under(self, sheet: Sheet, view: "View") -> Stood | None:
        """What stands of a sheet before its next stroke; None where that is not known."""
        if self._painted is not None and _goes_on(sheet, *self._painted):
            stood = self._painted[1]
            self.settle(Stood(sheet, stood.view, stood.answer, stood.pixels))
        found = self._settled
        if found is None or found.view != view or found.sheet.seen != sheet.seen:
            return None
        return found


def _goes_on(sheet: Sheet, said: SaidStroke, stood: Stood) -> bool:
    """Whether a sheet is the one that stood, with that stroke."""
    if said.stage == "photo" or [each.id for each in sheet.plates] != [
        each.id for each in stood.sheet.plates
    ]:
        return False
    list_id = sheet.plate(said.plate).hand.get(said.stage)
    before = stood.sheet.plate(said.plate)
    if list_id is None or list_id == before.hand.get(said.stage):
        return False
    with_it = stood.sheet.with_plate(before.with_hand(said.stage, list_id))
    return sheet.seen == with_it.seen


def around(said: SaidStroke, frame: Frame, answers_mm: float) -> tuple[Frame, Plane] | None:
    """The part of a frame of the paper that a stroke may change, and how much of what is drawn
    anew shows there, (H, W) float32 0..1. None where it is beside the frame, or is most of it.

    answers_mm: how far beyond its rim a stroke is seen.
    """
    places = np.array(said.points, np.float64)[:, :2] * (frame.full_width, frame.full_height)
    soft = max(1.0, frame.px(GIVES_WAY_MM))
    wide = frame.px(said.size_mm / 2 + answers_mm)
    out = wide + soft + 1
    # No farther off than numbers of pixels go.
    far = 4.0 * max(frame.full_width, frame.full_height)
    places = np.clip(places, -far, far)
    left, top = (int(low) for low in np.floor(places.min(0) - out))
    right, bottom = (int(high) for high in np.ceil(places.max(0) + out))
    # In steps: what is remembered of a part serves the next moments of the stroke, too.
    left, top = max(left // STEP_PX * STEP_PX, frame.left), max(top // STEP_PX * STEP_PX, frame.top)
    right = min(-(-right // STEP_PX) * STEP_PX, frame.right)
    bottom = min(-(-bottom // STEP_PX) * STEP_PX, frame.bottom)
    if right <= left or bottom <= top:
        return None
    if (right - left) * (bottom - top) > MOST_OF_PICTURE * frame.width * frame.height:
        return None
    part = frame.part(left, top, right, bottom)
    mask = np.zeros((part.height, part.width), np.uint8)
    line = np.rint(places - (left, top)).astype(np.int32)
    # A line of one point is a dot.
    line = np.concatenate([line, line[-1:]])
    cv2.polylines(mask, [line], False, 255, max(1, round(2 * wide)))
    side = 2 * round(soft) + 1
    share = cv2.blur(mask, (side, side)).astype(np.float32) * np.float32(1 / 255)
    return part, share


@dataclass(frozen=True)
class Patch:
    """A part of what stands in a frame that is drawn anew, with a stroke. share: how much of that
    shows, (H, W) float32 0..1.
    """

    said: SaidStroke
    stood: Stood
    whole: Frame
    part: Frame
    share: Plane

    def coarse(self, smaller: Frame) -> Frame:
        """The part, in a frame of the whole sheet that has fewer pixels."""
        part, wide, high = self.part, self.part.full_width, self.part.full_height
        bounds = part.left / wide, part.top / high, part.right / wide, part.bottom / high
        return region_frame(smaller, bounds)

    def laid_over(self, drawn: NDArray[np.float32], frame: Frame) -> Pixels:
        """What stands, with what was drawn in a frame of the part, maybe a coarse one."""
        stood, share = self.stood.pixels, self.share
        if frame != self.part:
            drawn = _enlarged(drawn, frame, self.part)
        if drawn.ndim == 3 and stood.ndim == 2:
            stood = np.repeat(stood[..., None], 3, axis=2)
        elif stood.ndim == 3 and drawn.ndim == 2:
            drawn = drawn[..., None]
        if stood.ndim == 3:
            share = share[..., None]
        found = stood.copy()
        here = found[self.part.slices_in(self.whole)]
        mixed = here + share * (drawn * np.float32(255) - here)
        here[...] = np.rint(mixed).astype(np.uint8)
        return found


def _enlarged(drawn: NDArray[np.float32], coarse: Frame, part: Frame) -> NDArray[np.float32]:
    across, down = coarse.full_width / part.full_width, coarse.full_height / part.full_height
    left = (part.left + 0.5) * across - 0.5 - coarse.left
    top = (part.top + 0.5) * down - 0.5 - coarse.top
    found = cv2.warpAffine(
        drawn,
        np.array([[across, 0, left], [0, down, top]]),
        (part.width, part.height),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(found, np.float32)
