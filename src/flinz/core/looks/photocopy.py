"""Photocopy: flattened tone, toner drawn to edges, coarse grain, dirt, and copies of copies."""

import math
from typing import Any, Literal

import cv2
import numpy as np
from numba import njit, prange

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.vectors import Dots
from flinz.core.planes.filters import Plane, blurred
from flinz.core.planes.grain import paper_grain
from flinz.core.planes.lattice import coarser, resampled
from flinz.core.scale import Frame
from flinz.core.shapes.cutting import edge_cover

GRAIN_SEED, DUST_SEED, STREAK_SEED, CLUMP_SEED = 41, 42, 43, 44
RIM_MM = 1.1
HOLLOW_MM = 5.0
STREAK_MM = 0.7
DUST_MM = 0.2
DUST_A_MM2 = 0.16
DUST_TILE_MM = 128.0
COPY_MM = 0.11
BROAD_PX_PER_MM = 2.0


class Photocopy(LookSettings):
    """What an office copier makes of a photo."""

    look: Literal["photocopy"] = "photocopy"
    exposure: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Exposure",
        hint="Tones below it turn to toner",
    )
    contrast: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Contrast",
        hint="How much grey is lost on the way",
    )
    rims: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Edges",
        hint="Toner gathers along edges",
    )
    hollow: float = Dial(
        0.35,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Hollow blacks",
        hint="Large blacks go pale in their middle",
    )
    grain: float = Dial(
        0.45,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Grain",
        hint="How coarse greys break up",
    )
    grain_size: float = Dial(
        0.42,
        ge=0.1,
        le=3.0,
        high=1.2,
        step=0.02,
        unit="mm",
        label="Grain size",
        hint="Size of a speck of toner",
    )
    dirt: float = Dial(
        0.25,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Dirt",
        hint="Dust on the glass",
    )
    streaks: float = Dial(
        0.2,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Streaks",
        hint="Lines of a worn drum down the sheet",
    )
    generations: float = Dial(
        1,
        ge=1,
        le=4,
        step=1,
        label="Generations",
        hint="A copy of a copy loses its thin lines",
    )
    smear: float = Dial(
        0.0,
        ge=0.0,
        le=60.0,
        high=30.0,
        step=0.5,
        unit="mm",
        label="Smear",
        hint="How far the original was moved",
    )
    smear_from: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Smear from",
        hint="Where down the sheet the smear begins",
        idle_at={"smear": 0},
    )
    corners: float = Dial(
        0.0,
        ge=0.0,
        le=80.0,
        high=40.0,
        step=0.5,
        unit="mm",
        label="Worn corners",
        hint="How far the original's corners are rubbed",
    )


def draw(tone: Plane, settings: Photocopy, frame: Frame, desk: Desk) -> Plane:
    """Toner as ink 0..1, in the order in which the machine does it."""
    moved = tone
    if settings.smear > 0:
        part = (settings.smear, settings.smear_from)
        moved = desk.keep("smear", part, lambda: _smeared(tone, frame, settings))
    key = (settings.smear, settings.smear_from)
    rim = desk.keep("rim", key, lambda: blurred(moved, frame.px(RIM_MM)))
    hollow = desk.keep("hollow", key, lambda: _broad(moved, frame))
    size = settings.grain_size
    grain = desk.keep("grain", size, lambda: paper_grain(frame, size, GRAIN_SEED))
    clumps = desk.keep("clumps", size, lambda: paper_grain(frame, 3.5 * size, CLUMP_SEED))
    streaks = desk.keep("streaks", None, lambda: _streaks(frame))
    amounts = (
        settings.exposure,
        1 + 3 * settings.contrast,
        0.9 * settings.rims,
        0.55 * settings.hollow,
        2.4 * settings.grain,
        0.9 * settings.streaks,
    )
    charge = _charged(moved, rim, hollow, grain, clumps, streaks, np.array(amounts, np.float32))
    cover = edge_cover(charge, 1.0)
    cover = _dirtied(cover, frame, settings, desk)
    for _ in range(round(settings.generations) - 1):
        cover = _copied(cover, frame)
    if settings.corners > 0:
        cover = cover * (1 - _worn(frame, settings.corners, grain, clumps))
    return np.asarray(cover, np.float32)


def _broad(tone: Plane, frame: Frame) -> Plane:
    # So wide a blur needs no fine grid.
    small, grid = coarser(tone, frame, BROAD_PX_PER_MM)
    return resampled(blurred(small, grid.px(HOLLOW_MM)), grid, frame)


