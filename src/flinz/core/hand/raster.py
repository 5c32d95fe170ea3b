"""Strokes as planes, in any frame: where each went, and what all of them come to."""

import hashlib
import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.hand.strokes import Brush, Stroke, Verb
from flinz.core.planes.filters import Plane, averaged, blurred

# A stroke at full strength takes tone by so many stops of light.
STOPS = 2.0
MOST_STOPS = 4.0
# Fractions of a pixel that corners of an area are told apart by.
SUBPIXEL_BITS = 4
# How many times finer an area is filled before it is averaged; half of it where it is large.
FINER, MANY_PIXELS = 4, 3_000_000
# Cells that a soft edge is at least wide.
SOFT_CELLS = 16
# An edge is never steeper than this on the pixel grid, or it would be a staircase.
SOFT_PX = 0.5
# Drops of a spatter for each of its widths of length, and how large one is against that width.
DROPS_A_WIDTH, DROP_SHARE, MOST_DROPS = 30, 0.02, 4000
# Which way each verb takes the plane of its stage.
WAYS: dict[Verb, float] = {
    "lighten": STOPS,
    "darken": -STOPS,
    "spare": 1.0,
    "smooth": -1.0,
    "finer": 1.0,
    "coarser": -1.0,
    "hide": 1.0,
    "show": -1.0,
}


@dataclass(frozen=True, eq=False)
class Placing:
    """Where the photo lies in the pixels of a frame.

    to_frame: (2, 3) from x, y, 1 in shares of the uncropped photo's long edge to columns and rows
    of the frame. size: (rows, columns). scale: pixels to a share.
    """

    to_frame: NDArray[np.float64]
    size: tuple[int, int]
    scale: float


def swept(stroke: Stroke, placing: Placing) -> tuple[Plane, tuple[slice, slice]] | None:
    """Where a stroke went, (h, w) float32 0..1, and the part of the frame that this is.

    A brush is full within its hardness and falls off smoothly to its rim; pressure narrows it. An
    area is full inside, and falls off about its edge. None where it is beside the frame. What a
    stroke goes over twice is no fuller: gestures add up, a gesture does not. Two corners are no
    area.
    """
    places = stroke.points[:, :2] @ placing.to_frame[:, :2].T + placing.to_frame[:, 2]
    radius = stroke.brush.size / 2 * placing.scale
    is_area = stroke.brush.by == "area"
    if is_area and len(places) < 3:
        return None
    soft = max(SOFT_PX, radius * (1 - stroke.brush.hardness))
    reach = (3 * soft if is_area else radius) + 2
    rows, columns = placing.size
    left, top = (max(0, math.floor(low - reach)) for low in places.min(0))
    right = min(columns, math.ceil(places[:, 0].max() + reach) + 1)
    bottom = min(rows, math.ceil(places[:, 1].max() + reach) + 1)
    if right <= left or bottom <= top:
        return None
    part = slice(top, bottom), slice(left, right)
    places = places - (left, top)
    size = bottom - top, right - left
    if is_area:
        return _filled(places, size, soft), part
    line = np.column_stack([places, radius * stroke.points[:, 2]]).astype(np.float32)
    return np.asarray(_brushed(line, np.float32(stroke.brush.hardness), size)), part


def _filled(places: NDArray[np.float64], size: tuple[int, int], soft: float) -> Plane:
    """An area in the pixels of a part, whose edge falls off over soft pixels to both sides."""
    if soft <= SOFT_PX:
        return _inside_part(places, size)
    # What is soft is as soft when it is worked out on coarser cells. They lie at the area itself,
    # not at the part, so that all parts of a frame show the same.
    cell = max(1.0, soft / SOFT_CELLS)
    margin = 3 * soft + 2
    start = places[0] + np.floor((-margin - places[0]) / cell) * cell
    cells = [math.ceil((length + 2 * margin) / cell) + 2 for length in size]
    around = blurred(_inside_part((places - start) / cell, (cells[0], cells[1])), soft / cell)
    first = (0.5 - start) / cell - 0.5
    back = np.array([[1 / cell, 0, first[0]], [0, 1 / cell, first[1]]])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.clip(cv2.warpAffine(around, back, size[::-1], flags=flags), 0, 1)


def _inside_part(places: NDArray[np.float64], size: tuple[int, int]) -> Plane:
    # Edges that are cut off at the rim of a picture run a little otherwise: as long as an area is
    # not many times the part, it is filled whole and the part taken from it.
    first = np.minimum(np.floor(places.min(0)), 0).astype(int)
    last = np.maximum(np.ceil(places.max(0)), size[::-1]).astype(int)
    width, height = last - first
    if width * height > MANY_PIXELS:
        return _inside(places, size)
    left, top = -first
    return _inside(places - first, (height, width))[top : top + size[0], left : left + size[1]]


