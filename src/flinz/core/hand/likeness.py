"""Which regions of a photo are like those that were stroked."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Traits = NDArray[np.float32]
Chosen = NDArray[np.bool_]


@dataclass(frozen=True)
class Sense:
    """How far what is known of some goes for others.

    reach: over so many spreads of a trait likeness falls to 0.6. away: over 1/away of the
    picture's long edge, too. doubt: how far what is known may be contradicted.
    """

    reach: float
    away: float
    doubt: float


# More regions of one side say no more.
MOST_HELD = 400
# Pairs of so many regions and all that are held stay near the processor.
ROWS = 1024


def likeness(
    features: NDArray[np.float32],
    places: NDArray[np.float32],
    ours: Chosen,
    theirs: Chosen,
    expected: NDArray[np.float64],
    sense: Sense,
) -> NDArray[np.float64]:
    """How much more each of N is like ours than like theirs, (N,) -1..1.

    features: (N, any) float32, each of which counts by its spread. places: (N, 2) float32, in
    shares of the long edge. ours, theirs: (N,) bool, not both empty. expected: (N,) -1..1, what is
    thought where neither is alike. Kernel ridge regression (C. Saunders, A. Gammerman and V. Vovk,
    1998) with normal kernels, of what differs from what was expected; both sides weigh alike.
    """
    spread = features.std(0) + np.float32(1e-3)
    of_features = (features - features.mean(0)) / (sense.reach * spread)
    traits = np.concatenate([of_features, sense.away * places], axis=1, dtype=np.float32)
    sides = [_some(np.flatnonzero(side)) for side in (ours, theirs)]
    held = np.concatenate(sides)
    counts = [len(side) for side in sides]
    wanted = np.repeat(np.array([1.0, -1.0]), counts) - expected[held]
    doubts = np.repeat(sense.doubt * np.array(counts) / max(counts), counts)
    weights = np.linalg.solve(_alike(traits[held], traits[held]) + np.diag(doubts), wanted)
    said = expected + _weighed(traits, traits[held], weights.astype(np.float32))
    return np.asarray(np.clip(said, -1, 1), np.float64)


def _some(places: NDArray[np.int64]) -> NDArray[np.int64]:
    if len(places) <= MOST_HELD:
        return places
    return np.random.default_rng(0).choice(places, MOST_HELD, replace=False)


def _weighed(traits: Traits, held: Traits, weights: NDArray[np.float32]) -> NDArray[np.float32]:
    """Likeness to those that are held, (N,), each with its weight."""
    parts = (traits[first : first + ROWS] for first in range(0, len(traits), ROWS))
    return np.concatenate([_alike(part, held) @ weights for part in parts])


def _alike(first: Traits, second: Traits) -> NDArray[np.float32]:
    # Lengths are part of the one product, which spares two walks over all pairs.
    ours = np.column_stack([first, _half_squared(first), np.ones(len(first), np.float32)])
    theirs = np.column_stack([second, np.ones(len(second), np.float32), _half_squared(second)])
    apart = ours @ theirs.T
    return np.asarray(cv2.exp(np.minimum(apart, 0, out=apart)), np.float32)


def _half_squared(traits: Traits) -> NDArray[np.float32]:
    return np.asarray(np.einsum("ij,ij->i", traits, traits) / -2, np.float32)