@njit(parallel=True, fastmath=True, cache=True)
def _charged(  # type: ignore[no-untyped-def]
    moved, rim, hollow, grain, clumps, streaks, amounts
) -> Any:
    exposure, steep, rims, pale, coarse, worn = amounts
    out = np.empty_like(moved)
    for row in prange(moved.shape[0]):
        for column in range(moved.shape[1]):
            tone = moved[row, column]
            seen = tone + rims * (tone - rim[row, column])
            if tone < np.float32(0.5):
                seen += pale * max(np.float32(0.42) - hollow[row, column], np.float32(0.0))
            charge = (exposure - seen) * steep
            mixed = np.float32(0.75) * grain[row, column] + np.float32(0.25) * clumps[row, column]
            charge += coarse * (mixed - np.float32(0.5)) - worn * streaks[column]
            # Where there is hardly any charge no toner jumps, whatever the grain.
            if seen > exposure + np.float32(0.42):
                charge = min(charge, np.float32(-0.02))
            out[row, column] = charge
    return out


def _worn(frame: Frame, corners_mm: float, grain: Plane, clumps: Plane) -> Plane:
    """Where the corners of the original are rubbed off: 1 gone, 0 whole, ragged between."""
    x, y = frame.middles
    width, height = frame.sheet_mm
    from_side = np.minimum(x, width - x)[None]
    from_end = np.minimum(y, height - y)[:, None]
    # The wear cuts a corner off aslant, and the paper's own grain frays the edge.
    inwards = ((from_side + from_end) / max(corners_mm, 1e-3)).astype(np.float32)
    ragged = inwards + np.float32(0.5) * (0.5 * grain + 0.5 * clumps - np.float32(0.5))
    return edge_cover(np.asarray(1 - ragged, np.float32), 1.0)


def _streaks(frame: Frame) -> Plane:
    # One row of grain serves the whole length of the feed, where the machine misses toner.
    top = frame.part(frame.left, 0, frame.right, 1)
    row = paper_grain(top, STREAK_MM, STREAK_SEED)
    return np.asarray(np.maximum(row[0] - 0.72, 0) * 3.5, np.float32)


def _dirtied(cover: Plane, frame: Frame, settings: Photocopy, desk: Desk) -> Plane:
    if settings.dirt == 0:
        return cover
    dirt = settings.dirt
    dust = desk.keep("dust", dirt, lambda: dots_cover(_dust(frame, dirt), frame))
    return np.asarray(np.maximum(cover, dust))


def _dust(frame: Frame, dirt: float) -> Dots:
    """Specks on the glass: many fine ones, few large; more dirt adds to those that are there."""
    rng = np.random.default_rng(DUST_SEED)
    most = round(DUST_A_MM2 * DUST_TILE_MM**2)
    x, y = rng.uniform(0, DUST_TILE_MM, (2, most))
    radius = DUST_MM / 2 * np.exp(rng.normal(0, 0.45, most))
    some = slice(0, round(dirt * most))
    across, down = (math.ceil(side / DUST_TILE_MM) for side in frame.sheet_mm)
    shift = np.stack(np.meshgrid(np.arange(across), np.arange(down)), -1).reshape(-1, 2)
    places = np.stack([x, y], -1)[some] + shift[:, None] * DUST_TILE_MM
    sizes = np.broadcast_to(radius[some], places.shape[:2])
    across_mm, down_mm = frame.per_mm
    left, right = frame.left / across_mm, frame.right / across_mm
    top, bottom = frame.top / down_mm, frame.bottom / down_mm
    px, py = places[..., 0], places[..., 1]
    near = (px > left - 1) & (px < right + 1) & (py > top - 1) & (py < bottom + 1)
    kept = [np.asarray(column[near], np.float32) for column in (px, py, sizes)]
    return Dots(kept[0], kept[1], kept[2], blob=1.0)


def _copied(cover: Plane, frame: Frame) -> Plane:
    # Blur and cut a little above half: what is thin falls under, as on a real second copy.
    soft = blurred(cover, frame.px(COPY_MM))
    return edge_cover(np.asarray(soft - np.float32(0.54), np.float32), 1.0)


def _smeared(tone: Plane, frame: Frame, settings: Photocopy) -> Plane:
    """From a line on, the original slides sideways while it is scanned."""
    rows = (frame.top + np.arange(frame.height) + 0.5) / frame.full_height
    past = np.clip((rows - settings.smear_from) / max(1e-3, 1 - settings.smear_from), 0, 1)
    shift = frame.px(settings.smear) * past**1.5
    x = np.arange(frame.width, dtype=np.float32)[None] - shift[:, None].astype(np.float32)
    y = np.repeat(np.arange(frame.height, dtype=np.float32)[:, None], frame.width, 1)
    moved = cv2.remap(tone, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(moved, np.float32)


def reach_mm(settings: Photocopy) -> float:
    """The hollow blacks and the smear."""
    return 4 * HOLLOW_MM + settings.smear + math.ceil(settings.generations)


LOOK = Look(
    settings=Photocopy,
    label="Photocopy",
    purpose="Coarse toner grain, dark rims and dirt of an office copier",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    proof_factor=2,
    suits=Suits(parted=(0.8, 0.7), fine=(0.6, 0.5), led=(0.5, 0.1), spread=(1, 0.8)),
    decides=True,
)
