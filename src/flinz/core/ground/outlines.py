"""Outlines as corners: of curves, no chord far from them; turned."""

from typing import Any

import numpy as np
from fontTools.pens.basePen import BasePen

from flinz.core.shapes.filled import Ring


class Flat(BasePen):  # type: ignore[misc]
    """A pen that takes curves and keeps corners. tolerance: the farthest a chord may lie off."""

    def __init__(self, tolerance: float) -> None:
        super().__init__(None)
        self.rings: list[list[tuple[float, float]]] = []
        self._tolerance = tolerance

    @property
    def rings_of_three(self) -> list[Ring]:
        """Those that enclose something."""
        return [np.array(ring, np.float64) for ring in self.rings if len(ring) > 2]

    def _moveTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        self.rings.append([at])

    def _lineTo(self, to: tuple[float, float]) -> None:  # noqa: N802
        self.rings[-1].append(to)

    def _curveToOne(self, one: Any, two: Any, to: Any) -> None:  # noqa: N802
        begin = np.array(self._getCurrentPoint())
        first, second, end = np.array(one), np.array(two), np.array(to)
        # A part is no farther from its chord than an eighth of its second difference.
        bend = max(
            float(np.hypot(*(begin - 2 * first + second))),
            float(np.hypot(*(first - 2 * second + end))),
        )
        steps = max(1, int(np.ceil(np.sqrt(6 * bend / (8 * self._tolerance)))))
        t = np.arange(1, steps + 1)[:, None] / steps
        places = (
            (1 - t) ** 3 * begin
            + 3 * (1 - t) ** 2 * t * first
            + 3 * (1 - t) * t**2 * second
            + t**3 * end
        )
        self.rings[-1] += [tuple(place) for place in places]


def turned(ring: Ring, radians: float, about: Ring | tuple[float, float] = (0.0, 0.0)) -> Ring:
    """A ring turned about a place: counter-clockwise as seen, y downwards."""
    cosine, sine = np.cos(radians), np.sin(radians)
    way = np.array([[cosine, sine], [-sine, cosine]])
    middle = np.asarray(about, np.float64)
    return np.asarray((ring - middle) @ way.T + middle, np.float64)
