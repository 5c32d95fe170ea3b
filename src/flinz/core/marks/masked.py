"""Marks where they may print: thinned by soft masks, cut by hard edges only where these cross."""

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.marks.vectors import Column, Dots, Strokes, joined
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

# Below this share nothing prints; above its counterpart all does.
NOTHING = 0.03
# A mask that changes this much within a mark's reach has an edge there.
EDGE = 0.7


def masked(
    marks: Dots | Strokes, mask: Plane, frame: Frame
) -> tuple[Dots | Strokes, Dots | Strokes]:
    """Marks that stand whole, thinned where the mask is soft, and those that an edge crosses.

    mask: (H, W) float32 0..1 in a frame of the paper.
    """
    if isinstance(marks, Dots):
        return _dots(marks, mask, frame)
    return _strokes(marks, mask, frame)


def _looked(
    mask: Plane, frame: Frame, x: Column, y: Column, reach_mm: float
) -> tuple[NDArray[np.float32], NDArray[np.bool_]]:
    """The mask at places, and whether an edge lies within reach of each."""
    side = 2 * max(1, round(frame.px(reach_mm))) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    most, least = cv2.dilate(mask, disc), cv2.erode(mask, disc)
    columns, rows = frame.pixels_of(x, y)
    column = np.clip(columns.astype(int), 0, frame.width - 1)
    row = np.clip(rows.astype(int), 0, frame.height - 1)
    return mask[row, column], (most - least)[row, column] > EDGE


def _dots(dots: Dots, mask: Plane, frame: Frame) -> tuple[Dots, Dots]:
    reach = float(np.quantile(dots.radius, 0.98)) if len(dots) else 0.0
    share, crossed = _looked(mask, frame, dots.x, dots.y, reach)
    thin = np.where(crossed, 1, np.sqrt(share)).astype(np.float32)
    thinned = replace(dots, radius=dots.radius * thin)
    # Necks would join what is thinned or gone.
    plain = replace(thinned, necks=dots.necks if share.min(initial=1) > 1 - NOTHING else joined([]))
    return some_dots(plain, ~crossed & (share > NOTHING)), replace(
        some_dots(thinned, crossed), necks=joined([])
    )


def some_dots(dots: Dots, which: NDArray[np.bool_]) -> Dots:
    """Some dots, each with its own outline still."""
    angle = dots.angle[which] if len(dots.angle) else dots.angle
    return replace(
        dots,
        x=dots.x[which],
        y=dots.y[which],
        radius=dots.radius[which],
        angle=angle,
        own=dots.numbers[which],
    )


def _strokes(strokes: Strokes, mask: Plane, frame: Frame) -> tuple[Strokes, Strokes]:
    if not len(strokes.x):
        return strokes, strokes
    reach = float(np.quantile(strokes.width, 0.98)) / 2
    share, edge = _looked(mask, frame, strokes.x, strokes.y, reach)
    thinned = strokes.with_width(
        np.asarray(strokes.width * np.where(edge | (share > 1 - NOTHING), 1, share), np.float32)
    )
    begins, points = strokes.first[:-1], strokes.points
    any_edge = np.logical_or.reduceat(edge, begins)
    # A stroke may pass from full to nothing between two points.
    most, least = np.maximum.reduceat(share, begins), np.minimum.reduceat(share, begins)
    crossed = (any_edge | (most - least > EDGE)) & (points > 0)
    prints = most > NOTHING
    return some_strokes(thinned, ~crossed & prints), some_strokes(thinned, crossed & prints)


def some_strokes(strokes: Strokes, which: NDArray[np.bool_]) -> Strokes:
    """Some strokes."""
    kept = np.repeat(which, strokes.points)
    first = np.concatenate([[0], np.cumsum(strokes.points[which])]).astype(np.int64)
    return Strokes(strokes.x[kept], strokes.y[kept], strokes.width[kept], first)
