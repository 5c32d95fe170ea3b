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
    return np.asarray(np.clip(expected + _alike(traits, traits[held]) @ weights, -1, 1), np.float64)


def _some(places: NDArray[np.int64]) -> NDArray[np.int64]:
    if len(places) <= MOST_HELD:
        return places
    return np.random.default_rng(0).choice(places, MOST_HELD, replace=False)


def _alike(first: Traits, second: Traits) -> NDArray[np.float32]:
    apart = first @ second.T
    apart -= (first**2).sum(1)[:, None] / 2
    apart -= (second**2).sum(1) / 2
    return np.asarray(cv2.exp(np.minimum(apart, 0, out=apart)), np.float32)
