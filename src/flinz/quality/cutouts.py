"""Cutouts against true masks: by a hand that strokes where most is wrong, at most eight times."""

from collections.abc import Iterator
from dataclasses import dataclass
from importlib import resources
from io import BytesIO
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from skimage.graph import route_through_array

from flinz.core.deliver.alpha import alpha_of
from flinz.core.hand.cutout import Studied, found, studied, work_size
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.planes.filters import from_edge
from flinz.core.planes.photo import Photo, shrunk

Mask = NDArray[np.bool_]
Plane = NDArray[np.float32]

MOST_STROKES, FIRST_STROKES = 8, 4
WIDTH_PX, STEP_PX = 12.0, 6
# The first strokes lie apart from each other by this share of the long edge.
APART = 0.07
# What is within this of the true edge is the band in which alpha is judged.
BAND_PX = 9
# A rim is of hair where more than so many pixels across it, on average of a square around, are
# neither all nor nothing, and worth a stroke if so much of it is. The hand goes along it this
# steadily.
HAIRY_PX, AROUND_PX, HAIRY_SHARE, STEADY_PX = 8.0, 41, 0.5, 8.0
# Overlap that must be reached, and mean error of alpha in the band, by photo.
OVERLAP = {
    "pears": 0.98,
    "watering-can": 0.98,
    "boots": 0.98,
    "squashes": 0.98,
    "hedgehog": 0.96,
    "snail": 0.96,
    "sunflower": 0.96,
    "scarecrow": 0.92,
}
ALPHA_ERROR = {"hedgehog": 0.12, "scarecrow": 0.2}
# A subject put on the ground of another photo, which no script was made for.
COMPOSITES = (("hedgehog", "squashes"), ("sunflower", "watering-can"), ("pears", "snail"))


@dataclass(frozen=True)
class Judged:
    """overlap: intersection over union, after all strokes; guess: without any; mended: after as
    many that only correct the guess. error: of alpha. haired: overlap and error with one stroke
    more, over hair, where the rim is of it.
    """

    overlap: float
    guess: float
    mended: float
    error: float
    haired: tuple[float, float] | None


def true_mask(name: str) -> Plane:
    """The true mask of a demo photo's subject, (H, W) float32 0..1."""
    data = resources.files("flinz.quality").joinpath("masks", f"{name}.png").read_bytes()
    return np.asarray(Image.open(BytesIO(data)), np.float32) / np.float32(255)


def composite(subject: Photo, mask: Plane, ground: Photo) -> Photo:
    """A subject on another photo's ground, at the size of its mask."""
    height, width = mask.shape
    parts = [shrunk(photo.pixels, width, height) for photo in (subject, ground)]
    share = mask[..., None]
    mixed = parts[1] + share * (parts[0].astype(np.float32) - parts[1])
    return Photo(np.rint(mixed).astype(np.uint16), f"{subject.key} on {ground.key}")


def judged(photo: Photo, mask: Plane) -> Judged:
    """How well a photo is cut out, against its true mask."""
    size = work_size(photo.width, photo.height)
    small = studied(shrunk(photo.pixels, *size).astype(np.float32) / np.float32(65535))
    shown = np.asarray(cv2.resize(mask, size), np.float32)
    strokes, mending = (corrected(small, shown > 0.5, first) for first in (FIRST_STROKES, 0))
    hair = over_hair(shown)
    height, width = mask.shape

    def of(made: list[Stroke]) -> Plane:
        alpha = alpha_of(photo, made)
        return np.asarray(cv2.resize(alpha, (width, height), interpolation=cv2.INTER_AREA))

    wanted = mask > 0.5
    band = cv2.dilate(_mixed(mask).view(np.uint8), np.ones((BAND_PX, BAND_PX))) > 0

    def off(alpha: Plane) -> tuple[float, float]:
        return overlap(alpha > 0.5, wanted), float(np.abs(alpha - mask)[band].mean())

    share, error = off(of(strokes))
    return Judged(
        share,
        overlap(of([]) > 0.5, wanted),
        overlap(of(mending) > 0.5, wanted),
        error,
        None if hair is None else off(of([*strokes, hair])),
    )


def overlap(one: Mask, other: Mask) -> float:
    """Intersection over union."""
    return float((one & other).sum() / max(1, (one | other).sum()))


