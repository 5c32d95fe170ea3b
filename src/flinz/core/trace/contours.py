"""Closed contours of ink, with what they belong to: pieces of ink and holes in them."""

from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.shapes.contours import joined_lines

HALF = 0.5
# Smaller pieces and holes are rests of an edge, no shapes.
LEAST_PX = 0.5
NO_AREA = 1e-6


@dataclass(frozen=True, eq=False)
class Contours:
    """Closed contours, one after the other, each without its first point again at its end.

    x, y: (P,) float64 pixels; the middle of the first pixel is at 0.5, 0.5. first: (N + 1,) int64,
    where each begins. piece: (N,) int64, the piece of ink it bounds. area: (N,) float64 px²,
    positive round ink, negative round a hole.
    """

    x: NDArray[np.float64]
    y: NDArray[np.float64]
    first: NDArray[np.int64]
    piece: NDArray[np.int64]
    area: NDArray[np.float64]

    def __len__(self) -> int:
        return len(self.piece)


def contours_of(
    cover: Plane, specks_px: float = 0.0, pinholes_px: float = 0.0, level: float = HALF
) -> Contours:
    """The contours of ink at half coverage, those of one piece together, the outer one first.

    cover: (H, W) float32 ink 0..1. Ink that meets at a corner is joined. Pieces of ink under
    specks_px are left out, holes whose paper is under pinholes_px are closed, px².
    """
    padded = np.pad(cover, 1)
    x, y, first, starts = joined_lines(padded, level)
    if len(first) == 1:
        nothing = np.zeros(0)
        return Contours(nothing, nothing, first, np.zeros(0, np.int64), nothing)
    inked = (padded >= np.float32(level)).astype(np.uint8)
    _, of_ink = cv2.connectedComponents(inked, connectivity=8)
    _, of_paper = cv2.connectedComponents(1 - inked, connectivity=4)
    rows, columns = starts.T
    ink_left = inked[rows, columns] == 1
    inner = np.where(ink_left, columns, columns + 1)
    outer = np.where(ink_left, columns + 1, columns)
    piece, paper = of_ink[rows, inner].astype(np.int64), of_paper[rows, outer].astype(np.int64)
    x, y, first = _directed(x.astype(np.float64) - 1, y.astype(np.float64) - 1, first, ink_left)
    areas = _areas(x, y, first)
    kept, piece = _kept(areas, piece, paper, max(specks_px, LEAST_PX), max(pinholes_px, LEAST_PX))
    found = Contours(x, y, first, piece, areas)
    # By pieces, the outer contour of each before its holes.
    order = np.flatnonzero(kept)
    return taken(found, order[np.lexsort((-areas[order], piece[order]))])


def taken(contours: Contours, which: NDArray[np.int64]) -> Contours:
    """Some contours, in the order asked for."""
    lengths = np.diff(contours.first)[which]
    first = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    places = np.repeat(contours.first[which] - first[:-1], lengths) + np.arange(first[-1])
    return replace(
        contours,
        x=contours.x[places],
        y=contours.y[places],
        first=first,
        piece=contours.piece[which],
        area=contours.area[which],
    )


def _kept(
    areas: NDArray[np.float64],
    piece: NDArray[np.int64],
    paper: NDArray[np.int64],
    specks: float,
    pinholes: float,
) -> tuple[NDArray[np.bool_], NDArray[np.int64]]:
    """Which contours are kept, and the pieces that they belong to then."""
    # A pixel at the very level has a contour of no area, which bounds nothing.
    bounds = np.abs(areas) > NO_AREA
    is_outer = (areas > 0) | ~bounds
    # What a hole leaves bare is its contour less the pieces of ink that lie in it.
    bare = -np.bincount(paper, areas, minlength=paper.max() + 1)
    hole_of = np.full(paper.max() + 1, -1)
    hole_of[paper[~is_outer]] = np.flatnonzero(~is_outer)
    closed = (hole_of >= 0) & (bare < pinholes)
    kept = bounds & ~closed[paper]
    # Ink that lay in a closed hole becomes one with what was round it, from without inwards.
    piece = piece.copy()
    swallowed = np.flatnonzero(is_outer & closed[paper])
    for each in swallowed[np.argsort(-areas[swallowed])]:
        piece[piece == piece[each]] = piece[hole_of[paper[each]]]
    inked = np.bincount(piece, np.where(kept, areas, 0), minlength=piece.max() + 1)
    return kept & (inked[piece] >= specks), piece


@njit(cache=True, nogil=True)
def _directed(x, y, first, ink_left) -> Any:  # type: ignore[no-untyped-def]
    """Lines without the repeated point, all with the ink on the same side."""
    count = len(first) - 1
    out_x, out_y = np.empty(len(x) - count), np.empty(len(x) - count)
    out_first = np.zeros(count + 1, np.int64)
    at = 0
    for k in range(count):
        begin, end = first[k], first[k + 1] - 1
        for step in range(end - begin):
            place = begin + step if ink_left[k] else end - 1 - step
            out_x[at], out_y[at] = x[place], y[place]
            at += 1
        out_first[k + 1] = at
    return out_x, out_y, out_first


@njit(cache=True, nogil=True)
def _areas(x, y, first) -> Any:  # type: ignore[no-untyped-def]
    areas = np.zeros(len(first) - 1)
    for k in range(len(first) - 1):
        begin, end = first[k], first[k + 1]
        total = 0.0
        last = end - 1
        for place in range(begin, end):
            total += x[last] * y[place] - x[place] * y[last]
            last = place
        areas[k] = total / 2
    return areas
