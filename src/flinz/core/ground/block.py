"""Blocks: plain figures that a plate can be drawn from."""

import math
from enum import StrEnum
from typing import Any

import numpy as np
from shapely import Polygon, box, union_all
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from flinz.core.dial import Choice, Dial
from flinz.core.ground.figure import Figure, Piece, Toned, rings_of

# Corners of a quarter of a circle: no chord is farther off than a hundredth of its radius' part.
QUARTER = 64


class Plain(StrEnum):
    """The figures."""

    RECTANGLE = "rectangle"
    ELLIPSE = "ellipse"
    POLYGON = "polygon"
    RING = "ring"
    RAYS = "rays"
    BORDER = "border"
    CUTOUT = "cutout"


WORDS = {
    Plain.RECTANGLE: ("Rectangle", "With corners sharp or round"),
    Plain.ELLIPSE: ("Ellipse", "A circle where it is as wide as high"),
    Plain.POLYGON: ("Polygon", "Of as many corners as wanted, or a star"),
    Plain.RING: ("Ring", "An ellipse with a hole"),
    Plain.RAYS: ("Rays", "Wedges from the middle outwards"),
    Plain.BORDER: ("Border", "Round the paper, so far from its edges"),
    Plain.CUTOUT: ("The subject’s outline", "The cutout of the sheet’s picture, spread outwards"),
}
SIZED = {"figure": ["rectangle", "ellipse", "polygon", "ring", "rays"]}
STAR = {"figure": ["polygon"]}
RAYED = {"figure": ["rays"]}
FRAMED = {"figure": ["border"]}
LINED = {"figure": ["ring", "border"]}
ROUNDED = {"figure": ["rectangle", "border"]}


SPREAD = {"figure": ["cutout"]}


def _mm(
    default: float, high: float, label: str, hint: str, only_for: dict[str, list[str]], **more: Any
) -> Any:
    limits: dict[str, Any] = {"ge": 0.0, "le": 4000.0, "step": 0.5, **more}
    return Dial(default, high=high, unit="mm", label=label, hint=hint, only_for=only_for, **limits)


class Block(Toned):
    """A figure: what it is, and how large."""

    figure: Plain = Choice(Plain.RECTANGLE, label="Figure", hint="What it is", options=WORDS)
    width: float = _mm(80.0, 400.0, "Width", "Before it is turned", SIZED, ge=0.5, low=5.0)
    height: float = _mm(60.0, 400.0, "Height", "Before it is turned", SIZED, ge=0.5, low=5.0)
    corner: float = _mm(0.0, 40.0, "Round corners", "Their radius", ROUNDED)
    sides: float = Dial(
        5, ge=3, le=60, high=16, step=1, label="Corners", hint="How many it has", only_for=STAR
    )
    dent: float = Dial(
        0.0,
        ge=0.0,
        le=0.95,
        step=0.01,
        label="Dented",
        hint="Between corners: 0 straight, more is a star",
        only_for=STAR,
    )
    rays: float = Dial(
        16, ge=2, le=200, high=60, step=1, label="Rays", hint="How many there are", only_for=RAYED
    )
    open: float = Dial(
        0.5, ge=0.02, le=0.98, step=0.01, label="Ray width", hint="Share of ink", only_for=RAYED
    )
    hole: float = Dial(
        0.0, ge=0.0, le=0.98, step=0.01, label="Hole", hint="How far out they begin", only_for=RAYED
    )
    inset: float = _mm(8.0, 60.0, "From the edge", "Of the paper to the border", FRAMED)
    thickness: float = _mm(3.0, 30.0, "Thickness", "Of the line", LINED, ge=0.05, low=0.1, step=0.1)
    lines: float = Dial(
        1, ge=1, le=8, high=4, step=1, label="Lines", hint="Inside each other", only_for=FRAMED
    )
    gap: float = _mm(
        2.0, 20.0, "Between lines", "Bare paper between them", FRAMED, ge=0.05, low=0.1, step=0.1
    )
    grow: float = _mm(
        4.0, 20.0, "Spread", "How far it reaches beyond the subject", SPREAD, step=0.1
    )