def corrected(photo: Studied, wanted: Mask, first: int) -> list[Stroke]:
    """Strokes of a hand: so many first on subject and backdrop, then one where most is wrong."""
    strokes: list[Stroke] = []
    there = {"keep": np.zeros(wanted.shape, np.uint8), "drop": np.zeros(wanted.shape, np.uint8)}
    cut = found(photo, strokes, 0.0).mask
    for number in range(MOST_STROKES):
        if number < first:
            verb = ("keep", "drop")[number % 2]
            place = wanted if verb == "keep" else ~wanted
            side = 2 * round(APART * max(wanted.shape)) + 1
            apart = place & (cv2.dilate(there[verb], np.ones((side, side))) == 0)
            place = apart if apart.sum() > STEP_PX**4 else place
        else:
            more, less = wanted & ~cut, cut & ~wanted
            verb, place = ("keep", more) if _largest(more) >= _largest(less) else ("drop", less)
        line, width = _along(place)
        if len(line) == 0:
            break
        strokes.append(_stroked(verb, line, width, max(wanted.shape)))
        cv2.polylines(
            there[verb], [line.astype(np.int32)], False, 1, max(1, round(width)), cv2.LINE_8
        )
        cut = found(photo, strokes, 0.0).mask
    return strokes


def over_hair(mask: Plane) -> Stroke | None:
    """A stroke of hair along the rim of a true mask, as broad as its hair; None for a firm rim."""
    soft = _mixed(mask)
    firm = cv2.GaussianBlur(mask, (0, 0), STEADY_PX) > 0.5
    rims, _ = cv2.findContours(firm.view(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not rims:
        return None
    rim = max(rims, key=len)[:, 0]
    across = cv2.boxFilter(soft.astype(np.float32), -1, (AROUND_PX, AROUND_PX)) * AROUND_PX
    if (across[rim[:, 1], rim[:, 0]] > HAIRY_PX).mean() < HAIRY_SHARE:
        return None
    away = from_edge(firm)
    width = 2 * float(np.percentile(away[soft & (away < AROUND_PX)], 90))
    return _stroked("hair", rim[::STEP_PX], width, max(mask.shape))


def _mixed(mask: Plane) -> Mask:
    """Where a true mask is neither all nor nothing."""
    return (mask > 0.02) & (mask < 0.98)


def _stroked(verb: str, line: NDArray[Any], width: float, edge: int) -> Stroke:
    """A stroke along pixels, (N, 2) columns and rows, of a photo with this long edge."""
    points = np.column_stack([(line + 0.5) / edge, np.ones(len(line))])
    brush = Brush.model_validate({"verb": verb, "size": width / edge, "hardness": 1.0})
    return Stroke(brush, points)


def _largest(mask: Mask) -> int:
    _, _, figures, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
    return int(figures[1:, cv2.CC_STAT_AREA].max(initial=0))


def _along(mask: Mask) -> tuple[NDArray[np.int64], float]:
    """A line along the middle of the largest piece, (N, 2) columns and rows, and its width."""
    _, labels, figures, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=4)
    if len(figures) < 2:
        return np.zeros((0, 2), np.int64), 0.0
    piece = labels == 1 + figures[1:, cv2.CC_STAT_AREA].argmax()
    depth = cv2.distanceTransform(np.pad(piece, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    deepest = np.unravel_index(int(depth.argmax()), depth.shape)
    _, cores = cv2.connectedComponents((depth > 0.2 * depth.max()).astype(np.uint8))
    core = cores == cores[deepest]
    places = np.argwhere(core)

    def farthest(place: Any) -> Any:
        return places[((places - place) ** 2).sum(1).argmax()]

    begin = farthest(deepest)
    cost = np.where(core, 1 / (depth + 1), 1e4)
    path, _ = route_through_array(cost, begin, farthest(begin))  # type: ignore[no-untyped-call]
    return np.array(path)[::STEP_PX, ::-1], min(WIDTH_PX, 1.6 * float(depth.max()))


def judgements(photos: dict[str, Photo]) -> Iterator[tuple[str, Judged]]:
    """Each photo by its name, then composites of them, cut out and judged."""
    masks = {name: true_mask(name) for name in photos}
    for name, photo in photos.items():
        yield name, judged(photo, masks[name])
    for subject, ground in COMPOSITES:
        if subject in photos and ground in photos:
            mixed = composite(photos[subject], masks[subject], photos[ground])
            yield f"{subject} on {ground}", judged(mixed, masks[subject])