def _inside(places: NDArray[np.float64], size: tuple[int, int]) -> Plane:
    finer = FINER if size[0] * size[1] < MANY_PIXELS else FINER // 2
    mask = np.zeros((size[0] * finer, size[1] * finer), np.uint8)
    # OpenCV's places are the middles of pixels.
    corners = np.rint((places * finer - 0.5) * (1 << SUBPIXEL_BITS)).astype(np.int32)
    cv2.fillPoly(mask, [corners], 255, cv2.LINE_8, SUBPIXEL_BITS)
    return averaged(mask.astype(np.float32), size[1], size[0]) / np.float32(255)


@njit(fastmath=True, cache=True, nogil=True)
def _brushed(line, hardness, size) -> Any:  # type: ignore[no-untyped-def]
    out = np.zeros(size, np.float32)
    height, width = size
    for k in range(max(1, line.shape[0] - 1)):
        ax, ay, ar = line[k, 0], line[k, 1], line[k, 2]
        last = min(k + 1, line.shape[0] - 1)
        dx, dy, dr = line[last, 0] - ax, line[last, 1] - ay, line[last, 2] - ar
        most = max(ar, ar + dr) + np.float32(1)
        squared = dx * dx + dy * dy
        top = max(0, int(np.floor(min(ay, ay + dy) - most)))
        bottom = min(height, int(np.ceil(max(ay, ay + dy) + most)) + 1)
        left = max(0, int(np.floor(min(ax, ax + dx) - most)))
        right = min(width, int(np.ceil(max(ax, ax + dx) + most)) + 1)
        for row in range(top, bottom):
            y = np.float32(row) + np.float32(0.5) - ay
            for column in range(left, right):
                x = np.float32(column) + np.float32(0.5) - ax
                along = np.float32(0)
                if squared > 0:
                    along = min(max((x * dx + y * dy) / squared, np.float32(0)), np.float32(1))
                radius = ar + along * dr
                away = np.sqrt((x - along * dx) ** 2 + (y - along * dy) ** 2)
                # Half a pixel to both sides of a hard rim.
                inner = min(radius * hardness, radius - np.float32(0.5))
                outer = max(radius, inner + np.float32(1))
                if away >= outer:
                    continue
                part = (outer - away) / (outer - inner)
                part = min(part, np.float32(1))
                part = part * part * (np.float32(3) - np.float32(2) * part)
                # What is thinner than a pixel covers as much less of it.
                part *= min(np.float32(1), np.float32(2) * radius)
                out[row, column] = max(out[row, column], part)
    return out


def each_swept(
    strokes: Iterable[Stroke], placing: Placing
) -> Iterator[tuple[Stroke, Plane, tuple[slice, slice]]]:
    """The strokes that reach a frame, where each went, and the part of the frame that this is."""
    for stroke in strokes:
        found = swept(stroke, placing)
        if found is not None:
            yield (stroke, *found)


# The share 0..1 of a frame to which a stroke is kept; None for all of it.
Kept = Callable[[Brush], Plane | None]


def _anywhere(brush: Brush) -> Plane | None:
    return None


def _strong(cover: Plane, part: tuple[slice, slice], brush: Brush, kept: Kept) -> Plane:
    """How strongly a stroke acts on its part of a frame."""
    share = cover * np.float32(brush.strength)
    within = kept(brush)
    return share if within is None else np.asarray(share * within[part], np.float32)


def moved(
    strokes: Iterable[Stroke],
    placing: Placing,
    before: Plane | None = None,
    kept: Kept = _anywhere,
) -> Plane:
    """What strokes that push a plane up and down come to, (H, W) float32.

    Of lighten and darken in stops, of spare, smooth, hide and show in shares -1..1. rub takes
    away what was there. before: what earlier strokes came to.
    """
    plane = np.zeros(placing.size, np.float32) if before is None else before.copy()
    for stroke, cover, part in each_swept(strokes, placing):
        share = _strong(cover, part, stroke.brush, kept)
        if stroke.brush.verb == "rub":
            plane[part] *= 1 - share
            continue
        way = np.float32(WAYS.get(stroke.brush.verb, 0.0))
        limit = MOST_STOPS if abs(way) > 1 else 1.0
        plane[part] = np.clip(plane[part] + way * share, -limit, limit)
    return plane


