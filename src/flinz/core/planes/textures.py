"""Surfaces that a sheet may have: noise fixed to the paper, as height in mm and as tint.

Every surface is a function of the place on paper, so that it has no seam and repeats nowhere. What
is too fine for a pixel is left out as averaging would: a large picture shrunk is the small one.
"""

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache, partial

import cv2
import numpy as np

from flinz.core.planes import surfaces
from flinz.core.planes.filters import Plane, smoothstep
from flinz.core.planes.finer import Finer, averaged_of, finer_of
from flinz.core.scale import Frame, whole_frame


class Surface(StrEnum):
    """What a sheet's surface is like."""

    SMOOTH = "smooth"
    WOVE = "wove"
    LAID = "laid"
    KRAFT = "kraft"
    ROUGH = "rough"
    LINEN = "linen"
    BOARD = "board"
    PLASTER = "plaster"
    BRICK = "brick"
    CHALKBOARD = "chalkboard"


# The sun stands so low over it, degrees.
ELEVATION = 25.0
ORDER = list(Surface)
# All that are not even.
ROUGHER = [each for each in Surface if each != Surface.SMOOTH]
# Mean height and its standard deviation, mm, measured over 200 mm.
HEIGHTS = {
    Surface.WOVE: (0.0, 0.006),
    Surface.LAID: (0.0015, 0.011),
    Surface.KRAFT: (0.0, 0.006),
    Surface.ROUGH: (0.038, 0.030),
    Surface.LINEN: (0.0, 0.015),
    Surface.BOARD: (0.0, 0.007),
    Surface.PLASTER: (0.15, 0.25),
    Surface.BRICK: (0.38, 0.21),
    Surface.CHALKBOARD: (0.0, 0.002),
}
# From one of what makes the surface to the next, mm: a felt mark, a line of the mould, a fibre's
# breadth, a pillow, a thread, a fleck, a trowel's stroke, a course of bricks, a scratch.
GRAINS_MM = {
    Surface.WOVE: 1.7,
    Surface.LAID: 1.05,
    Surface.KRAFT: 0.45,
    Surface.ROUGH: 1.4,
    Surface.LINEN: 0.72,
    Surface.BOARD: 1.1,
    Surface.PLASTER: 3.4,
    Surface.BRICK: 15.0,
    Surface.CHALKBOARD: 0.8,
}
# From its dips to its tops, mm: all but two per cent of either, measured over 200 mm.
DEPTHS_MM = {
    Surface.WOVE: 0.024,
    Surface.LAID: 0.043,
    Surface.KRAFT: 0.023,
    Surface.ROUGH: 0.123,
    Surface.LINEN: 0.051,
    Surface.BOARD: 0.027,
    Surface.PLASTER: 1.0,
    Surface.BRICK: 0.69,
    Surface.CHALKBOARD: 0.008,
}
# Ink begins to be lost so many deviations from the mean, and is lost altogether at the second.
HELD, LOST = 0.3, -1.1
# Coarser than this a surface is worked out twice as finely, and averaged.
COARSE_PX_PER_MM = 5.0
# Finer than this nothing is left that light or ink would show.
FINEST_PX_PER_MM = 16.0
# What is finer than a pixel is told by patches strewn over a large sheet, mm; of so many fine
# places a side in all, in pieces of at most so many.
STREWN_MM, SAMPLED, PIECE = 1500.0, 720, 180
# It is told anew for so many scales an octave, and so many degrees of the light.
SCALES, TURN = 8, 15.0
# Shares of a golden kind, so that no two patches lie close (M. Roberts, 2018).
STREWN = 0.7548776662466927, 0.5698402909980532
# Grains along which ink runs, mm; it runs farther where it runs at all.
RUNS_MM = (0.28, 0.9)


@dataclass(frozen=True, eq=False)
class Relief:
    """A surface in a frame, (H, W) float32 each.

    height: mm, about 0. slope: towards the light, rise by run. tint: -1 for black to 1 for white,
    0 for the paper's own colour. heights, slopes: what pixels hold that is finer than they are,
    heights at a grain of 1; None where nothing is.
    """

    height: Plane
    slope: Plane
    tint: Plane
    heights: Finer | None = None
    slopes: Finer | None = None


def relief(surface: Surface, frame: Frame, grain: float, angle: float) -> Relief:
    """A surface in a frame.

    grain: how large it is, as a multiple of its usual size. angle: where light comes from,
    degrees counter-clockwise from the right.
    """
    step = math.floor(SCALES * math.log2(frame.px_per_mm * grain / COARSE_PX_PER_MM))
    heights, slopes = _finer(surface, step, TURN * round(angle / TURN))
    return replace(_averaged(surface, frame, grain, angle), heights=heights, slopes=slopes)