def figure_of(block: Block, paper: tuple[float, float]) -> Figure:
    """A block in its box; a border in the box of the paper, width and height in mm.

    Not of the subject's outline, which is made from pixels.
    """
    if block.figure == Plain.BORDER:
        return Figure(*paper, (Piece(rings_of(_border(block, *paper))),))
    width, height = block.width, block.height
    made = {
        Plain.RECTANGLE: lambda: _rounded(0, 0, width, height, block.corner),
        Plain.ELLIPSE: lambda: _ellipse(width, height),
        Plain.POLYGON: lambda: _polygon(block),
        Plain.RING: lambda: _ring(width, height, block.thickness),
        Plain.RAYS: lambda: _rays(block),
    }[block.figure]()
    return Figure(width, height, (Piece(rings_of(made)),))


def _rounded(left: float, top: float, right: float, bottom: float, by: float) -> BaseGeometry:
    width, height = right - left, bottom - top
    if width <= 0 or height <= 0:
        return Polygon()
    radius = min(by, 0.499 * width, 0.499 * height)
    if radius <= 0:
        return box(left, top, right, bottom)
    inner = box(left + radius, top + radius, right - radius, bottom - radius)
    return inner.buffer(radius, quad_segs=QUARTER)


def _circle(count: int = 4 * QUARTER) -> np.ndarray:
    """Corners of the unit circle, from its top on."""
    turn = 2 * np.pi * np.arange(count) / count
    return np.column_stack([np.sin(turn), -np.cos(turn)])


def _in_box(places: np.ndarray, width: float, height: float) -> np.ndarray:
    """Places of the unit circle in a box."""
    return (places + 1) * (width / 2, height / 2)


def _ellipse(width: float, height: float) -> BaseGeometry:
    return Polygon(_in_box(_circle(), width, height))


def _polygon(block: Block) -> BaseGeometry:
    count = round(block.sides)
    places = _circle(count)
    if block.dent > 0:
        # Between two corners, as far in as a straight side is, and farther.
        between = (places + np.roll(places, -1, 0)) / 2 * (1 - block.dent)
        places = np.stack([places, between], 1).reshape(-1, 2)
    return Polygon(_in_box(places, block.width, block.height))


def _ring(width: float, height: float, thickness: float) -> BaseGeometry:
    outer = _ellipse(width, height)
    if 2 * thickness >= min(width, height):
        return outer
    factors = 1 - 2 * thickness / width, 1 - 2 * thickness / height
    return outer.difference(scale(outer, *factors, origin=(width / 2, height / 2)))


def _rays(block: Block) -> BaseGeometry:
    step = 2 * math.pi / round(block.rays)
    fine = np.linspace(0, step * block.open, max(2, math.ceil(step * block.open * QUARTER)))
    wedges = []
    for number in range(round(block.rays)):
        turn = number * step + fine - step * block.open / 2
        rim = np.column_stack([np.sin(turn), -np.cos(turn)])
        inner = rim[::-1] * block.hole if block.hole > 0 else np.zeros((1, 2))
        wedges.append(Polygon(_in_box(np.vstack([rim, inner]), block.width, block.height)))
    return union_all(wedges)


def _border(block: Block, width: float, height: float) -> BaseGeometry:
    lines = []
    for number in range(round(block.lines)):
        outer = block.inset + number * (block.thickness + block.gap)
        inner = outer + block.thickness
        corner = max(0.0, block.corner - (outer - block.inset))
        whole = _rounded(outer, outer, width - outer, height - outer, corner)
        corner = max(0.0, corner - block.thickness)
        lines.append(
            whole.difference(_rounded(inner, inner, width - inner, height - inner, corner))
        )
    return union_all(lines)
