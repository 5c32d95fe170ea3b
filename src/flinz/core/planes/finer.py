"""What a pixel holds that is finer than itself: something worked out of it, averaged."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane, looked_up

# Kinds of pixels that are told apart by their own value, and values that stand for each kind.
KINDS, RANKS = 24, 48
# Of each kind at least so many pixels are known; their values are spread like so many of them.
LEAST, ENOUGH = 6, 4096
STEPS = 1024


@dataclass(frozen=True, eq=False)
class Finer:
    """How values finer than a pixel are spread, by the pixel's own value.

    own: (K,) float32, growing; finer: (K, R) float32, growing along R: as many values lie between
    any two.
    """

    own: NDArray[np.float32]
    finer: NDArray[np.float32]


def averaged_of(
    of: Callable[[Plane], Plane], plane: Plane, finer: Finer | None, unit: float = 1.0
) -> Plane:
    """The average over each pixel of what is worked out of the values that it holds.

    of: works it out, value by value. plane: (H, W) float32, the pixels' own values, as multiples
    of a unit. finer: how values finer than a pixel are spread; None where there are none.
    """
    if finer is None:
        return of(plane / np.float32(unit))
    off = of(finer.finer).mean(axis=1) - of(finer.own)
    low, high = float(finer.finer.min()), float(finer.finer.max())
    places = np.linspace(low, max(high, low + 1e-6), STEPS).astype(np.float32)
    table = np.asarray(of(places) + np.interp(places, finer.own, off), np.float32)
    return looked_up(plane, table, low * unit, float(places[-1]) * unit)


def finer_of(own: NDArray[np.float32], within: NDArray[np.float32]) -> Finer:
    """How finer values are spread, as a sample of pixels tells: (N,) own values, (N, M) finer."""
    kinds = np.array_split(np.argsort(own, kind="stable"), min(KINDS, max(1, len(own) // LEAST)))
    ranks = (np.arange(RANKS) + 0.5) / RANKS

    def spread(kind: NDArray[np.intp]) -> NDArray[np.float32]:
        values = within[kind].ravel()
        known = np.sort(values[:: math.ceil(len(values) / ENOUGH)])
        return known[(ranks * len(known)).astype(np.intp)]

    return Finer(
        np.array([own[kind].mean() for kind in kinds], np.float32),
        np.array([spread(kind) for kind in kinds], np.float32),
    )
