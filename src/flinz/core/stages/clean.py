"""Clean: removes specks, fills pinholes, smooths jagged edges, sharpens."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Dial, Settings
from flinz.core.filters import Plane, blurred
from flinz.core.scale import Frame

# Ink above this counts as an island, below it as paper, when areas are measured.
INKED = 0.5


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


def cleaned(cover: Plane, settings: Clean, frame: Frame, two_tone: bool) -> Plane:
    """A drawing after cleaning.

    cover: (H, W) float32, ink 0..1. two_tone: whether the look draws pure black and white; its
    edges stay at most a pixel wide, where a grey drawing keeps its greys. Returns the same shape.
    """
    out = cover
    if settings.smooth > 0:
        out = _with_smooth_edges(out, frame.px(settings.smooth) / 2, two_tone)
    if settings.specks > 0:
        out = without_specks(out, frame.area_px(settings.specks))
    if settings.pinholes > 0:
        out = without_pinholes(out, frame.area_px(settings.pinholes))
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


def without_specks(cover: Plane, least_px: float) -> Plane:
    """cover with dark islands of fewer than least_px pixels taken away, soft rims included."""
    small = _small_regions(cover >= INKED, least_px, connectivity=8)
    # What is faint and touches no island is an island too.
    faint = _small_regions((cover > 0) & (cover < INKED), least_px, connectivity=8)
    kept = cv2.dilate(((cover >= INKED) & ~small).astype(np.uint8), np.ones((3, 3), np.uint8))
    gone = (small | faint) & (kept == 0) | small
    rims = cv2.dilate(small.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    gone |= rims & (kept == 0) & (cover < INKED)
    return np.asarray(np.where(gone, np.float32(0), cover), np.float32)


def without_pinholes(cover: Plane, least_px: float) -> Plane:
    """cover with white holes of fewer than least_px pixels filled with the ink around them."""
    small = _small_regions(cover < INKED, least_px, connectivity=4)
    if not small.any():
        return cover
    side = 2 * math.ceil(math.sqrt(least_px / math.pi)) + 3
    around = cv2.dilate(cover, cv2.getStructuringElement(cv2.MORPH_RECT, (side, side)))
    return np.asarray(np.where(small, around, cover), np.float32)


def _small_regions(
    mask: NDArray[np.bool_], least_px: float, connectivity: int
) -> NDArray[np.bool_]:
    count, labels, stats, _ = cv2.connectedComponentsWithStats(
        mask.astype(np.uint8), connectivity=connectivity
    )
    small = stats[:, cv2.CC_STAT_AREA] < least_px
    small[0] = False
    if count <= 1 or not small.any():
        return np.zeros(mask.shape, np.bool_)
    return np.asarray(small[labels], np.bool_)


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
