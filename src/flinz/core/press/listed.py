"""A list of strokes as the press remembers it."""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from flinz.core.hand.strokes import Stroke
from flinz.core.press.keys import content_key


@dataclass(frozen=True, eq=False)
class Strokes:
    """A list of strokes, and a key of all up to each: two lists that begin alike share keys.

    keys: of those that it begins with, where they are known.
    """

    strokes: list[Stroke]
    keys: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        key = self.keys[-1] if self.keys else ""
        for stroke in self.strokes[len(self.keys) :]:
            points = np.ascontiguousarray(stroke.points).tobytes()
            key = content_key(key, stroke.brush, points)
            self.keys.append(key)

    @cached_property
    def is_kept(self) -> bool:
        """Whether one of them may not go everywhere."""
        return any(stroke.brush.is_kept for stroke in self.strokes)

    @property
    def nbytes(self) -> int:
        """About how much it takes in memory."""
        return sum(stroke.points.nbytes + 500 for stroke in self.strokes)
