"""Places along a line: even steps by its length, and marks set there, apart where wanted."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Places = NDArray[np.float64]

# A line is followed in steps of at most this; and in no more than so many.
STEP_MM, MOST_STEPS = 0.25, 40_000
# What is shorter is a point.
LEAST_MM = 1e-3
# How many times as far apart marks may stand where a line is hardly pressed.
FARTHEST = 4.0


@dataclass(frozen=True, eq=False)
class Course:
    """A line in even steps: x, y in mm, pressure 0..1, (N, 3); length in mm.

    is_closed: its last step leads back to its first, which is not said twice.
    """

    points: Places
    length: float
    is_closed: bool

    @property
    def step(self) -> float:
        """From point to point, mm."""
        return self.length / max(1, len(self.points) - (0 if self.is_closed else 1))

    def held(self, along: Places) -> Places:
        """How far along it, mm, going round where it is closed, else as far as it goes."""
        if self.is_closed:
            return np.mod(along, self.length)
        return np.clip(along, 0, self.length)

    def at(self, along: Places) -> tuple[Places, Places]:
        """Points (M, 3) so far along it, mm, and the way (M, 2) that it runs there."""
        points = self.points
        if self.is_closed:
            points = np.concatenate([points, points[:1]])
        known = np.linspace(0, self.length, len(points))
        found = np.column_stack([np.interp(along, known, column) for column in points.T])
        near = max(self.step, 1e-6)
        ends = [
            np.mod(along + by, self.length)
            if self.is_closed
            else np.clip(along + by, 0, self.length)
            for by in (-near, near)
        ]
        before, after = (
            np.column_stack([np.interp(end, known, column) for column in points[:, :2].T])
            for end in ends
        )
        way = after - before
        size = np.hypot(*way.T)[:, None]
        return found, np.where(size > 1e-9, way / np.maximum(size, 1e-9), [[1.0, 0.0]])


def course_of(points: Places, smooth: float, is_closed: bool) -> Course | None:
    """A drawn line in even steps, smoothed over so many mm; None where it is a mere point.

    points: (N, 3) x, y in mm, and pressure. Its ends stay where they were drawn.
    """
    points = np.asarray(points, np.float64)
    kept = np.ones(len(points), bool)
    kept[1:] = np.hypot(*np.diff(points[:, :2], axis=0).T) > 1e-6
    points = points[kept]
    if is_closed and len(points) > 2 and np.hypot(*(points[0] - points[-1])[:2]) > 1e-6:
        points = np.concatenate([points, points[:1]])
    if len(points) < 2:
        return None
    even, length = _even(points)
    if length < LEAST_MM:
        return None
    # Over more than a part of it nothing of it would be left.
    smooth = min(smooth, length / 6)
    if smooth > LEAST_MM:
        # Its import takes long, and is not wanted where no line is drawn.
        from scipy.ndimage import gaussian_filter1d

        step = length / (len(even) - 1)
        if is_closed:
            even = gaussian_filter1d(even[:-1], smooth / step, axis=0, mode="wrap")
            even = np.concatenate([even, even[:1]])
        else:
            # Mirrored through its ends, it keeps them, and its way there.
            reach = min(len(even) - 1, math.ceil(4 * smooth / step))
            head = 2 * even[0] - even[reach:0:-1]
            tail = 2 * even[-1] - even[-2 : -2 - reach : -1]
            whole = np.concatenate([head, even, tail])
            even = gaussian_filter1d(whole, smooth / step, axis=0)[reach : reach + len(even)]
        even, length = _even(even)
    if length < LEAST_MM:
        return None
    even[:, 2] = np.clip(even[:, 2], 0, 1)
    return Course(even[:-1] if is_closed else even, length, is_closed)


def _even(points: Places) -> tuple[Places, float]:
    sides = np.hypot(*np.diff(points[:, :2], axis=0).T)
    known = np.concatenate([[0.0], np.cumsum(sides)])
    length = float(known[-1])
    count = int(np.clip(math.ceil(length / STEP_MM), 2, MOST_STEPS)) + 1
    along = np.linspace(0, length, count)
    return np.column_stack([np.interp(along, known, column) for column in points.T]), length


def stations(course: Course, spacing: float, most: int, by_pressure: float = 0.0) -> Places:
    """How far along a line marks stand, mm: spacing apart; on a closed one as near to that as
    closes.

    by_pressure: -1..1, above 0 they stand farther apart where it is pressed less, at 1 four times
    as far where it is hardly pressed at all; below 0 closer.
    """
    # Along the line as it is where all are spaced alike: stretched where they stand closer.
    stretched = None
    if by_pressure:
        ends = course.points[:1] if course.is_closed else course.points[:0]
        pressure = np.concatenate([course.points, ends])[:, 2]
        dense = FARTHEST ** (-by_pressure * (1 - pressure))
        steps = (dense[1:] + dense[:-1]) / 2 * course.step
        stretched = np.concatenate([[0.0], np.cumsum(steps)])
    length = course.length if stretched is None else float(stretched[-1])
    if course.is_closed:
        count = min(most, max(1, round(length / spacing)))
        at = np.arange(count) * (length / count)
    else:
        count = min(most, int(length / spacing + 1e-9) + 1)
        # What is left over lies before the first and after the last alike.
        left = length - (count - 1) * spacing
        at = left / 2 + np.arange(count) * spacing
    if stretched is not None:
        at = np.interp(at, stretched, np.linspace(0, course.length, len(stretched)))
    return np.asarray(at, np.float64)


def apart(places: Places, radii: Places) -> NDArray[np.bool_]:
    """Which marks stay so that none touches an earlier one. places: (N, 2); radii: (N,), mm."""
    kept = np.ones(len(places), bool)
    if len(places) < 2:
        return kept
    from scipy.spatial import cKDTree

    pairs = cKDTree(places).query_pairs(2 * float(radii.max()), output_type="ndarray")
    near = np.hypot(*(places[pairs[:, 0]] - places[pairs[:, 1]]).T)
    touching = pairs[near < radii[pairs[:, 0]] + radii[pairs[:, 1]]]
    for first, second in touching[np.lexsort(touching.T)].tolist():
        low, high = min(first, second), max(first, second)
        if kept[low]:
            kept[high] = False
    return kept
