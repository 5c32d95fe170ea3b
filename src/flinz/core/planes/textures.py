"""Surfaces that a sheet may have: noise fixed to the paper, as height in mm and as tint.

Every surface is a function of the place on paper, so that it has no seam and repeats nowhere. What
is too fine for a pixel is left out as averaging would: a large picture shrunk is the small one.
"""

import math
from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from flinz.core.planes import surfaces
from flinz.core.planes.filters import Plane, smoothstep
from flinz.core.scale import Frame


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
COARSE_PX_PER_MM = 3.6
# Grains along which ink runs, mm; it runs farther where it runs at all.
RUNS_MM = (0.28, 0.9)


@dataclass(frozen=True, eq=False)
class Relief:
    """A surface in a frame, (H, W) float32 each.

    height: mm, about 0. slope: towards the light, rise by run. tint: -1 for black to 1 for white,
    0 for the paper's own colour.
    """

    height: Plane
    slope: Plane
    tint: Plane

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return self.height.nbytes + self.slope.nbytes + self.tint.nbytes


def relief(surface: Surface, frame: Frame, grain: float, angle: float) -> Relief:
    """A surface in a frame.

    grain: how large it is, as a multiple of its usual size. angle: where light comes from,
    degrees counter-clockwise from the right.
    """
    if frame.px_per_mm * grain < COARSE_PX_PER_MM:
        fine = _relief(surface, frame.magnified(2), grain, angle)
        return Relief(*(_halved(each) for each in (fine.height, fine.slope, fine.tint)))
    return _relief(surface, frame, grain, angle)


def _halved(plane: Plane) -> Plane:
    size = plane.shape[1] // 2, plane.shape[0] // 2
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)


def _relief(surface: Surface, frame: Frame, grain: float, angle: float) -> Relief:
    per_px = np.float32(1.0 / (frame.px_per_mm * grain))
    kind = ORDER.index(surface)
    corners, tint = surfaces.surface(kind, frame.left, frame.top, frame.width, frame.height, per_px)
    turn = math.radians(angle)
    # What faces the light falls towards it.
    towards = np.float32(-math.cos(turn) / per_px), np.float32(math.sin(turn) / per_px)
    slope, height = surfaces.sloped(corners, *towards, np.float32(grain))
    return Relief(height, slope, tint)


def lit(colour: Plane, found: Relief, depth: float) -> Plane:
    """The colour of a paper, (C,) float32 0..1, under low light, (H, W, C).

    depth: how deep it is, as a multiple of its usual depth. J. Lambert's (1760) law for small
    slopes, its lights at the paper's own colour.
    """
    low = np.float32(1 / math.tan(math.radians(ELEVATION)))
    light = np.clip(found.slope * low * np.float32(depth), -0.75, 0.25)
    # What is lit most is as bright as flat paper: white can be no whiter.
    brightest = np.float32(min(0.08, 0.16 * depth))
    light = np.asarray(1 - brightest + light, np.float32)[..., None]
    tint = np.clip(found.tint * np.float32(depth), -0.9, 0.9)[..., None]
    own = colour * (1 + np.minimum(tint, 0)) + np.maximum(tint, 0) * (1 - colour)
    return np.asarray(np.clip(own * light, 0, 1), np.float32)


def tops(surface: Surface, found: Relief, grain: float) -> Plane:
    """How well ink is held at each pixel, (H, W) float32: from 1 on the tops to 0 in the dips."""
    mean, spread = (grain * each for each in HEIGHTS[surface])
    return smoothstep(LOST, HELD, (found.height - np.float32(mean)) / np.float32(spread))


def soaked(cover: Plane, frame: Frame, soak_mm: float, grain: float) -> Plane:
    """Ink that ran along fibres, (H, W) float32 0..1: about soak_mm, here more and there less.

    cover: (H, W) float32 0..1 in a frame; what lies beyond it is as it is at its rim.
    """
    per_px = np.float32(1.0 / (frame.px_per_mm * grain))
    where = frame.left, frame.top, frame.width, frame.height
    across, down = surfaces.runs(*where, per_px, *(np.float32(each) for each in RUNS_MM))
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