def touched(
    strokes: Iterable[Stroke],
    placing: Placing,
    before: Plane | None = None,
    kept: Kept = _anywhere,
) -> Plane:
    """How strongly strokes of any verb act on each pixel, (H, W) float32 0..1; rub takes away."""
    plane = np.zeros(placing.size, np.float32) if before is None else before.copy()
    for stroke, cover, part in each_swept(strokes, placing):
        share = _strong(cover, part, stroke.brush, kept)
        if stroke.brush.verb == "rub":
            plane[part] *= 1 - share
        else:
            plane[part] += share * (1 - plane[part])
    return plane


def covered(
    strokes: Iterable[Stroke],
    placing: Placing,
    before: Plane | None = None,
    kept: Kept = _anywhere,
) -> NDArray[np.float32]:
    """What strokes over finished ink come to, (H, W, 3) float32 0..1.

    How much of the ink is covered, how much of what covers it is ink, and how much of the stage's
    own dials is spared. white-out, black-in, line, spatter, spare; rub takes away what was there.
    """
    plane = np.zeros((*placing.size, 3), np.float32) if before is None else before.copy()
    for stroke, cover, part in each_swept(strokes, placing):
        if stroke.brush.verb == "spatter":
            cover = _spattered(stroke, placing, part)
        share = _strong(cover, part, stroke.brush, kept)
        over, ink, spared = (plane[part][..., channel] for channel in range(3))
        match stroke.brush.verb:
            case "white-out" | "black-in" | "line":
                is_ink = stroke.brush.verb != "white-out"
                ink[:] = ink * (1 - share) + (share if is_ink else 0)
                over[:] = over * (1 - share) + share
            case "spatter":
                ink[:] = ink + share * (1 - ink)
                over[:] = over + share * (1 - over)
            case "spare":
                spared[:] = spared + share * (1 - spared)
            case "rub":
                plane[part] *= (1 - share)[..., None]
    return plane


def drops_of(stroke: Stroke) -> NDArray[np.float64]:
    """The drops of a spatter, (N, 3): x, y and radius in shares of the photo's long edge.

    As many for its length as its size asks for, denser in its middle, most of them small; seeded
    by the stroke itself, so that they lie where it lies.
    """
    points, radius = stroke.points, stroke.brush.size / 2
    seed = hashlib.sha256(np.ascontiguousarray(points).tobytes()).digest()
    rng = np.random.default_rng(int.from_bytes(seed[:8], "big"))
    steps = np.hypot(*np.diff(points[:, :2], axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    count = min(MOST_DROPS, round(DROPS_A_WIDTH * (1 + along[-1] / stroke.brush.size)))
    at = rng.uniform(0, along[-1], count) if along[-1] > 0 else np.zeros(count)
    x, y, pressure = (np.interp(at, along, points[:, k]) for k in range(3))
    away = radius * pressure * np.sqrt(rng.uniform(0, 1, count)) * rng.uniform(0.3, 1, count)
    turn = rng.uniform(0, 2 * np.pi, count)
    # Log-normal, as sprays are: many fine drops, a few large.
    drop = stroke.brush.size * DROP_SHARE * np.exp(rng.normal(0, 0.7, count))
    largest = 8 * DROP_SHARE * stroke.brush.size
    return np.column_stack(
        [x + away * np.cos(turn), y + away * np.sin(turn), np.minimum(drop, largest)]
    )


def _spattered(stroke: Stroke, placing: Placing, part: tuple[slice, slice]) -> Plane:
    drops = drops_of(stroke)
    places = drops[:, :2] @ placing.to_frame[:, :2].T + placing.to_frame[:, 2]
    places = places - (part[1].start, part[0].start)
    size = part[0].stop - part[0].start, part[1].stop - part[1].start
    cover = np.zeros(size, np.float32)
    dots = np.column_stack([places, drops[:, 2] * placing.scale]).astype(np.float32)
    for dot in dots:
        reach = dot[2] + 2
        low, high = dot[:2] - reach, dot[:2] + reach
        left, top = (max(0, math.floor(each)) for each in low)
        right, bottom = (
            min(side, math.ceil(each)) for side, each in zip(size[::-1], high, strict=True)
        )
        if right > left and bottom > top:
            one = dot - (left, top, 0)
            there = cover[top:bottom, left:right]
            drawn = _brushed(one[None].astype(np.float32), np.float32(1), there.shape)
            np.maximum(there, drawn, out=there)
    return cover


def inked(ink: Plane, hand: NDArray[np.float32]) -> Plane:
    """Finished ink under what strokes over it come to (see covered)."""
    return np.asarray(ink * (1 - hand[..., 0]) + hand[..., 1], np.float32)
