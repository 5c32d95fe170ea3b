"""What a copier does to a whole sheet: lines it missed, streaks, dust, worn corners and edges."""

import math
from typing import Any

import numpy as np

from flinz.core.dial import Dial, Settings, Switch
from flinz.core.ground.figure import Figure, Piece
from flinz.core.ground.strewing import Places
from flinz.core.shapes.filled import Ring, signed_area

# A line is missed in runs of about this; its edge is uneven in steps of so much.
RUN_MM, UNEVEN_MM = 24.0, 1.2
# At full dirt, specks of dust to a cm², and how large they are, mm.
DUST_A_CM2, DUST_MM = 3.0, 0.16
# At full streaks, how many to 100 mm, and how wide.
STREAKS_A_100MM, STREAK_MM = 22.0, 0.35
MOST_SPECKS = 40_000
# How fine the edge of what is worn is followed, mm.
RAGGED_MM = 0.5


def _share(default: float, label: str, hint: str) -> Any:
    return Dial(default, ge=0.0, le=1.0, step=0.02, label=label, hint=hint)


def _mm(default: float, high: float, label: str, hint: str) -> Any:
    return Dial(default, ge=0.0, le=400.0, high=high, step=0.1, unit="mm", label=label, hint=hint)


class Wear(Settings):
    """How worn the machine and the original are."""

    missed: float = Dial(
        3.0,
        ge=0.0,
        le=100.0,
        high=20.0,
        step=0.5,
        label="Missed lines",
        hint="To each 100 mm of the sheet",
    )
    missed_width: float = _mm(0.5, 4.0, "Their width", "Of a missed line")
    gaps: float = _share(0.45, "Their gaps", "Share of a line that did print")
    upright: bool = Switch(
        False, label="Missed upright", hint="Lines run down the sheet, not across"
    )
    streaks: float = _share(0.0, "Streaks", "Fine lines of a worn drum, the other way")
    dust: float = _share(0.3, "Dust", "Specks all over")
    corners: float = _mm(0.0, 60.0, "Worn corners", "How far they are rubbed off")
    edges: float = _mm(0.0, 20.0, "Worn edges", "How far in the edges crumble")
    seed: float = Dial(
        1, ge=0, le=9999, high=99, step=1, label="Seed", hint="Another copy, worn otherwise"
    )


def figure_of(wear: Wear, paper: tuple[float, float]) -> Figure:
    """Everywhere the machine failed, in the box of a paper of that size, mm.

    What there is more of keeps what there was: dials add and take away at the end.
    """
    width, height = paper

    def dice(part: int) -> np.random.Generator:
        return np.random.default_rng([round(wear.seed), part])

    # As if lines were missed across; streaks run the other way.
    across, down = (height, width) if wear.upright else (width, height)
    lines = _missed(wear, across, down, dice(1))
    lines += [ring[:, ::-1] for ring in _streaks(wear, down, across, dice(2))]
    rings = [ring[:, ::-1] for ring in lines] if wear.upright else lines
    rings += _dust(wear, width, height, dice(3))
    rings += _corners(wear, width, height, dice(4))
    rings += _edges(wear, width, height, dice(5))
    one_way = tuple(ring if signed_area(ring) >= 0 else ring[::-1] for ring in rings)
    return Figure(width, height, (Piece(one_way),))


def _missed(wear: Wear, across: float, down: float, rng: np.random.Generator) -> list[Ring]:
    """Lines across, each in runs with gaps."""
    count = round(wear.missed * down / 100)
    rings: list[Ring] = []
    if wear.missed_width <= 0:
        return rings
    for _ in range(count):
        at, own = rng.uniform(0, down), np.random.default_rng(rng.integers(1 << 32))
        left = -own.uniform(0, RUN_MM)
        thick = wear.missed_width * own.uniform(0.5, 1.4)
        while left < across:
            long = RUN_MM * own.gamma(1.2, 1.0)
            ends = left + long * max(0.0, 1 - wear.gaps)
            if ends > left + 0.3:
                rings.append(_bar(left, min(ends, across + 1), at, thick, own))
            left += max(long, 1.0)
    return rings


def _bar(left: float, right: float, at: float, thick: float, rng: np.random.Generator) -> Ring:
    """A run of a line: uneven along both sides, thin at its ends."""
    steps = max(3, math.ceil((right - left) / UNEVEN_MM))
    x = np.linspace(left, right, steps)
    end = np.minimum(1, np.minimum(x - left, right - x) / max(2 * thick, 1e-6) + 0.15)
    above, below = thick / 2 * end * rng.uniform(0.55, 1.2, (2, steps))
    top, bottom = np.column_stack([x, at - above]), np.column_stack([x, at + below])
    return np.concatenate([top, bottom[::-1]])