# The same for every part that is looked at, nearly so as a dial moves on, and small.
@lru_cache(maxsize=64)
def _finer(surface: Surface, step: int, angle: float) -> tuple[Finer, Finer] | tuple[None, None]:
    """How heights and slopes finer than a pixel are spread, at a grain of 1 and about a scale."""
    px_per_mm = COARSE_PX_PER_MM * 2 ** ((step + 0.5) / SCALES)
    times = math.ceil(FINEST_PX_PER_MM / px_per_mm)
    if times == 1:
        return None, None
    side = max(1, PIECE // times)
    pieces = max(1, SAMPLED**2 // (side * times) ** 2)
    edge = math.ceil(STREWN_MM * px_per_mm) + side
    sheet = replace(whole_frame(STREWN_MM, edge, edge), px_per_mm=px_per_mm)
    own, within = [], []
    for piece in range(pieces):
        left, top = (int(piece * way % 1 * (edge - side)) for way in STREWN)
        part = sheet.part(left, top, left + side, top + side)
        pixels = _averaged(surface, part, 1.0, angle)
        places = _relief(surface, part.magnified(times), 1.0, angle)
        own.append([pixels.height.ravel(), pixels.slope.ravel()])
        within.append([_by_pixel(each, times) for each in (places.height, places.slope)])
    heights, slopes = (
        finer_of(np.concatenate(ones), np.concatenate(finer))
        for ones, finer in zip(zip(*own, strict=True), zip(*within, strict=True), strict=True)
    )
    return heights, slopes


def _by_pixel(places: Plane, times: int) -> Plane:
    """(N, times²): the places that lie in each pixel."""
    rows, columns = (side // times for side in places.shape)
    tiles = places.reshape(rows, times, columns, times).swapaxes(1, 2)
    return tiles.reshape(rows * columns, times * times)


def _averaged(surface: Surface, frame: Frame, grain: float, angle: float) -> Relief:
    if frame.px_per_mm * grain < COARSE_PX_PER_MM:
        fine = _relief(surface, frame.magnified(2), grain, angle)
        return Relief(_halved(fine.height), _halved(fine.slope), _halved(fine.tint))
    return _relief(surface, frame, grain, angle)


def _halved(plane: Plane) -> Plane:
    size = plane.shape[1] // 2, plane.shape[0] // 2
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)


def _relief(surface: Surface, frame: Frame, grain: float, angle: float) -> Relief:
    where, a_pixel = _where(frame, grain)
    corners, tint = surfaces.surface(ORDER.index(surface), *where, *a_pixel)
    turn = math.radians(angle)
    # What faces the light falls towards it.
    to_x = np.float32(-math.cos(turn) / a_pixel[0])
    to_y = np.float32(math.sin(turn) / a_pixel[1])
    slope, height = surfaces.sloped(corners, to_x, to_y, np.float32(grain))
    return Relief(height, slope, tint)


def _where(
    frame: Frame, grain: float
) -> tuple[tuple[int, int, int, int], tuple[np.float32, np.float32]]:
    """Left, top, width and height of a frame, and mm a pixel and a row at the usual grain."""
    per_px, per_row = (np.float32(1.0 / (each * grain)) for each in frame.per_mm)
    return (frame.left, frame.top, frame.width, frame.height), (per_px, per_row)


def lit(colour: Plane, found: Relief, depth: float) -> Plane:
    """The colour of a paper, (C,) float32 0..1, under low light, (H, W, C).

    depth: how deep it is, as a multiple of its usual depth. J. Lambert's (1760) law for small
    slopes, its lights at the paper's own colour.
    """
    steep = np.float32(depth / math.tan(math.radians(ELEVATION)))
    # What is lit most is as bright as flat paper: white can be no whiter.
    flat = 1 - np.float32(min(0.08, 0.16 * depth))

    def met(slope: Plane, brightest: float) -> Plane:
        light = flat + np.clip(slope * steep, -0.75, 0.25)
        return np.asarray(np.minimum(light, np.float32(brightest)), np.float32)

    tint = np.clip(found.tint * np.float32(depth), -0.9, 0.9)
    out = np.empty((*found.slope.shape, len(colour)), np.float32)
    for channel, own in enumerate(colour):
        light = partial(met, brightest=1 / max(float(own), 0.1))
        shown = own * (1 + np.minimum(tint, 0)) + np.maximum(tint, 0) * (1 - own)
        shown = shown * averaged_of(light, found.slope, found.slopes)
        out[..., channel] = np.clip(shown, 0, 1)
    return out


def tops(surface: Surface, found: Relief, grain: float) -> Plane:
    """How well ink is held at each pixel, (H, W) float32: from 1 on the tops to 0 in the dips."""
    mean, spread = (np.float32(each) for each in HEIGHTS[surface])

    def holding(height: Plane) -> Plane:
        return smoothstep(LOST, HELD, np.asarray((height - mean) / spread, np.float32))

    return averaged_of(holding, found.height, found.heights, grain)


def soaked(cover: Plane, frame: Frame, soak_mm: float, grain: float) -> Plane:
    """Ink that ran along fibres, (H, W) float32 0..1: about soak_mm, here more and there less.

    cover: (H, W) float32 0..1 in a frame; what lies beyond it is as it is at its rim.
    """
    where, a_pixel = _where(frame, grain)
    across, down = surfaces.runs(*where, *a_pixel, *(np.float32(each) for each in RUNS_MM))
    reach = np.float32(2 * frame.px(soak_mm))
    rows, columns = np.indices(cover.shape, np.float32)
    return np.asarray(
        cv2.remap(
            cover,
            columns + reach * across,
            rows + reach * down,
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        ),
        np.float32,
    )
