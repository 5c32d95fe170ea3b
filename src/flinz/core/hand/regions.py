"""A photo in regions that keep to its edges: what a cutout is decided by."""

import itertools
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from scipy.sparse import coo_matrix, csr_matrix

from flinz.core.planes.filters import Plane, blurred

# One region starts in each cell of so many pixels.
CELL_PX = 7
# Before edges are looked for, so that grain makes none.
GRAIN_PX = 0.8
# What is finer is texture; over what width it is gathered.
FINE_PX, TEXTURE_PX = 1.2, 5.0
# Lab units of one step of colour, and what one step of texture (twice as much of it) weighs.
COLOUR_STEP, LIGHT_STEP, TEXTURE_STEP = 8.0, 12.0, 1.6
# In Lab units: less than this is grain.
LEAST_TEXTURE = 0.35
# So many steps of colour are as far as the picture's long edge.
EDGE_STEPS = 8.0


@dataclass(frozen=True, eq=False)
class Regions:
    """Regions of a picture.

    labels: (H, W) int32, 0..N-1. sizes: (N,) pixels. features: (N, 4) float32, lightness, two of
    colour and texture, in steps that weigh alike. places: (N, 2) float32, middles in shares of
    the long edge. pairs: (E, 2) int32, neighbours. walls: (E,) float32, mean edge between them,
    Lab units a pixel. lengths: (E,) float32, pixels of border between them.
    """

    labels: NDArray[np.int32]
    sizes: NDArray[np.float32]
    features: NDArray[np.float32]
    places: NDArray[np.float32]
    pairs: NDArray[np.int32]
    walls: NDArray[np.float32]
    lengths: NDArray[np.float32]

    @cached_property
    def differ(self) -> NDArray[np.float32]:
        """(E,) how far the features of neighbours lie apart."""
        first, second = self.pairs.T
        apart = self.features[first] - self.features[second]
        return np.asarray(np.sqrt((apart**2).sum(1)), np.float32)

    @cached_property
    def steps(self) -> csr_matrix:
        """(N, N): how far it is from each region to a neighbour, across edges and colours."""
        first, second = self.pairs.T
        apart = np.linalg.norm(self.places[first] - self.places[second], axis=1)
        # What is alike at one place is joined, too.
        return self.joined(self.differ + EDGE_STEPS * apart + 1e-4)

    def joined(self, weights: NDArray[np.float64]) -> csr_matrix:
        """(N, N): each pair of neighbours that has a weight, (E,), once."""
        count = len(self.sizes)
        first, second = self.pairs.T
        joined = coo_matrix((weights, (first, second)), shape=(count, count)).tocsr()
        joined.eliminate_zeros()
        return joined


def regions_of(
    rgb: NDArray[np.float32], cell_px: int = CELL_PX, lone_edges: float = 1.0
) -> Regions:
    """The regions of a picture, (H, W, 3) float32 0..1, sRGB-encoded.

    lone_edges: below 1 what lies beside one edge is less of a texture, all else alike.
    A watershed by colour (F. Meyer, 1992) from the calmest place of each cell of a grid.
    """
    lab = np.asarray(cv2.cvtColor(rgb, cv2.COLOR_RGB2Lab), np.float32)
    texture = _texture(np.ascontiguousarray(lab[..., 0]), lone_edges)
    soft = np.asarray(cv2.GaussianBlur(lab, (0, 0), GRAIN_PX), np.float32)
    edge = _gradient(soft)
    return described(_grown(soft, _seeds(edge, cell_px)), soft, texture, edge)