def _streaks(wear: Wear, along: float, across: float, rng: np.random.Generator) -> list[Ring]:
    """Fine lines along the way of the paper, strong where the drum is."""
    most = round(STREAKS_A_100MM * across / 100)
    rings: list[Ring] = []
    for number, at in enumerate(rng.uniform(0, across, most)):
        own = np.random.default_rng(rng.integers(1 << 32))
        if number >= wear.streaks * most:
            break
        left = -own.uniform(0, 2 * RUN_MM)
        while left < along:
            long = 3 * RUN_MM * own.gamma(1.5, 1.0)
            thick = STREAK_MM * own.uniform(0.3, 1.0)
            rings.append(_bar(left, min(left + long, along + 1), at, thick, own))
            left += long * own.uniform(1.05, 1.6)
    return rings


def _dust(wear: Wear, width: float, height: float, rng: np.random.Generator) -> list[Ring]:
    most = min(MOST_SPECKS, round(DUST_A_CM2 * width * height / 100))
    places = rng.uniform(0, 1, (most, 2)) * (width, height)
    size = DUST_MM * np.exp(rng.normal(0, 0.6, most))
    turn = np.cumsum(rng.uniform(0.4, 1.6, (most, 8)), 1)
    turn *= 2 * np.pi / turn[:, -1:]
    radius = size[:, None] * rng.uniform(0.6, 1.2, (most, 8))
    shape = radius[..., None] * np.stack([np.cos(turn), np.sin(turn)], -1)
    return list((places[:, None] + shape)[: round(wear.dust * most)])


def _ragged(length: float, rng: np.random.Generator) -> tuple[Places, Places]:
    """Places along a torn edge, mm, and how far each is off it: of all sizes, within -1..1."""
    steps = max(8, math.ceil(length / RAGGED_MM))
    known = np.linspace(0, length, steps)
    off = np.zeros(steps)
    for octave, size in enumerate((12.0, 5.0, 2.0, 0.8)):
        knots = max(3, math.ceil(length / size) + 2)
        swing = rng.uniform(-1, 1, knots)
        off += np.interp(known, np.linspace(0, length, knots), swing) / 2**octave
    return known, off / 1.875


def _corners(wear: Wear, width: float, height: float, rng: np.random.Generator) -> list[Ring]:
    """Each corner rubbed off aslant, some farther than others, with crumbs beside the edge."""
    rings: list[Ring] = []
    for right, low in ((1, 1), (-1, 1), (-1, -1), (1, -1)):
        x, y = (0.0 if right > 0 else width), (0.0 if low > 0 else height)
        own = np.random.default_rng(rng.integers(1 << 32))
        by = wear.corners * own.uniform(0.7, 1.15)
        tilt = own.uniform(0.7, 1.4)
        if by <= 0:
            continue
        ends = np.array([[x + right * by * tilt, y], [x, y + low * by / tilt]])
        side = ends[1] - ends[0]
        length = float(np.hypot(*side))
        along, off = _ragged(length, own)
        out = np.array([right, low]) / math.sqrt(2)
        torn = ends[0] + along[:, None] / length * side + (0.22 * by * off)[:, None] * out
        # From beyond the corner, so that nothing of it is left.
        beyond = np.array([[-5.0, by], [-5.0, -5.0], [by, -5.0]]) * (right, low) + (x, y)
        rings.append(np.concatenate([torn, beyond]))
        count = round(6 * length)
        share = own.uniform(0, 1, count)
        away = own.exponential(0.12 * by, count)
        places = ends[0] + share[:, None] * side + away[:, None] * out
        rings += _crumbs(places, 0.35 * np.exp(own.normal(0, 0.6, count)), own)
    return rings


def _edges(wear: Wear, width: float, height: float, rng: np.random.Generator) -> list[Ring]:
    """All four sides crumbled."""
    rings: list[Ring] = []
    for side in range(4):
        own = np.random.default_rng(rng.integers(1 << 32))
        if wear.edges <= 0:
            continue
        length = height if side % 2 else width
        along, off = _ragged(length, own)
        deep = wear.edges * np.maximum(0.0, 0.45 + 0.75 * off)
        along, deep = np.append(along, [length + 5.0, -5.0]), np.append(deep, [-5.0, -5.0])
        rings.append(_inwards(side, along, deep, width, height))
        count = round(1.5 * length)
        at = own.uniform(0, length, count)
        away = own.exponential(0.35 * wear.edges, count) + 0.4 * wear.edges
        size = min(0.3, 0.15 * wear.edges) * np.exp(own.normal(0, 0.6, count))
        rings += _crumbs(_inwards(side, at, away, width, height), size, own)
    return rings


def _inwards(side: int, along: Places, deep: Places, width: float, height: float) -> Places:
    """Places so far along a side of the paper (above, right, below, left) and in from it."""
    match side:
        case 0:
            return np.column_stack([along, deep])
        case 1:
            return np.column_stack([width - deep, along])
        case 2:
            return np.column_stack([along, height - deep])
    return np.column_stack([deep, along])


def _crumbs(places: Places, size: Places, rng: np.random.Generator) -> list[Ring]:
    turn = 2 * np.pi * np.arange(7) / 7
    radius = size[:, None] * rng.uniform(0.5, 1.2, (len(places), 7))
    shape = radius[..., None] * np.stack([np.cos(turn), np.sin(turn)], -1)
    return list(places[:, None] + shape)
