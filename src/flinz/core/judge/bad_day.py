"""The sheet as a rough press would print it: to be looked at before paper is spent."""

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane
from flinz.core.planes.grain import paper_grain
from flinz.core.planes.photo import Photo
from flinz.core.planes.smear import moved
from flinz.core.press.impressions import Impression, bare, is_grey_sheet, on_paper
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, check, never
from flinz.core.scale import Frame
from flinz.core.shapes.edges import thickened

# Ink lies unevenly in clouds and in grains of so many mm.
CLOUDS_MM, GRAINS_MM = 25.0, 0.6


class BadDay(Settings):
    """How badly: ink spreads by gain and plates lie up to slip off, mm; ink is uneven, 0..1.

    half: only the right half of the sheet, beside the good print.
    """

    gain: float = Field(0.08, ge=0, le=1, allow_inf_nan=False)
    slip: float = Field(0.6, ge=0, le=5, allow_inf_nan=False)
    uneven: float = Field(0.3, ge=0, le=1, allow_inf_nan=False)
    seed: int = Field(1, ge=0, le=1_000_000)
    half: bool = False


def printed_badly(
    press: Press, photo: Photo, sheet: Sheet, frame: Frame, day: BadDay, stop: Stop = never
) -> NDArray[np.float32]:
    """A picture of the sheet, float32 0..1, sRGB-encoded, (H, W) or (H, W, 3). Raises Stopped."""
    if day.half:
        good = press.proof(photo, sheet, frame, stop=stop)
        bad = printed_badly(
            press, photo, sheet, frame, day.model_copy(update={"half": False}), stop
        )
        middle = frame.full_width // 2 - frame.left
        if good.ndim < bad.ndim:
            good = np.repeat(good[..., None], 3, 2)
        columns = np.arange(frame.width) >= middle
        where = columns[None, :] if good.ndim == 2 else columns[None, :, None]
        return np.asarray(np.where(where, bad, good), np.float32)
    plates = [plate for plate in sheet.plates if plate.shown]
    reach = math.ceil(frame.px(day.gain + 2 * day.slip)) + 2
    outer = frame.widened(reach)
    rng = np.random.default_rng(day.seed)
    impressions = []
    for number, plate in enumerate(plates):
        check(stop)
        left = press.impression(photo, sheet, plate, outer, stop=stop)
        turn, far = rng.uniform(0, 2 * math.pi), day.slip * math.sqrt(rng.uniform(0.1, 1))
        # The first plate is where the others are measured from.
        far = 0.0 if number == 0 and len(plates) > 1 else far
        gain_px = outer.px(day.gain)
        if gain_px:
            two_tone = look_of(plate.draw).two_tone(plate.draw)
            left = replace(left, cover=thickened(left.cover, gain_px, two_tone))
        slipped = _slipped(left, outer, frame, far * math.cos(turn), far * math.sin(turn))
        seed = day.seed * 31 + number
        impressions.append(_uneven(slipped, frame, day.uneven, seed))
    is_grey = is_grey_sheet(sheet.paper, [each.ink for each in impressions])
    return on_paper(bare(sheet.paper, frame, is_grey), impressions)


def _slipped(left: Impression, outer: Frame, frame: Frame, x_mm: float, y_mm: float) -> Impression:
    """What was drawn in an outer frame, where it lands in an inner one."""
    inner = frame.slices_in(outer)

    def landed(plane: Plane, *, goes_on: bool = False) -> Plane:
        there = moved(plane, outer.px(x_mm), outer.px(y_mm), goes_on=goes_on)
        return np.ascontiguousarray(there[inner])

    return replace(
        left,
        cover=landed(left.cover),
        where=None if left.where is None else landed(left.where),
        photo=None if left.photo is None else landed(left.photo, goes_on=True),
        hides=None if left.hides is None else landed(left.hides),
    )


def _uneven(left: Impression, frame: Frame, amount: float, seed: int) -> Impression:
    """Ink thinner in clouds and grains fixed to the paper."""
    clouds = paper_grain(frame, CLOUDS_MM, seed)
    grains = paper_grain(frame, GRAINS_MM, seed + 1)
    thin = np.float32(amount) * (np.float32(0.6) * clouds + np.float32(0.4) * grains)
    return replace(left, cover=np.asarray(left.cover * (1 - thin), np.float32))
