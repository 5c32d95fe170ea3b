"""Edges of a drawing: moved out or in by a distance, and rounded off."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane, blurred

# Ink from this on is inside an edge.
INKED = 0.5
# Grey edges move by no more than this at once, since the time taken grows as its square: a disc
# along a disc's rim makes a larger one, to half a pixel.
WIDEST_DISC_PX = 20
# What lies within a median is counted with 16 bits.
WIDEST_MEDIAN_PX = 127
# Farther than any edge, where there is none.
NOWHERE_PX = 1e6
# Less ink than this in a pixel is none.
LEAST_INK = 0.02


def thickened(cover: Plane, way_px: float, two_tone: bool = False) -> Plane:
    """cover with every edge moved out by way_px, or in where that is negative.

    Two-tone edges move by their distance to a fraction of a pixel; a grey drawing takes the
    darkest (or lightest) ink within a disc, mixed between two discs of whole pixels.
    """
    if way_px < 0:
        return np.asarray(1 - thickened(1 - cover, -way_px, two_tone), np.float32)
    if two_tone:
        return np.asarray(np.clip(way_px + 0.5 - _distance_px(cover), 0, 1), np.float32)
    while way_px > WIDEST_DISC_PX:
        cover = np.asarray(cv2.dilate(cover, _disc(WIDEST_DISC_PX)), np.float32)
        way_px -= WIDEST_DISC_PX
    whole = math.floor(way_px)
    part = np.float32(way_px - whole)
    near, far = (cv2.dilate(cover, _disc(radius)) for radius in (whole, whole + 1))
    return np.asarray((1 - part) * near + part * far, np.float32)


def _disc(radius_px: int) -> NDArray[np.uint8]:
    y, x = np.mgrid[-radius_px : radius_px + 1, -radius_px : radius_px + 1]
    return np.asarray(np.hypot(x, y) <= radius_px + 0.25, np.uint8)


def _distance_px(cover: Plane) -> Plane:
    """How far each pixel's middle lies outside the ink, negative within, along the edge exact.

    A pixel with ink tells where within itself the edge runs: the nearest that has any, or, where
    that holds but a corner, the nearest that is mostly ink.
    """
    away = np.full(cover.shape, NOWHERE_PX, np.float32)
    for least in (LEAST_INK, INKED):
        bare = (cover <= least).astype(np.uint8)
        if bare.all():
            break
        outside, labels = cv2.distanceTransformWithLabels(
            bare, cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
        )
        # The labels count the pixels with ink in their order, from 1.
        rims = np.concatenate([[0], cover[bare == 0]]).astype(np.float32)
        np.minimum(away, outside - (rims[labels] - np.float32(INKED)), out=away)
    # An inked pixel knows its own edge as far as that crosses it, and no further matters.
    return np.asarray(np.where(cover > LEAST_INK, INKED - cover, away), np.float32)


def with_smooth_edges(cover: Plane, sigma_px: float, two_tone: bool) -> Plane:
    """cover with jags narrower than about two sigma_px rounded off and areas kept."""
    if sigma_px < 0.2:
        return cover
    if not two_tone:
        side = 2 * max(1, min(WIDEST_MEDIAN_PX, round(sigma_px * 1.5))) + 1
        steps = np.rint(cover * 255).astype(np.uint8)
        return np.asarray(cv2.medianBlur(steps, side), np.float32) / np.float32(255)
    # A blur and a cut shrink what is round; going as far again the other way keeps the area
    # (after G. Taubin, 1995, "Curve and surface smoothing without shrinkage").
    once = blurred(cover, sigma_px)
    kept = 2 * once - blurred(once, sigma_px)
    # The blurred edge rises by 1 / (sigma sqrt(2 pi)) a pixel; this makes that a whole pixel.
    rise = np.float32(max(1.0, sigma_px * math.sqrt(2 * math.pi)))
    return np.asarray(np.clip((kept - INKED) * rise + INKED, 0, 1), np.float32)
