"""A tracing: pieces of ink as closed outlines of curves and lines, in millimetres."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay
from flinz.core.trace.contours import Contours, contours_of
from flinz.core.trace.corners import with_corners
from flinz.core.trace.crossings import crossing
from flinz.core.trace.curves import Fitting

# How fine a sheet is traced: at this scale, coarser where that has too many pixels.
TRACED_PX_PER_MM, TRACED_PIXELS = 24.0, 40_000_000
# Pieces that a curve is looked at in, where outlines are tested for crossings.
LOOKED_AT = 6
# Squares in which outlines are compared, pixels.
SQUARE_PX = 6.0
# Where outlines would cross, corners are first set back to where the drawing has them; then all is
# drawn so many times closer, and again, up to the points: at first only there, at last all along.
CLOSER, AT_MOST = (1.0, 2.5, 6.0), 11
# So many points beside a corner may have been laid onto its sides.
BESIDE = 6


class TraceWish(Settings):
    """How closely outlines are followed, and what is too small for a shape."""

    closeness: float = Field(0.04, ge=0.005, le=2.0, allow_inf_nan=False)
    corners: float = Field(40.0, ge=5.0, le=170.0, allow_inf_nan=False)
    specks: float = Field(0.0, ge=0.0, le=100.0, allow_inf_nan=False)
    pinholes: float = Field(0.0, ge=0.0, le=100.0, allow_inf_nan=False)


@dataclass(frozen=True, eq=False)
class Tracing:
    """Shapes, one after the other; all in mm from the sheet's top left corner.

    curves: (S, 8) float64: begin, two handles, end; the handles of a line lie on its thirds. first:
    (R + 1,) int64, where the curves of each ring begin. shape: (R,) int64, which shape a ring
    bounds, in order; the first ring of a shape goes round it, others round its holes, the other
    way. far: (S,) mm, how far the drawing's outline lies from each curve.
    """

    curves: NDArray[np.float64]
    first: NDArray[np.int64]
    shape: NDArray[np.int64]
    far: NDArray[np.float64]

    def __len__(self) -> int:
        return int(self.shape[-1]) + 1 if len(self.shape) else 0

    @property
    def is_line(self) -> NDArray[np.bool_]:
        """(S,) which curves are straight lines."""
        return straight(self.curves)

    @property
    def outline_mm(self) -> float:
        """Length of all outlines."""
        steps = np.diff(points_of(self.curves, 16), axis=1)
        return float(np.hypot(steps[..., 0], steps[..., 1]).sum())

    @property
    def largest_distance_mm(self) -> float:
        """How far the drawing's outline is from a curve at most."""
        return float(self.far.max(initial=0))

    @property
    def bounds(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Its left and top, right and bottom, mm; zeros where there is none."""
        if not len(self):
            return np.zeros(2), np.zeros(2)
        points = points_of(self.curves, LOOKED_AT).reshape(-1, 2)
        return points.min(0), points.max(0)

    @property
    def rings_of_shapes(self) -> NDArray[np.int64]:
        """(N + 1,) where the rings of each shape begin."""
        bounds: NDArray[np.int64] = np.searchsorted(self.shape, np.arange(len(self) + 1))
        return bounds

    def laid(self, lay: Lay) -> "Tracing":
        """The shapes of a box where they lie on the paper."""
        return self.moved(lay.to_paper)

    def moved(self, way: NDArray[np.float64]) -> "Tracing":
        """The shapes at the places that (2, 3) a way leads to; ink stays on the same side."""
        curves = (self.curves.reshape(-1, 4, 2) @ way[:, :2].T + way[:, 2]).reshape(-1, 8)
        size = float(np.linalg.det(way[:, :2]))
        moved = replace(self, curves=curves, far=self.far * abs(size) ** 0.5)
        return moved if size > 0 else moved.turned_round()

    def turned_round(self) -> "Tracing":
        """The same outlines, each the other way round."""
        order = np.concatenate(
            [np.arange(high - 1, low - 1, -1) for low, high in itertools.pairwise(self.first)]
            or [np.zeros(0, np.int64)]
        ).astype(np.int64)
        curves = self.curves.reshape(-1, 4, 2)[order, ::-1].reshape(-1, 8)
        return replace(self, curves=curves, far=self.far[order])

    def some(self, which: Sequence[int] | NDArray[np.int64]) -> "Tracing":
        """Some shapes, in the order asked for."""
        bounds = self.rings_of_shapes
        counts = np.diff(bounds)[which]
        rings = np.repeat(bounds[which] - counted_before(counts), counts) + np.arange(counts.sum())
        found = self.of_rings(rings)
        return replace(found, shape=np.repeat(np.arange(len(counts)), counts))

    def of_rings(self, rings: NDArray[np.int64]) -> "Tracing":
        """Some rings, in the order asked for, of as many shapes as they are of."""
        lengths = np.diff(self.first)[rings]
        places = np.repeat(self.first[rings] - counted_before(lengths), lengths)
        places += np.arange(lengths.sum())
        return Tracing(
            self.curves[places],
            np.append(counted_before(lengths), lengths.sum()),
            np.unique(self.shape[rings], return_inverse=True)[1].astype(np.int64),
            self.far[places],
        )

    def ring(self, number: int) -> "Tracing":
        """One of its rings by itself."""
        low, high = self.first[number], self.first[number + 1]
        first, shape = np.array([0, high - low]), np.zeros(1, np.int64)
        return Tracing(self.curves[low:high], first, shape, self.far[low:high])

    def polygons(self, pieces: int = LOOKED_AT) -> list[shapely.Polygon]:
        """Each shape as a polygon, its curves in so many pieces."""
        rings = flattened(self, pieces)
        bounds = self.rings_of_shapes
        return [
            shapely.Polygon(rings[low], rings[low + 1 : high])
            for low, high in itertools.pairwise(bounds)
        ]


def straight_ring(corners: NDArray[np.float64]) -> Tracing:
    """A shape of straight sides: its corners (N, 2), mm, ink on the right as one goes round."""
    ends = np.roll(corners, -1, 0)
    third = (ends - corners) / 3
    curves = np.hstack([corners, corners + third, ends - third, ends])
    count = len(corners)
    return Tracing(curves, np.array([0, count]), np.zeros(1, np.int64), np.zeros(count))


def together(tracings: Sequence[Tracing]) -> Tracing:
    """The shapes of several tracings, one after the other."""
    if len(tracings) == 1:
        return tracings[0]
    ends = np.cumsum([0, *(len(each.curves) for each in tracings)])
    counts = np.cumsum([0, *(len(each) for each in tracings)])
    firsts = [each.first[:-1] + end for each, end in zip(tracings, ends, strict=False)]
    shapes = [each.shape + count for each, count in zip(tracings, counts, strict=False)]
    return Tracing(
        np.concatenate([np.zeros((0, 8)), *(each.curves for each in tracings)]),
        np.concatenate([*firsts, [ends[-1]]]).astype(np.int64),
        np.concatenate([np.zeros(0, np.int64), *shapes]),
        np.concatenate([np.zeros(0), *(each.far for each in tracings)]),
    )


def counted_before(counts: NDArray[np.int64]) -> NDArray[np.int64]:
    """How many there are before each lot."""
    return np.cumsum(counts, dtype=np.int64) - counts


def straight(curves: NDArray[np.float64]) -> NDArray[np.bool_]:
    """(S,) which curves are straight: those whose handles lie on their thirds."""
    begin, end = curves[:, :2], curves[:, 6:]
    third = (end - begin) / 3
    off = np.abs(curves[:, 2:6] - np.hstack([begin + third, end - third]))
    return np.asarray(off.max(1, initial=0) < 1e-9, np.bool_)


def points_of(curves: NDArray[np.float64], pieces: int) -> NDArray[np.float64]:
    """Points along curves, (S, pieces + 1, 2)."""
    u = np.linspace(0, 1, pieces + 1)[None, :, None]
    v = 1 - u
    one, two, three, four = (curves[:, None, k : k + 2] for k in (0, 2, 4, 6))
    return np.asarray(
        v**3 * one + 3 * v * v * u * two + 3 * v * u * u * three + u**3 * four, np.float64
    )


def flattened(tracing: Tracing, pieces: int) -> list[NDArray[np.float64]]:
    """The rings as corners of polygons, (N, 2) each; lines stay one piece."""
    points = points_of(tracing.curves, pieces)[:, :-1]
    keep = np.ones(points.shape[:2], np.bool_)
    keep[tracing.is_line, 1:] = False
    ends = np.concatenate([[0], np.cumsum(keep.sum(1))])
    flat = points[keep]
    return [flat[ends[low] : ends[high]] for low, high in itertools.pairwise(tracing.first)]


def traced_px_per_mm(width_mm: float, height_mm: float) -> float:
    """Pixels a mm at which a sheet is traced."""
    most = (TRACED_PIXELS / (width_mm * height_mm)) ** 0.5
    return float(min(TRACED_PX_PER_MM, most))


def traced(cover: Plane, frame: Frame, wish: TraceWish, level: float = 0.5) -> Tracing:
    """The shapes of a drawing.

    cover: (H, W) float32 ink 0..1 in a frame. Outlines lie at half coverage, or at another level,
    no farther from it than about the closeness; none crosses itself or its holes.
    """
    specks, pinholes = frame.area_px(wish.specks), frame.area_px(wish.pinholes)
    contours = contours_of(cover, specks, pinholes, level)
    found = along_contours(contours, frame.px(wish.closeness), wish.corners)
    moved = found.curves + np.tile([frame.left, frame.top], 4)
    return replace(found, curves=moved / np.tile(frame.per_mm, 4), far=found.far / frame.px_per_mm)


def along_contours(contours: Contours, closeness_px: float, corners: float) -> Tracing:
    """Shapes of contours, in pixels. Where outlines would cross, they are drawn closer and closer
    to the contours, which cross nowhere, and at last from point to point of these.
    """
    shape = np.unique(contours.piece, return_inverse=True)[1].astype(np.int64)
    strictness = np.ones(len(contours.x))
    cornered, is_corner = with_corners(contours, corners, closeness_px)
    fitting = Fitting(cornered, is_corner, closeness_px)
    fitting.fit(strictness)
    curves = fitting.curves()
    for turn in range(AT_MOST):
        crossed = _crossed(curves.points)
        which = np.flatnonzero(crossed.any(1))
        if not len(which):
            break
        spans = curves.span[which].tolist()
        parts = crossed[which] if turn == len(CLOSER) else np.ones_like(crossed[which])
        near = [
            _along(contours, begin, end, part)
            for (begin, end), part in zip(spans, parts, strict=True)
        ]
        strictness[np.concatenate(near)] = CLOSER[turn] if turn < len(CLOSER) else np.inf
        back = np.concatenate([_beside(contours, begin, end) for begin, end in spans])
        cornered.x[back], cornered.y[back] = contours.x[back], contours.y[back]
        fitting.fit(strictness, back)
        curves = fitting.curves()
    return with_area(Tracing(curves.points, curves.first, shape, curves.far))


def with_area(found: Tracing) -> Tracing:
    """Shapes without rings that came to one line, there and back, at a coarse closeness; the holes
    of such an outline go with it.
    """
    # A curve bends round something by itself, straight lines from three on.
    sides = np.where(found.is_line, 1, 3)
    flat = np.add.reduceat(sides, found.first[:-1]) < 3
    if not flat.any():
        return found
    is_gone = flat | flat[found.rings_of_shapes[:-1]][found.shape]
    return found.of_rings(np.flatnonzero(~is_gone))


def _crossed(curves: NDArray[np.float64]) -> NDArray[np.bool_]:
    """(S, LOOKED_AT) which pieces of curves cross another one, or themselves."""
    points = points_of(curves, LOOKED_AT)
    low = points.reshape(-1, 2).min(0) if len(points) else 0.0
    begin, end = (points - low)[:, :-1].reshape(-1, 2), (points - low)[:, 1:].reshape(-1, 2)
    return crossing(begin, end, SQUARE_PX).reshape(-1, LOOKED_AT)


def _along(
    contours: Contours, begin: int, end: int, pieces: NDArray[np.bool_]
) -> NDArray[np.int64]:
    """The points of a contour from one to another that lie in or beside some of equal pieces."""
    points = _beside(contours, begin, end, 0)
    piece = np.arange(len(points)) * len(pieces) // len(points)
    wide = pieces.copy()
    wide[1:] |= pieces[:-1]
    wide[:-1] |= pieces[1:]
    return points[wide[piece]]


def _beside(contours: Contours, begin: int, end: int, more: int = BESIDE) -> NDArray[np.int64]:
    """The points of a contour from one to another, which may lie beyond its first one, and so many
    more to either side.
    """
    ring = int(np.searchsorted(contours.first, begin, side="right")) - 1
    low, high = int(contours.first[ring]), int(contours.first[ring + 1])
    count = high - low
    steps = (end - begin) % count or count
    many = min(steps + 2 * more + 1, count)
    found: NDArray[np.int64] = low + (begin - more - low + np.arange(many)) % count
    return found
