"""Clean: removes specks, fills pinholes, smooths jagged edges, sharpens."""

import math
from typing import Any

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.dial import Dial, Settings
from flinz.core.filters import Plane, blurred
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.scale import Frame

# Ink above this counts as an island, below it as paper, when areas are measured.
INKED = 0.5
NEIGHBOURS = np.ones((3, 3), np.uint8)


class Clean(Settings):
    """What is too small to print, and how edges run."""

    specks: float = Dial(
        0.0,
        ge=0.0,
        le=25.0,
        high=2.0,
        step=0.01,
        unit="mm²",
        label="Specks",
        hint="Dark islands under this are removed",
    )
    pinholes: float = Dial(
        0.0,
        ge=0.0,
        le=25.0,
        high=2.0,
        step=0.01,
        unit="mm²",
        label="Pinholes",
        hint="White holes under this are filled",
    )
    smooth: float = Dial(
        0.0,
        ge=0.0,
        le=3.0,
        high=1.0,
        step=0.02,
        unit="mm",
        label="Smooth edges",
        hint="Jags under this are rounded off",
    )
    sharpen: float = Dial(
        0.0,
        ge=0.0,
        le=3.0,
        step=0.05,
        label="Sharpen",
        hint="Steeper edges in the drawing",
    )
    sharpen_radius: float = Dial(
        0.3,
        ge=0.05,
        le=5.0,
        high=2.0,
        step=0.05,
        unit="mm",
        label="Sharpen radius",
        hint="Width of the edges it works on",
    )

    @property
    def is_neutral(self) -> bool:
        """Whether the drawing passes as it is."""
        return not (self.specks or self.pinholes or self.smooth or self.sharpen)


def cleaned(
    cover: Plane, settings: Clean, frame: Frame, two_tone: bool, keep: Keep = keep_nothing
) -> Plane:
    """A drawing after cleaning.

    cover: (H, W) float32, ink 0..1. two_tone: whether the look draws pure black and white; its
    edges stay at most a pixel wide, where a grey drawing keeps its greys. keep remembers each
    step, so that a dial redoes only what comes after it. Returns the same shape.
    """
    out = cover
    smooth, specks, pinholes = settings.smooth, settings.specks, settings.pinholes
    if smooth > 0:
        sigma_px = frame.px(smooth) / 2
        out = keep("smooth", smooth, lambda: _with_smooth_edges(cover, sigma_px, two_tone))
    if specks > 0:
        rough, least = out, frame.area_px(specks)
        out = keep("specks", (smooth, specks), lambda: without_specks(rough, least, two_tone))
    if pinholes > 0:
        holed, largest = out, frame.area_px(pinholes)
        out = keep(
            "pinholes",
            (smooth, specks, pinholes),
            lambda: without_pinholes(holed, largest, two_tone),
        )
    if settings.sharpen > 0:
        soft = blurred(out, frame.px(settings.sharpen_radius))
        out = np.clip(out + np.float32(settings.sharpen) * (out - soft), 0, 1)
    return np.asarray(out, np.float32)


def reach_mm(settings: Clean) -> float:
    """How far away, in mm, ink still matters to a cleaned pixel."""
    # An island of an area is seldom more than a few times as long as it is wide.
    islands = 4 * math.sqrt(max(settings.specks, settings.pinholes))
    edges = 4 * settings.smooth if settings.smooth else 0.0
    sharpening = 4 * settings.sharpen_radius if settings.sharpen else 0.0
    return islands + edges + sharpening


def without_specks(cover: Plane, least_px: float, two_tone: bool = False) -> Plane:
    """cover with dark islands of fewer than least_px pixels taken away, soft rims included.

    In a two-tone drawing an island is all ink that hangs together; in a grey one it is what is
    half inked or more, and besides what is fainter and hangs together by itself.
    """
    if two_tone:
        small, labels = _small_regions(cover > 0, least_px, connectivity=8)
        return np.asarray(_replaced(cover, labels, small, np.float32(0)), np.float32)
    small, labels = _small_regions(cover >= INKED, least_px, connectivity=8)
    faint_small, faint = _small_regions((cover > 0) & (cover < INKED), least_px, connectivity=8)
    gone = small[labels]
    kept = cv2.dilate(((labels > 0) & ~gone).astype(np.uint8), NEIGHBOURS) > 0
    rims = cv2.dilate(gone.astype(np.uint8), NEIGHBOURS) > 0
    gone = gone | ((faint_small[faint] | (rims & (cover < INKED))) & ~kept)
    return np.asarray(np.where(gone, np.float32(0), cover), np.float32)


def without_pinholes(cover: Plane, least_px: float, two_tone: bool = False) -> Plane:
    """cover with white holes of fewer than least_px pixels filled with the ink around them."""
    mask = cover < 1 if two_tone else cover < INKED
    small, labels = _small_regions(mask, least_px, connectivity=4)
    if not small.any():
        return cover
    if two_tone:
        return np.asarray(_replaced(cover, labels, small, np.float32(1)), np.float32)
    side = 2 * math.ceil(math.sqrt(least_px / math.pi)) + 3
    around = cv2.dilate(cover, cv2.getStructuringElement(cv2.MORPH_RECT, (side, side)))
    return np.asarray(np.where(small[labels], around, cover), np.float32)


def _small_regions(
    mask: NDArray[np.bool_], least_px: float, connectivity: int
) -> tuple[NDArray[np.bool_], NDArray[np.int32]]:
    """Which labels are smaller than least_px, and the labels (0 is outside the mask)."""
    count, labels = cv2.connectedComponents(mask.view(np.uint8), connectivity=connectivity)
    small = np.asarray(_areas(labels, count) < least_px, np.bool_)
    small[0] = False
    return small, np.asarray(labels, np.int32)


@njit(cache=True)
def _areas(labels, count) -> Any:  # type: ignore[no-untyped-def]
    # A third of the time of OpenCV's statistics, which also find boxes and middles.
    areas = np.zeros(count, np.int64)
    for label in labels.ravel():
        areas[label] += 1
    return areas


@njit(parallel=True, cache=True)
def _replaced(cover, labels, small, value) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(cover)
    for row in prange(cover.shape[0]):
        for column in range(cover.shape[1]):
            here = cover[row, column]
            out[row, column] = value if small[labels[row, column]] else here
    return out


def _with_smooth_edges(cover: Plane, sigma_px: float, two_tone: bool) -> Plane:
    if sigma_px < 0.2:
        return cover
    if not two_tone:
        side = 2 * max(1, min(60, round(sigma_px * 1.5))) + 1
        steps = np.rint(cover * 255).astype(np.uint8)
        return np.asarray(cv2.medianBlur(steps, side), np.float32) / np.float32(255)
    # A blur and a cut shrink what is round; going as far again the other way keeps the area
    # (after G. Taubin, 1995, "Curve and surface smoothing without shrinkage").
    once = blurred(cover, sigma_px)
    kept = 2 * once - blurred(once, sigma_px)
    # The blurred edge rises by 1 / (sigma sqrt(2 pi)) a pixel; this makes that a whole pixel.
    rise = np.float32(max(1.0, sigma_px * math.sqrt(2 * math.pi)))
    return np.asarray(np.clip((kept - INKED) * rise + INKED, 0, 1), np.float32)
