"""How likely what lies near a cut is subject: by the colours that lie there on its two sides."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from flinz.core.planes.filters import Plane

Mask = NDArray[np.bool_]

# Kinds of colour that are told apart (more planes OpenCV does not blur at once), and how many
# pixels they are learnt from, in how many rounds.
KINDS, LEARNT_FROM, ROUNDS = 128, 8000, 10
# Kinds are counted in cells of so many pixels, over so many pixels around a place.
CELL_PX, REACH_PX = 8, 30.0
# What lies this deep on its side of the cut surely does; what is nearer counts for less.
SURELY_PX = 8.0
# Of a kind that is a smaller share of both sides nothing is known.
LEAST_SHARE = 5e-4


@dataclass(frozen=True, eq=False)
class Colours:
    """The colours of a picture in kinds, of which there are count.

    places: (H, W) int32, where each pixel is counted: its cell, and its kind there.
    """

    places: NDArray[np.int32]
    count: int


def colours_of(rgb: NDArray[np.float32]) -> Colours:
    """The kinds of colour of a picture, (H, W, 3) float32 0..1, sRGB-encoded."""
    lab = np.asarray(cv2.cvtColor(rgb, cv2.COLOR_RGB2Lab), np.float32)
    height, width = lab.shape[:2]
    pixels = lab.reshape(-1, 3)
    chosen = np.random.default_rng(0).permutation(len(pixels))[:LEARNT_FROM]
    cv2.setRNGSeed(0)
    ends = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, ROUNDS, 1.0)
    count = min(KINDS, len(chosen))
    _, _, centres = cv2.kmeans(
        np.ascontiguousarray(pixels[chosen]), count, np.empty(0), ends, 1, cv2.KMEANS_PP_CENTERS
    )
    _, kinds = cKDTree(centres).query(pixels)
    rows, columns = (np.arange(side) // CELL_PX for side in (height, width))
    cells = rows[:, None] * (columns[-1] + 1) + columns
    places = cells * count + kinds.reshape(height, width)
    return Colours(places.astype(np.int32), count)


def likely_subject(colours: Colours, mask: Mask, depth: Plane) -> Plane:
    """How likely each pixel is of the subject by its colour, (H, W) float32 0..1.

    By how often its kind lies nearby on both sides of the cut: models of colour that hold for a
    neighbourhood only (X. Bai, J. Wang, D. Simons and G. Sapiro, 2009). mask: the subject.
    depth: how deep each pixel lies on its side, in pixels; 0 for what is not counted.
    """
    surely = np.minimum(depth / SURELY_PX, 1)
    ours, theirs = (_shares(colours, surely * side) for side in (mask, ~mask))
    likely = (ours + LEAST_SHARE) / (ours + theirs + 2 * LEAST_SHARE)
    return np.asarray(likely.ravel()[colours.places], np.float32)


def _shares(colours: Colours, weights: Plane) -> NDArray[np.float32]:
    """Of what weighs around each cell the share of each kind, (rows, columns, count)."""
    height, width = colours.places.shape
    cells = -(-height // CELL_PX), -(-width // CELL_PX)
    size = cells[0] * cells[1] * colours.count
    counted = np.bincount(colours.places.ravel(), weights.ravel(), size).astype(np.float32)
    around = cv2.GaussianBlur(
        counted.reshape(*cells, colours.count), (0, 0), REACH_PX / CELL_PX
    ).reshape(*cells, colours.count)
    return np.asarray(around / (around.sum(-1, keepdims=True) + 1e-3), np.float32)
