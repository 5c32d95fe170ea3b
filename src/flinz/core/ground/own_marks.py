"""Marks of one's own: outlines from the paths of an SVG file, or drawn on a pad, within limits."""

import xml.etree.ElementTree as ElementTree
from collections.abc import Sequence

import numpy as np
import pathops
import shapely
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
# How far the outline of what is drawn by hand may stray, and in how many sides a quarter is round.
PAD_FLAT, ROUND = 0.12, 6
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
    shapes = [_drawn(line, nib, filled) for line in lines if len(line)]
    whole = shapely.union_all(shapes).simplify(PAD_FLAT)
    pieces = [each for each in shapely.get_parts(whole) if each.geom_type == "Polygon"]
    rings = [ring for each in pieces for ring in (each.exterior, *each.interiors)]
    if not rings:
        raise DocumentError("Nothing is drawn on the pad yet.")
    return fitted(" ".join(_closed(np.asarray(ring.coords)[:-1]) for ring in rings))


def _drawn(line: NDArray[np.float64], nib: float, filled: bool) -> shapely.Geometry:
    stroke = shapely.LineString(line) if len(line) > 1 else shapely.Point(line[0])
    if filled and len(line) > 2:
        stroke = shapely.union(stroke, shapely.make_valid(shapely.Polygon(line)))
    return stroke.buffer(nib / 2, quad_segs=ROUND)


def _closed(corners: NDArray[np.float64]) -> str:
    return "M" + "L".join(f"{x:.3f},{y:.3f}" for x, y in corners) + "Z"


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
