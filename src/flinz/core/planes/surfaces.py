"""Kernels of surfaces: what lies at a place on paper, as height in mm and as tint.

Places are mm at a surface's usual size; per_px, mm a pixel, and per_row, mm a row. What is finer
than a pixel is left out as averaging would leave it out. Each adds to a row what lies at its
places, x and y (N,).
"""

from typing import Any

import numpy as np
from numba import njit, prange

from flinz.core.planes.noise import (
    FIBRE,
    add_fibres,
    add_grain,
    add_noise,
    add_round,
    below,
    fibres_within,
    hashed,
    kept,
    rise,
    wave,
    waved,
)

# Whole numbers as int32, not as literals: each of those would be compiled anew.
f32, i32 = np.float32, np.int32

COURSE, BRICK, JOINT = 15.0, 44.0, 2.4


@njit(fastmath=True, error_model="numpy", cache=True)
def _wove(out, weight, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    add_round(out, weight * f32(0.016), x, y, f32(1.7), per_px, i32(1))
    add_round(out, weight * f32(0.011), x, y, f32(0.7), per_px, i32(2))
    add_round(out, weight * f32(0.005), x, y, f32(0.26), per_px, i32(3))


@njit(fastmath=True, error_model="numpy", cache=True)
def _laid(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    apart, chains = f32(1.05), f32(25.0)
    sway, breadth = waved(x, y, f32(40), f32(30), i32(11)), waved(x, y, f32(6), f32(0.5), i32(12))
    high = f32(0.016) * kept(apart / f32(2), per_px)
    for k in range(len(x)):
        lines = wave(y[k] / apart + f32(0.9 / (2 * np.pi)) * sway[k])
        out[k] += high * lines * (f32(0.8) + f32(0.4) * breadth[k])
        off = x[k] - chains * below(x[k] / chains + f32(0.5))
        if abs(off) < f32(3):
            out[k] += f32(0.03) * np.exp(-(off * off) / f32(0.5))
    _wove(out, f32(0.6), x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _kraft(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    add_grain(out, f32(0.012), x, y, f32(5.0), f32(0.45), per_px, i32(21))
    _wove(out, f32(0.8), x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _rough(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    # Pillows with sharp dips between them, as felts press them.
    way = f32(0.8 / 1.5), f32(-0.6 / 1.5), f32(0.6 / 1.3), f32(0.8 / 1.3), f32(0)
    pillows = np.zeros(len(x), np.float32)
    add_noise(pillows, f32(1), x, y, way, i32(31))
    high = f32(0.10 * 1.4) * kept(f32(0.8), per_px)
    for k in range(len(x)):
        out[k] += high * np.sqrt(pillows[k] * pillows[k] + f32(0.01))
    add_round(out, f32(0.030), x, y, f32(0.6), per_px, i32(32))
    add_round(out, f32(0.06), x, y, f32(2.9), per_px, i32(33))
    add_round(out, f32(0.008), x, y, f32(0.22), per_px, i32(34))


@njit(fastmath=True, error_model="numpy", cache=True)
def _linen(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    apart = f32(0.72)
    off_x, off_y = waved(x, y, f32(3), f32(9), i32(41)), waved(x, y, f32(9), f32(3), i32(42))
    for k in range(len(x)):
        off_x[k], off_y[k] = x[k] + f32(0.16) * off_x[k], y[k] + f32(0.16) * off_y[k]
    # Threads are thicker here and thinner there.
    warp = waved(off_x, off_y, apart, f32(7), i32(43))
    weft = waved(off_x, off_y, f32(7), apart, i32(44))
    high, half, once = f32(0.075) * kept(apart / f32(2), per_px), f32(0.5), f32(0.5) / apart
    for k in range(len(x)):
        across, down = wave(once * off_x[k]), wave(once * off_y[k])
        over = half * across * down
        woven = across * across * (f32(0.8) + f32(0.35) * warp[k]) * (half + over)
        woven += down * down * (f32(0.8) + f32(0.35) * weft[k]) * (half - over)
        out[k] += high * (woven - f32(0.4))


@njit(fastmath=True, error_model="numpy", cache=True)
def _board(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    add_round(out, f32(0.02), x, y, f32(1.1), per_px, i32(51))
    add_round(out, f32(0.012), x, y, f32(0.5), per_px, i32(52))


@njit(fastmath=True, error_model="numpy", cache=True)
def _plaster(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    # A trowel's strokes, which bend and end in ridges, over a wall that is not quite flat.
    u, v = waved(x, y, f32(38), f32(38), i32(61)), np.empty(len(x), np.float32)
    for k in range(len(x)):
        bend = f32(6) * u[k]
        u[k] = f32(0.83) * x[k] - f32(0.56) * y[k] + bend
        v[k] = f32(0.56) * x[k] + f32(0.83) * y[k] + bend
    ridges = np.zeros(len(x), np.float32)
    add_grain(ridges, f32(1), u, v, f32(17), f32(7), per_px, i32(63))
    for k in range(len(x)):
        ridge = f32(1) - abs(ridges[k])
        out[k] += f32(0.26) * ridge * ridge * ridge
    add_grain(out, f32(0.22), u, v, f32(26), f32(3.4), per_px, i32(62))
    add_round(out, f32(0.8), x, y, f32(24), per_px, i32(64))
    add_round(out, f32(0.04), x, y, f32(1.1), per_px, i32(65))
    add_round(out, f32(0.02), x, y, f32(0.35), per_px, i32(66))


@njit(fastmath=True, error_model="numpy", cache=True)
def _among_bricks(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    # Where places of a row lie among bricks that are not quite straight, and how far their edges
    # stand out there.
    off_x, off_y = waved(x, y, f32(5), f32(5), i32(71)), waved(x, y, f32(6), f32(4), i32(72))
    for k in range(len(x)):
        off_x[k], off_y[k] = x[k] + f32(0.5) * off_x[k], y[k] + f32(0.5) * off_y[k]
    edges = np.zeros_like(x)
    add_round(edges, f32(0.35), x, y, f32(0.9), per_px, i32(78))
    return off_x, off_y, edges


@njit(fastmath=True, error_model="numpy", cache=True)
def _in_brick(x, y) -> Any:  # type: ignore[no-untyped-def]
    # How far within its brick a place lies, mm (below 0 in a joint), and which brick it is.
    row = below(y / f32(COURSE))
    shift = f32(0.5) * (row - f32(2) * below(row / f32(2)))
    column = below(x / f32(BRICK) + shift)
    within_y = y - row * f32(COURSE)
    within_x = x - (column - shift) * f32(BRICK)
    edge = min(min(within_y, f32(COURSE) - within_y), min(within_x, f32(BRICK) - within_x))
    return edge - f32(JOINT / 2), i32(column), i32(row)


@njit(fastmath=True, error_model="numpy", cache=True)
def _brick(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    brick_x, brick_y, edges = _among_bricks(x, y, per_px)
    pits, fine, broad = np.zeros_like(x), np.zeros_like(x), np.zeros_like(x)
    add_round(pits, f32(1), x, y, f32(1.6), per_px, i32(73))
    add_round(fine, f32(0.05), x, y, f32(0.5), per_px, i32(74))
    add_round(broad, f32(0.15), x, y, f32(9), per_px, i32(77))
    for k in range(len(x)):
        edge, column, row = _in_brick(brick_x[k], brick_y[k])
        face = rise(edge + edges[k], f32(-0.7), f32(1.3))
        # No two stand out alike.
        stands = f32(0.5) + f32(0.15) * hashed(column, row, i32(76)) + broad[k]
        out[k] += face * (stands + f32(0.09) * pits[k] * abs(pits[k])) + fine[k]


@njit(fastmath=True, error_model="numpy", cache=True)
def _chalkboard(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    add_round(out, f32(0.006), x, y, f32(0.8), per_px, i32(81))
    add_round(out, f32(0.004), x, y, f32(0.4), per_px, i32(82))


@njit(fastmath=True, error_model="numpy", cache=True)
def _heights(kind, out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    if kind == 1:
        _wove(out, f32(1), x, y, per_px)
    elif kind == 2:
        _laid(out, x, y, per_px)
    elif kind == 3:
        _kraft(out, x, y, per_px)
    elif kind == 4:
        _rough(out, x, y, per_px)
    elif kind == 5:
        _linen(out, x, y, per_px)
    elif kind == 6:
        _board(out, x, y, per_px)
    elif kind == 7:
        _plaster(out, x, y, per_px)
    elif kind == 8:
        _brick(out, x, y, per_px)
    elif kind == 9:
        _chalkboard(out, x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _burnt(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    # Bricks, each burnt otherwise, in their mortar.
    brick_x, brick_y, edges = _among_bricks(x, y, per_px)
    clouds, fine = np.zeros_like(x), np.zeros_like(x)
    add_round(clouds, f32(0.10), x, y, f32(6), per_px, i32(109))
    add_round(fine, f32(0.09), x, y, f32(0.75), per_px, i32(110))
    for k in range(len(x)):
        edge, column, row = _in_brick(brick_x[k], brick_y[k])
        face = rise(edge + edges[k], f32(-0.5), f32(0.4))
        burnt = f32(0.22) * hashed(column, row, i32(108)) - f32(0.05) + clouds[k]
        out[k] += face * burnt + (f32(1) - face) * f32(0.42) + fine[k]


@njit(fastmath=True, error_model="numpy", cache=True)
def _dusty(out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    # Dust that was wiped about: broad streaks, at an angle, within clouds.
    v, u = waved(x, y, f32(160), f32(160), i32(112)), np.empty(len(x), np.float32)
    for k in range(len(x)):
        u[k] = f32(0.97) * x[k] + f32(0.24) * y[k]
        v[k] = f32(0.97) * y[k] - f32(0.24) * x[k] + f32(30) * v[k]
    streaks, dust = np.zeros_like(x), np.zeros_like(x)
    add_grain(streaks, f32(0.5), u, v, f32(60), f32(2.2), per_px, i32(113))
    add_round(dust, f32(0.5), x, y, f32(0.3), per_px, i32(115))
    clouds = waved(u, v, f32(70), f32(34), i32(114))
    for k in range(len(x)):
        cloud = f32(0.5) + f32(0.5) * clouds[k]
        wiped = (f32(0.5) + streaks[k]) * (f32(0.75) + dust[k])
        out[k] += f32(0.30) * cloud * cloud * wiped + f32(0.02)


@njit(fastmath=True, error_model="numpy", cache=True)
def _fibrous(kind) -> Any:  # type: ignore[no-untyped-def]
    # How strong fibres are, 0 where there are none; in which cells they lie, how long and thick,
    # mm; and their seed.
    if kind == 3:
        return f32(0.34), f32(1.5), f32(3.4), f32(0.07), i32(90)
    if kind == 6:
        return f32(0.30), f32(0.8), f32(1.1), f32(0.10), i32(100)
    return f32(0), f32(1), f32(1), f32(1), i32(0)


@njit(fastmath=True, error_model="numpy", cache=True)
def _tints(kind, out, x, y, per_px) -> None:  # type: ignore[no-untyped-def]
    if kind == 3:
        add_round(out, f32(0.05), x, y, f32(4), per_px, i32(96))
        add_grain(out, f32(0.06), x, y, f32(7), f32(0.4), per_px, i32(97))
    elif kind == 5:
        add_grain(out, f32(0.04), x, y, f32(0.72), f32(11), per_px, i32(98))
        add_grain(out, f32(0.04), x, y, f32(11), f32(0.72), per_px, i32(99))
    elif kind == 6:
        add_round(out, f32(0.05), x, y, f32(2), per_px, i32(106))
    elif kind == 7:
        add_round(out, f32(0.05), x, y, f32(30), per_px, i32(107))
    elif kind == 8:
        _burnt(out, x, y, per_px)
    elif kind == 9:
        _dusty(out, x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _places(left, row, count, off, per_px, per_row) -> Any:  # type: ignore[no-untyped-def]
    # Those of a row, off by a part of a pixel.
    x, y = np.empty(count, np.float32), np.empty(count, np.float32)
    for column in range(count):
        x[column] = (f32(left + column) + off) * per_px
        y[column] = (f32(row) + off) * per_row
    return x, y


@njit(parallel=True, fastmath=True, error_model="numpy", cache=True)
def surface(kind, left, top, width, height, per_px, per_row) -> Any:  # type: ignore[no-untyped-def]
    """Heights at the corners of pixels, (height + 1, width + 1), and tints, (height, width)."""
    corners = np.zeros((height + 1, width + 1), np.float32)
    tint = np.zeros((height, width), np.float32)
    strong, cell, length, thick, seed = _fibrous(kind)
    fibres, low_j = np.empty((0, 0, FIBRE), np.float32), i32(0)
    if strong > 0:
        right, bottom = f32(left + width) * per_px, f32(top + height) * per_row
        fibres, low_j = fibres_within(
            f32(left) * per_px, f32(top) * per_row, right, bottom, cell, length, seed
        )
    for row in prange(height + 1):
        x, y = _places(left, top + row, width + 1, f32(0), per_px, per_row)
        # A difference between corners averages already.
        _heights(kind, corners[row], x, y, per_px * f32(0.55))
        if row < height:
            x, y = _places(left, top + row, width, f32(0.5), per_px, per_row)
            _tints(kind, tint[row], x, y, per_px)
            if strong > 0:
                add_fibres(tint[row], strong, x, y[0], per_px, fibres, low_j, cell, length, thick)
    return corners, tint


@njit(parallel=True, fastmath=True, error_model="numpy", cache=True)
def sloped(corners, to_x, to_y, grain) -> Any:  # type: ignore[no-untyped-def]
    """Slopes and heights of pixels from those of their corners, (H, W) each.

    From corner to corner a difference is the mean slope over a pixel, whatever its size.
    """
    height, width = corners.shape[0] - 1, corners.shape[1] - 1
    slope = np.empty((height, width), np.float32)
    high = np.empty((height, width), np.float32)
    half, quarter = f32(0.5), f32(0.25) * grain
    for row in prange(height):
        for column in range(width):
            a, b = corners[row, column], corners[row, column + 1]
            c, d = corners[row + 1, column], corners[row + 1, column + 1]
            slope[row, column] = half * (to_x * (b - a + d - c) + to_y * (c - a + d - b))
            high[row, column] = quarter * (a + b + c + d)
    return slope, high


@njit(parallel=True, fastmath=True, error_model="numpy", cache=True)
def runs(left, top, width, height, per_px, per_row, short, long) -> Any:  # type: ignore[no-untyped-def]
    """How far ink runs across and down, (height, width) each, -1..1, mostly a little."""
    across = np.zeros((height, width), np.float32)
    down = np.zeros((height, width), np.float32)
    for row in prange(height):
        x, y = _places(left, top + row, width, f32(0.5), per_px, per_row)
        add_grain(across[row], f32(1), x, y, long, short, per_px, i32(121))
        add_grain(down[row], f32(1), x, y, short, long, per_px, i32(122))
        for column in range(width):
            across[row, column] *= abs(across[row, column])
            down[row, column] *= abs(down[row, column])
    return across, down
