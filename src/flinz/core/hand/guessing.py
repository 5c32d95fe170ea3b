"""A first guess at the subject of a photo, with no stroke at all."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import diags
from scipy.sparse.csgraph import dijkstra
from scipy.sparse.linalg import spsolve

from flinz.core.hand.regions import Regions, regions_of

# The guess is made on large regions of a small picture.
GUESS_PX, GUESS_CELL_PX = 400, 16
# In so small a picture the rim of a thing is wide, and is not to be its texture.
LONE_EDGES = 0.8
# Steps of colour that still count as the same surface, and how far a surface goes on.
SAME, SPAN = 0.25, 1.2
# How much border a surface has, against its size, that is of the backdrop.
BORDER = 1.0
# Subjects often come in from below.
BELOW = 0.35
# A guess is more of what lies in the middle, and of what is sharp.
MIDDLE_SHARE, FOCUS = 0.28, 0.6
# Within so many steps two colours are of the same stuff.
ALIKE = 0.7
# What is not like the subject speaks so much against it.
AGAINST = 0.45
SMOOTH = 0.12


def guessed(rgb: NDArray[np.float32], regions: Regions) -> NDArray[np.float32]:
    """How likely each region is subject, (N,) float32 0..1.

    rgb: (H, W, 3) float32 0..1, of which regions are. What goes on to much of the picture's border
    is backdrop: after W. Zhu, S. Liang, Y. Wei and J. Sun (2014), "Saliency optimization from
    robust background detection". Of the rest, what is of the stuff of the picture's sharp middle
    more than of its border's is subject.
    """
    height, width = rgb.shape[:2]
    share = min(1.0, GUESS_PX / max(height, width))
    size = max(1, round(width * share)), max(1, round(height * share))
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
    coarse = regions_of(np.asarray(small, np.float32), GUESS_CELL_PX, LONE_EDGES)
    of_coarse = _guessed(coarse).astype(np.float32)
    plane = cv2.resize(of_coarse[coarse.labels], (width, height), interpolation=cv2.INTER_LINEAR)
    total = np.bincount(regions.labels.ravel(), plane.ravel(), len(regions.sizes))
    return np.asarray(total / regions.sizes, np.float32)


def subject_middle(rgb: NDArray[np.float32]) -> tuple[float, float]:
    """Where the middle of a picture's subject most likely lies: shares of its width and height.

    rgb: (H, W, 3) float32 0..1; a small picture says enough.
    """
    height, width = rgb.shape[:2]
    regions = regions_of(rgb, GUESS_CELL_PX, LONE_EDGES)
    weight = _guessed(regions) ** 2 * regions.sizes
    if weight.sum() <= 0:
        return 0.5, 0.5
    x, y = (regions.places * weight[:, None]).sum(0) / weight.sum() * max(width, height)
    return float(x / width), float(y / height)


def _guessed(regions: Regions) -> NDArray[np.float64]:
    count = len(regions.sizes)
    if count < 4:
        return np.full(count, 0.5)
    graph = regions.joined(np.maximum(regions.differ - SAME, 0) + 1e-6)
    near = np.exp(-(dijkstra(graph, directed=False) ** 2) / (2 * SPAN**2))
    area = near @ regions.sizes
    border = near @ _border(regions.labels, count, BELOW)
    backdrop = 1 - np.exp(-((border / np.sqrt(area)) ** 2) / (2 * BORDER**2))
    apart = regions.features[:, None] - regions.features[None]
    alike = np.exp(-(apart**2).sum(-1) / (2 * ALIKE**2))
    middle = (regions.places * regions.sizes[:, None]).sum(0) / regions.sizes.sum()
    off = ((regions.places - middle) ** 2).sum(1)
    central = np.exp(-off / (2 * MIDDLE_SHARE**2))
    fine = regions.features[:, 3] - np.quantile(regions.features[:, 3], 0.1)
    sharp = 1 + FOCUS * np.clip(fine / max(float(np.quantile(fine, 0.9)), 0.5), 0, 1)
    core = regions.sizes * central * (1 - backdrop) * sharp
    rim = _border(regions.labels, count, 1.0)
    like_core, like_rim = (alike @ (each / max(each.sum(), 1e-9)) for each in (core, rim))
    subject = like_core / (like_core + like_rim + 1e-9)
    subject *= (1 - backdrop) * np.sqrt(central) * sharp
    subject = np.clip(subject / max(float(np.quantile(subject, 0.95)), 1e-6), 0, 1)
    # Smooth over neighbours that are alike.
    ties = regions.joined(np.exp(-(regions.differ**2) / (2 * 0.5**2)) + SMOOTH)
    ties = ties + ties.T
    degree = np.asarray(ties.sum(1)).ravel()
    held = backdrop + subject + AGAINST * (1 - subject) + degree
    found = spsolve((diags(held) - ties).tocsc(), subject)
    low, high = np.quantile(found, [0.02, 0.98])
    return np.asarray(np.clip((found - low) / max(high - low, 1e-6), 0, 1), np.float64)


def _border(labels: NDArray[np.int32], count: int, below: float) -> NDArray[np.float64]:
    """How much of each region's outline lies on the picture's border, pixels; below counts so."""
    sides = np.concatenate([labels[0], labels[:, 0], labels[:, -1]])
    found = np.bincount(sides, minlength=count) + below * np.bincount(labels[-1], minlength=count)
    return np.asarray(found, np.float64)
