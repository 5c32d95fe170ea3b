"""A ranked blue-noise tile: however many of its cells are taken in order, they lie evenly."""

import functools
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

SIDE = 96
SIGMA = 1.7
REACH = 8


@functools.cache
def ranked_tile() -> NDArray[np.float32]:
    """(SIDE, SIDE) float32: ranks spread evenly over 0..1, seamless at its edges.

    Void and cluster: R. Ulichney (1993), "The void-and-cluster method for dither array
    generation".
    """
    offsets = np.arange(-REACH, REACH + 1)
    away = offsets[:, None] ** 2 + offsets[None] ** 2
    pull = np.exp(-away / (2 * SIGMA**2))
    start = np.random.default_rng(7).permutation(SIDE * SIDE)[: SIDE * SIDE // 10]
    ranks = _void_and_cluster(SIDE, start, pull)
    return np.asarray((ranks + 0.5) / SIDE**2, np.float32)


@njit(cache=True)
def _spread(energy, cell, pull, sign) -> None:  # type: ignore[no-untyped-def]
    side = energy.shape[0]
    reach = pull.shape[0] // 2
    row, column = cell // side, cell % side
    for j in range(-reach, reach + 1):
        for i in range(-reach, reach + 1):
            energy[(row + j) % side, (column + i) % side] += sign * pull[j + reach, i + reach]


@njit(cache=True)
def _extreme(energy, taken, wanted, largest) -> Any:  # type: ignore[no-untyped-def]
    best = -1
    value = 0.0
    side = energy.shape[0]
    for cell in range(side * side):
        if taken[cell] != wanted:
            continue
        here = energy[cell // side, cell % side]
        if best < 0 or (here > value if largest else here < value):
            best, value = cell, here
    return best


@njit(cache=True)
def _void_and_cluster(side, start, pull) -> Any:  # type: ignore[no-untyped-def]
    count = side * side
    taken = np.zeros(count, np.bool_)
    energy = np.zeros((side, side))
    for cell in start:
        taken[cell] = True
        _spread(energy, cell, pull, 1.0)
    # Move the tightest cluster into the largest void until nothing moves.
    for _ in range(10 * len(start)):
        tight = _extreme(energy, taken, True, True)
        taken[tight] = False
        _spread(energy, tight, pull, -1.0)
        void = _extreme(energy, taken, False, False)
        taken[void] = True
        _spread(energy, void, pull, 1.0)
        if void == tight:
            break
    ranks = np.zeros(count, np.int64)
    first_taken = taken.copy()
    first_energy = energy.copy()
    for rank in range(len(start) - 1, -1, -1):
        tight = _extreme(energy, taken, True, True)
        taken[tight] = False
        _spread(energy, tight, pull, -1.0)
        ranks[tight] = rank
    taken, energy = first_taken, first_energy
    for rank in range(len(start), count):
        void = _extreme(energy, taken, False, False)
        taken[void] = True
        _spread(energy, void, pull, 1.0)
        ranks[void] = rank
    return ranks.reshape((side, side))