def described(
    labels: NDArray[np.int32], lab: NDArray[np.float32], texture: Plane, edge: Plane
) -> Regions:
    """Regions by their labels, with what each is like and how they meet."""
    count = int(labels.max()) + 1
    flat = labels.ravel()
    sizes = np.maximum(np.bincount(flat, minlength=count), 1).astype(np.float32)

    def mean(plane: NDArray[np.float32]) -> NDArray[np.float32]:
        total = np.bincount(flat, plane.ravel(), count)
        return np.asarray(total / sizes, np.float32)

    features = np.stack(
        [
            mean(lab[..., 0]) / LIGHT_STEP,
            mean(lab[..., 1]) / COLOUR_STEP,
            mean(lab[..., 2]) / COLOUR_STEP,
            mean(texture) * TEXTURE_STEP,
        ],
        axis=1,
    ).astype(np.float32)
    rows, columns = (np.asarray(each, np.float32) for each in np.indices(labels.shape))
    places = np.stack([mean(columns), mean(rows)], axis=1) / np.float32(max(labels.shape))
    pairs, walls, lengths = _borders(labels, edge, count)
    return Regions(labels, sizes, features, places, pairs, walls, lengths)


def _grown(lab: NDArray[np.float32], seeds: NDArray[np.int32]) -> NDArray[np.int32]:
    """Labels of the regions that grow from seeds numbered from 1; none is left between them."""
    levels = (lab + np.array([0, 128, 128], np.float32)) * np.array([2.55, 1, 1], np.float32)
    grown = seeds.copy()
    cv2.watershed(np.clip(levels, 0, 255).astype(np.uint8), grown)
    # The rim is left to nobody, and of a few pixels there is nothing else.
    grown = grown if (grown > 0).any() else seeds
    nearest = ndimage.distance_transform_edt(
        grown <= 0, return_distances=False, return_indices=True
    )
    return np.asarray(grown[tuple(nearest)] - 1, np.int32)


def _texture(light: Plane, lone_edges: float = 1.0) -> Plane:
    """How much fine detail there is, in doublings; what is out of focus has none."""
    fine = np.abs(light - blurred(light, FINE_PX))
    gathered = blurred(np.asarray(fine**lone_edges, np.float32), TEXTURE_PX)
    gathered = np.asarray(np.maximum(gathered, 0) ** (1 / lone_edges), np.float32)
    return np.asarray(np.log2(gathered + LEAST_TEXTURE), np.float32)


def _gradient(lab: NDArray[np.float32]) -> Plane:
    across = cv2.Scharr(lab, cv2.CV_32F, 1, 0, scale=1 / 32)
    down = cv2.Scharr(lab, cv2.CV_32F, 0, 1, scale=1 / 32)
    return np.asarray(np.sqrt((across**2 + down**2).sum(-1)), np.float32)


def _seeds(edge: Plane, cell_px: int) -> NDArray[np.int32]:
    """The calmest pixel of each cell, numbered from 1."""
    height, width = edge.shape
    rows, columns = max(1, height // cell_px), max(1, width // cell_px)
    down = np.linspace(0, height, rows + 1).astype(int)
    right = np.linspace(0, width, columns + 1).astype(int)
    seeds = np.zeros(edge.shape, np.int32)
    number = 0
    for top, bottom in itertools.pairwise(down):
        for left, end in itertools.pairwise(right):
            cell = edge[top:bottom, left:end]
            row, column = divmod(int(cell.argmin()), end - left)
            number += 1
            seeds[top + row, left + column] = number
    return seeds


def _borders(
    labels: NDArray[np.int32], edge: Plane, count: int
) -> tuple[NDArray[np.int32], NDArray[np.float32], NDArray[np.float32]]:
    keys, walls = [], []
    for first, second in (
        ((slice(None), slice(0, -1)), (slice(None), slice(1, None))),
        ((slice(0, -1), slice(None)), (slice(1, None), slice(None))),
    ):
        one, other = labels[first], labels[second]
        meet = one != other
        low, high = np.minimum(one, other)[meet], np.maximum(one, other)[meet]
        keys.append(low.astype(np.int64) * count + high)
        walls.append(np.maximum(edge[first], edge[second])[meet])
    key, wall = np.concatenate(keys), np.concatenate(walls)
    unique, where = np.unique(key, return_inverse=True)
    lengths = np.bincount(where, minlength=len(unique)).astype(np.float32)
    mean = (np.bincount(where, wall, len(unique)) / np.maximum(lengths, 1)).astype(np.float32)
    pairs = np.stack([unique // count, unique % count], axis=1).astype(np.int32)
    return pairs, mean, lengths
