"""Marks of one's own: outlines from the paths of an SVG file, or drawn on a pad, within limits."""

import itertools
import math
import xml.etree.ElementTree as ElementTree
from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np
import pathops
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path import SVGPath, parse_path
from numpy.typing import NDArray

from flinz.core.ground.outlines import Flat
from flinz.core.shapes.filled import Ring
from flinz.errors import DocumentError

MAX_FILE_BYTES = 400_000
MAX_PATH, MAX_DEPTH, MAX_ELEMENTS = 12_000, 40, 2000
# A mark is kept in a box of this size, and its corners as finely.
UNITS = 100.0
FLAT = 0.05
# How fine the pad is on which a mark is drawn by hand, and how far its outline may stray.
PAD_PX, PAD_FLAT, PAD_PATH = 1024, (0.15, 0.3, 0.6), MAX_PATH * 3 // 4
FORBIDDEN = ("script", "foreignObject", "image", "use", "style", "animate", "set", "iframe")


def mark_of(data: bytes) -> str:
    """The path of a mark, in a box of UNITS about its middle, from the bytes of an SVG file.

    Raises DocumentError with a sentence where it is none, has scripts or links, or is too large.
    """
    if len(data) > MAX_FILE_BYTES:
        raise DocumentError(
            f"This SVG has {len(data) / 1000:.0f} kB; a mark may have {MAX_FILE_BYTES // 1000} kB."
        )
    lowered = data.lower()
    if b"<!doctype" in lowered or b"<!entity" in lowered:
        raise DocumentError("This SVG brings definitions of its own, which marks may not have.")
    _check(data)
    pen = SVGPathPen(None)
    try:
        SVGPath.fromstring(data).draw(pen)
    # What is wrong with a path is said by whatever reads it.
    except Exception as error:
        raise DocumentError("The paths of this SVG cannot be read.") from error
    return fitted(pen.getCommands())


def _check(data: bytes) -> None:
    """Refuse what does more than draw, or is nested or counted without end."""
    try:
        root = ElementTree.fromstring(data)
    except ElementTree.ParseError as error:
        raise DocumentError("This is no SVG file, or it is damaged.") from error
    if _plain(root.tag) != "svg":
        raise DocumentError("This is no SVG file.")
    waiting, count = [(root, 1)], 0
    while waiting:
        element, depth = waiting.pop()
        count += 1
        if depth > MAX_DEPTH or count > MAX_ELEMENTS:
            raise DocumentError("This SVG is nested too deep or has too many parts.")
        name = _plain(element.tag)
        leads = any(_plain(key).lower().startswith(("href", "on")) for key in element.attrib)
        if name in FORBIDDEN or leads:
            raise DocumentError(
                f"This SVG has what a mark may not have ({name}): only its paths are drawn, "
                "without scripts or links."
            )
        waiting += [(child, depth + 1) for child in element]


def _plain(name: str) -> str:
    """A name without its namespace."""
    return name.rpartition("}")[2]


def drawn(lines: Sequence[NDArray[np.float64]], nib: float, *, filled: bool) -> str:
    """The path of a mark drawn on a pad of UNITS, in a box of UNITS about its middle.

    lines: (N, 2) each, in order. nib: their width. filled: whether what each goes round is filled,
    too. Raises DocumentError where they draw nothing, or more than can be kept.
    """
    # As pixels, what is drawn over and over takes no longer than what is drawn once.
    room = math.ceil(nib / 2 * PAD_PX / UNITS) + 2
    pad = np.zeros((PAD_PX + 2 * room, PAD_PX + 2 * room), np.uint8)
    width = max(1, round(nib * PAD_PX / UNITS))
    for line in lines:
        if not len(line):
            continue
        places = np.rint(line * PAD_PX / UNITS + room).astype(np.int32)
        if filled and len(places) > 2:
            cv2.fillPoly(pad, [places], 1)
        cv2.polylines(pad, [places], False, 1, width)
        # The ends of a line are as round as its nib.
        for place in (places[0], places[-1]):
            cv2.circle(pad, place.tolist(), width // 2, 1, -1)
    outlines, _ = cv2.findContours(pad, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    path = _as_path(sorted(outlines, key=cv2.contourArea, reverse=True))
    if not path:
        raise DocumentError("Nothing is drawn on the pad yet.")
    return fitted(path)


def _as_path(outlines: Sequence[Any]) -> str:
    """Outlines of the pad's pixels, the largest first, as a path in its units.

    Those of very many turns are kept as finely as there is room for, and then without the smallest.
    """
    words: list[str] = []
    for flat in PAD_FLAT:
        rings = (cv2.approxPolyDP(each, flat * PAD_PX / UNITS, True)[:, 0] for each in outlines)
        words = [
            _closed(np.asarray(ring * (UNITS / PAD_PX), float)) for ring in rings if len(ring) > 2
        ]
        if sum(map(len, words)) <= PAD_PATH:
            break
    ends = itertools.accumulate(map(len, words))
    fits = [word for word, end in zip(words, ends, strict=True) if end <= PAD_PATH]
    return " ".join(fits or words[:1])


def _closed(corners: NDArray[np.float64]) -> str:
    return "M" + "L".join(f"{x:.2f},{y:.2f}" for x, y in corners) + "Z"


def fitted(path: str) -> str:
    """A path in a box of UNITS about 0, 0. Raises DocumentError where it encloses nothing."""
    # Before anything is made of it: how long that takes grows with the square of its length.
    _refuse_long(path)
    rings = _rings(path)
    if not rings:
        raise DocumentError("This SVG draws no closed outline; a mark needs one.")
    corners = np.concatenate(rings)
    low, high = corners.min(0), corners.max(0)
    size = float((high - low).max())
    if not np.isfinite(size) or size <= 0:
        raise DocumentError("This SVG draws nothing of any size.")
    times, middle = UNITS / size, (low + high) / 2
    pen = SVGPathPen(None, ntos=lambda number: f"{number:.2f}".rstrip("0").rstrip("."))
    shift = (times, 0, 0, times, -middle[0] * times, -middle[1] * times)
    parse_path(path, TransformPen(pen, shift))
    made = str(pen.getCommands())
    _refuse_long(made)
    return made


def _refuse_long(path: str) -> None:
    if len(path) > MAX_PATH:
        raise DocumentError(
            f"This mark is drawn with {len(path):,} characters of path; up to {MAX_PATH:,} can be "
            "kept. Simplify it."
        )


def rings_of_path(path: str) -> tuple[Ring, ...]:
    """The outlines of a kept mark, one unit across at most, about 0, 0; empty where it is none."""
    return tuple(ring / UNITS for ring in _rings(path))


def _rings(path: str) -> list[Ring]:
    outline = pathops.Path()
    try:
        parse_path(path, outline.getPen())
        outline.simplify(fix_winding=True)
    except Exception:
        return []
    bounds = outline.bounds
    tall = max(bounds[2] - bounds[0], bounds[3] - bounds[1], 1e-9)
    flat = Flat(tall * FLAT / UNITS)
    outline.draw(flat)
    return flat.rings_of_three
