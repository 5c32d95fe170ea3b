"""Lost detail: where the photo has something to see and the drawing is bare or solid."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import Sheet
from flinz.core.planes.filters import Plane, blurred, smoothstep
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole_at
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import Frame
from flinz.core.stages.ink import rgb_of

# The fixed grid of the comparison: what is finer is no detail a hand would miss.
LOST_PX_PER_MM = 3.0
LARGEST_EDGE_PX = 1600
# Detail is the spread of tone within this; a drawing is judged over the same.
WINDOW_MM = 0.7
# Spread of the photo's tone at which detail begins and at which it counts in full: beneath lie
# grain and noise.
BEGINS, FULL = 0.018, 0.07
# A drawing is even where its spread is under this, bare or solid where it is as near an extreme.
EVEN, EXTREME = 0.035, 0.05
SOLID_QUANTILE = 0.002
LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)
# Places to look at: this wide, and with at least this share of all that is lost.
PLACE_MM, LEAST_OF_ALL, MOST_PLACES = 20.0, 0.01, 8


@dataclass(frozen=True)
class Place:
    """A part of the sheet, in shares 0..1 of its width and height."""

    left: float
    top: float
    right: float
    bottom: float


@dataclass(frozen=True, eq=False)
class LostDetail:
    """share: of the photo's detail, 0..1. places: the worst first. lost: (H, W) float32 0..1 of
    the whole sheet.
    """

    share: float
    places: list[Place]
    lost: Plane


def lost_detail(press: Press, photo: Photo, sheet: Sheet, stop: Stop = never) -> LostDetail:
    """What of a photo's detail a sheet has lost."""
    frame = whole_at(sheet, photo, LOST_PX_PER_MM, LARGEST_EDGE_PX)
    seen = press.proof(photo, sheet, frame, Subject("photo"), stop=stop)
    drawn = press.proof(photo, sheet, frame, stop=stop)
    return compared(_lightness(seen), _lightness(drawn), frame, _paper_tone(sheet))


def compared(photo: Plane, drawing: Plane, frame: Frame, paper: float = 1.0) -> LostDetail:
    """What of a photo's detail a drawing of the same size has lost.

    photo, drawing: (H, W) float32 0..1, sRGB-encoded lightness; paper: that of the bare sheet.
    Detail is the local standard deviation of the photo. It is lost where the drawing's is next
    to none and its tone next to the paper's, or to its own most solid tone.
    """
    sigma = frame.px(WINDOW_MM)
    _, spread = _local(photo, sigma)
    detail = smoothstep(BEGINS, FULL, spread)
    mean, drawn_spread = _local(drawing, sigma)
    away = np.abs(drawing - np.float32(paper))
    solid = float(np.quantile(away, 1 - SOLID_QUANTILE))
    gap = np.abs(mean - np.float32(paper))
    extreme = np.minimum(gap, np.abs(gap - np.float32(solid)))
    even = 1 - smoothstep(EVEN / 2, EVEN, drawn_spread)
    at_extreme = 1 - smoothstep(EXTREME / 2, EXTREME, np.asarray(extreme, np.float32))
    lost = np.asarray(detail * even * at_extreme, np.float32)
    of_all = max(float(detail.sum(dtype=np.float64)), 1e-6)
    share = float(lost.sum(dtype=np.float64)) / of_all
    return LostDetail(round(share, 4), _worst(lost, frame), lost)


def _paper_tone(sheet: Sheet) -> float:
    return float(rgb_of(sheet.paper.colour) @ LUMINANCE)


def _lightness(picture: NDArray[np.float32]) -> Plane:
    return picture if picture.ndim == 2 else np.asarray(picture @ LUMINANCE, np.float32)


def _local(plane: Plane, sigma: float) -> tuple[Plane, Plane]:
    """Mean and standard deviation over a Gaussian window."""
    mean = blurred(plane, sigma)
    square = blurred(np.asarray(plane * plane, np.float32), sigma)
    return mean, np.sqrt(np.maximum(square - mean * mean, 0)).astype(np.float32)


def _worst(lost: Plane, frame: Frame) -> list[Place]:
    """The places round which most is lost, apart from each other, the worst first."""
    total = float(lost.sum(dtype=np.float64))
    if total <= 0:
        return []
    height, width = lost.shape
    half = max(2, round(frame.px(PLACE_MM / 2)))
    near = cv2.boxFilter(
        lost,
        cv2.CV_32F,
        (2 * half + 1, 2 * half + 1),
        normalize=False,
        borderType=cv2.BORDER_CONSTANT,
    )
    found: list[Place] = []
    while len(found) < MOST_PLACES:
        row, column = np.unravel_index(int(near.argmax()), near.shape)
        if near[row, column] < LEAST_OF_ALL * total:
            break
        left, top = max(0, int(column) - half), max(0, int(row) - half)
        right, bottom = min(width, int(column) + half + 1), min(height, int(row) + half + 1)
        found.append(Place(left / width, top / height, right / width, bottom / height))
        # The next place may touch this one, not lie within it.
        above, before = max(0, int(row) - 2 * half), max(0, int(column) - 2 * half)
        near[above : int(row) + 2 * half, before : int(column) + 2 * half] = 0
    return found
