"""Kernels of surfaces: what lies at a place on paper, as height in mm and as tint.

Places are mm at a surface's usual size; per_px, mm a pixel. What is finer than a pixel is left out
as averaging would leave it out.
"""

from typing import Any

import numpy as np
from numba import njit, prange

f32 = np.float32


@njit(fastmath=True, error_model="numpy", cache=True)
def _mixed(x, y, seed) -> Any:  # type: ignore[no-untyped-def]
    # 32 bits for each place of a lattice, each depending on all (after B. Jenkins, 1997).
    n = np.uint32(x * 0x0DA6B343 + y * 0x18163841 + seed * 0x0B1AB31F)
    n = np.uint32((n ^ (n >> np.uint32(16))) * np.uint32(0x7FEB352D))
    n = np.uint32((n ^ (n >> np.uint32(15))) * np.uint32(0x846CA68B))
    return np.uint32(n ^ (n >> np.uint32(16)))


@njit(fastmath=True, error_model="numpy", cache=True)
def _hashed(x, y, seed) -> Any:  # type: ignore[no-untyped-def]
    # A number -1..1.
    n = _mixed(x, y, seed) >> np.uint32(8)
    return f32(n) * f32(2.0 / 16777216.0) - f32(1.0)


@njit(fastmath=True, error_model="numpy", cache=True)
def _leaning(x, y, seed, u, v) -> Any:  # type: ignore[no-untyped-def]
    # The height at (u, v) from a corner, of a plane that leans any way.
    n = _mixed(x, y, seed)
    lean_x = f32(np.int32(n & np.uint32(0xFFFF)) - 32768)
    lean_y = f32(np.int32(n >> np.uint32(16)) - 32768)
    return (lean_x * u + lean_y * v) * f32(1.7 / 32768)


@njit(fastmath=True, error_model="numpy", cache=True)
def _noise(x, y, seed) -> Any:  # type: ignore[no-untyped-def]
    # Gradient noise, about -1..1 (K. Perlin, 1985; smooth in its second derivative: 2002).
    left, top = np.floor(x), np.floor(y)
    u, v = x - left, y - top
    one = f32(1)
    i, j = np.int32(left), np.int32(top)
    a, b = _leaning(i, j, seed, u, v), _leaning(i + 1, j, seed, u - one, v)
    c, d = _leaning(i, j + 1, seed, u, v - one), _leaning(i + 1, j + 1, seed, u - one, v - one)
    u = u * u * u * (u * (u * f32(6) - f32(15)) + f32(10))
    v = v * v * v * (v * (v * f32(6) - f32(15)) + f32(10))
    upper, lower = a + u * (b - a), c + u * (d - c)
    return upper + v * (lower - upper)


@njit(fastmath=True, error_model="numpy", cache=True)
def _left(cell, per_px) -> Any:  # type: ignore[no-untyped-def]
    # What a pixel's average leaves of a wave two cells long: the first factors of its sine.
    part = per_px * (f32(0.5) / cell)
    square = part * part
    one = f32(1)
    if square >= one:
        return f32(0)
    return (one - square) * (one - square * f32(1 / 4)) * (one - square * f32(1 / 9))


@njit(fastmath=True, error_model="numpy", cache=True)
def _grain(x, y, across, down, per_px, seed) -> Any:  # type: ignore[no-untyped-def]
    # Noise of cells of mm; nothing where they are finer than pixels.
    share = _left(min(across, down), per_px)
    if share <= 0:
        return f32(0)
    # Off the lattice's own axes, so that no cells line up.
    return share * _noise(x / across + f32(0.37) * f32(seed), y / down, seed)


@njit(fastmath=True, error_model="numpy", cache=True)
def _round(x, y, cell, per_px, seed) -> Any:  # type: ignore[no-untyped-def]
    c, s = f32(0.8), f32(0.6)
    return _grain(c * x - s * y, s * x + c * y, cell, cell, per_px, seed)


@njit(fastmath=True, error_model="numpy", cache=True)
def _wave(turn, length, per_px) -> Any:  # type: ignore[no-untyped-def]
    return np.cos(turn) * _left(length / f32(2), per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _rise(value, low, high) -> Any:  # type: ignore[no-untyped-def]
    part = min(max((value - low) / (high - low), f32(0)), f32(1))
    return part * part * (f32(3) - f32(2) * part)


@njit(fastmath=True, error_model="numpy", cache=True)
def _fibres(x, y, cell, length, width, per_px, seed) -> Any:  # type: ignore[no-untyped-def]
    # Light fibres less dark ones at a place: one in each cell of mm, any way, a little bent.
    i, j = np.int32(np.floor(x / cell)), np.int32(np.floor(y / cell))
    found, half_of_one = f32(0), f32(0.5)
    # What is thinner than a pixel covers as much less of it.
    broad = max(width, f32(0.7) * per_px)
    thin = width / broad
    for row in range(j - 1, j + 2):
        for column in range(i - 1, i + 2):
            off_x = x - cell * (column + half_of_one + half_of_one * _hashed(column, row, seed))
            off_y = y - cell * (row + half_of_one + half_of_one * _hashed(column, row, seed + 1))
            half = length * (f32(0.3) + f32(0.2) * _hashed(column, row, seed + 3))
            if off_x * off_x + off_y * off_y > half * half:
                continue
            turn = f32(np.pi) * _hashed(column, row, seed + 2)
            c, s = np.cos(turn), np.sin(turn)
            along, aside = c * off_x + s * off_y, c * off_y - s * off_x
            aside -= along * along * f32(0.25) * _hashed(column, row, seed + 4) / length
            if abs(aside) >= broad:
                continue
            end = f32(1) - _rise(abs(along), half * f32(0.7), half)
            core = f32(1) - _rise(abs(aside), f32(0.3) * broad, broad)
            found += _hashed(column, row, seed + 5) * thin * end * core
    return found


@njit(fastmath=True, error_model="numpy", cache=True)
def _wove(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    felt = f32(0.016) * _round(x, y, f32(1.7), per_px, 1)
    felt += f32(0.011) * _round(x, y, f32(0.7), per_px, 2)
    return felt + f32(0.005) * _round(x, y, f32(0.26), per_px, 3)


@njit(fastmath=True, error_model="numpy", cache=True)
def _laid(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    apart, chains = f32(1.05), f32(25.0)
    sway = f32(0.9) * _noise(x / f32(40), y / f32(30), 11)
    turn = f32(2 * np.pi) * y / apart + sway
    lines = f32(0.016) * _wave(turn, apart, per_px)
    lines *= f32(0.8) + f32(0.4) * _noise(x / f32(6), y / f32(0.5), 12)
    off = x - chains * np.floor(x / chains + f32(0.5))
    chain = f32(0.03) * np.exp(-(off * off) / f32(0.5))
    return lines + chain + f32(0.6) * _wove(x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _kraft(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    runs = f32(0.012) * _grain(x, y, f32(5.0), f32(0.45), per_px, 21)
    return runs + f32(0.8) * _wove(x, y, per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _rough(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    # Pillows with sharp dips between them, as felts press them.
    n = _noise(
        (f32(0.8) * x - f32(0.6) * y) / f32(1.5),
        (f32(0.6) * x + f32(0.8) * y) / f32(1.3),
        31,
    )
    large = np.sqrt(n * n + f32(0.01)) * f32(1.4)
    fine = _round(x, y, f32(0.6), per_px, 32)
    found = f32(0.10) * large * _left(f32(0.8), per_px)
    found += f32(0.030) * fine + f32(0.06) * _round(x, y, f32(2.9), per_px, 33)
    return found + f32(0.008) * _round(x, y, f32(0.22), per_px, 34)


@njit(fastmath=True, error_model="numpy", cache=True)
def _linen(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    apart = f32(0.72)
    x = x + f32(0.16) * _noise(x / f32(3), y / f32(9), 41)
    y = y + f32(0.16) * _noise(x / f32(9), y / f32(3), 42)
    # Threads are thicker here and thinner there.
    warp = f32(0.8) + f32(0.35) * _noise(x / apart, y / f32(7), 43)
    weft = f32(0.8) + f32(0.35) * _noise(x / f32(7), y / apart, 44)
    turn_x, turn_y = f32(np.pi) * x / apart, f32(np.pi) * y / apart
    across, down = np.cos(turn_x), np.cos(turn_y)
    over = across * down
    woven = across * across * warp * (f32(0.5) + f32(0.5) * over)
    woven += down * down * weft * (f32(0.5) - f32(0.5) * over)
    woven -= f32(0.4)
    return f32(0.075) * woven * _left(apart / f32(2), per_px)


@njit(fastmath=True, error_model="numpy", cache=True)
def _board(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    found = f32(0.02) * _round(x, y, f32(1.1), per_px, 51)
    return found + f32(0.012) * _round(x, y, f32(0.5), per_px, 52)


@njit(fastmath=True, error_model="numpy", cache=True)
def _plaster(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    # A trowel's strokes, which bend and end in ridges, over a wall that is not quite flat.
    bend = f32(6) * _noise(x / f32(38), y / f32(38), 61)
    u = f32(0.83) * x - f32(0.56) * y + bend
    v = f32(0.56) * x + f32(0.83) * y + bend
    stroke = _grain(u, v, f32(26), f32(3.4), per_px, 62)
    ridge = f32(1) - abs(_grain(u, v, f32(17), f32(7), per_px, 63))
    found = f32(0.22) * stroke + f32(0.26) * ridge * ridge * ridge
    found += f32(0.8) * _round(x, y, f32(24), per_px, 64)
    found += f32(0.04) * _round(x, y, f32(1.1), per_px, 65)
    return found + f32(0.02) * _round(x, y, f32(0.35), per_px, 66)


COURSE, BRICK, JOINT = 15.0, 44.0, 2.4


@njit(fastmath=True, error_model="numpy", cache=True)
def _in_brick(x, y) -> Any:  # type: ignore[no-untyped-def]
    # How far within its brick a place lies, mm (below 0 in a joint), and which brick it is.
    x = x + f32(0.5) * _noise(x / f32(5), y / f32(5), 71)
    y = y + f32(0.5) * _noise(x / f32(6), y / f32(4), 72)
    row = np.floor(y / f32(COURSE))
    shift = f32(0.5) * (row - f32(2) * np.floor(row / f32(2)))
    column = np.floor(x / f32(BRICK) + shift)
    within_y = y - row * f32(COURSE)
    within_x = x - (column - shift) * f32(BRICK)
    edge = min(min(within_y, f32(COURSE) - within_y), min(within_x, f32(BRICK) - within_x))
    return edge - f32(JOINT / 2), np.int32(column), np.int32(row)


@njit(fastmath=True, error_model="numpy", cache=True)
def _brick(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    edge, column, row = _in_brick(x, y)
    edge += f32(0.35) * _round(x, y, f32(0.9), per_px, 78)
    face = _rise(edge, f32(-0.7), f32(1.3))
    pits = _round(x, y, f32(1.6), per_px, 73)
    rough = f32(0.09) * pits * abs(pits) + f32(0.05) * _round(x, y, f32(0.6), per_px, 74)
    sand = f32(0.05) * _round(x, y, f32(0.4), per_px, 75)
    # No two stand out alike.
    out = f32(0.5) + f32(0.15) * _hashed(column, row, 76)
    broad = f32(0.15) * _round(x, y, f32(9), per_px, 77)
    return face * (out + rough + broad) + (f32(1) - face) * sand


@njit(fastmath=True, error_model="numpy", cache=True)
def _chalkboard(x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    found = f32(0.006) * _round(x, y, f32(0.8), per_px, 81)
    return found + f32(0.004) * _round(x, y, f32(0.4), per_px, 82)


@njit(fastmath=True, error_model="numpy", cache=True)
def _height(kind, x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    if kind == 1:
        return _wove(x, y, per_px)
    if kind == 2:
        return _laid(x, y, per_px)
    if kind == 3:
        return _kraft(x, y, per_px)
    if kind == 4:
        return _rough(x, y, per_px)
    if kind == 5:
        return _linen(x, y, per_px)
    if kind == 6:
        return _board(x, y, per_px)
    if kind == 7:
        return _plaster(x, y, per_px)
    if kind == 8:
        return _brick(x, y, per_px)
    if kind == 9:
        return _chalkboard(x, y, per_px)
    return f32(0)


@njit(fastmath=True, error_model="numpy", cache=True)
def _tint(kind, x, y, per_px) -> Any:  # type: ignore[no-untyped-def]
    if kind == 3:
        fibres = _fibres(x, y, f32(1.5), f32(3.4), f32(0.07), per_px, 90)
        cloud = f32(0.05) * _round(x, y, f32(4), per_px, 96)
        runs = f32(0.06) * _grain(x, y, f32(7), f32(0.4), per_px, 97)
        return f32(0.34) * fibres + cloud + runs
    if kind == 5:
        slubs = _grain(x, y, f32(0.72), f32(11), per_px, 98)
        return f32(0.04) * (slubs + _grain(x, y, f32(11), f32(0.72), per_px, 99))
    if kind == 6:
        fibres = _fibres(x, y, f32(0.8), f32(1.1), f32(0.10), per_px, 100)
        return f32(0.30) * fibres + f32(0.05) * _round(x, y, f32(2), per_px, 106)
    if kind == 7:
        return f32(0.05) * _round(x, y, f32(30), per_px, 107)
    if kind == 8:
        edge, column, row = _in_brick(x, y)
        edge += f32(0.35) * _round(x, y, f32(0.9), per_px, 78)
        face = _rise(edge, f32(-0.5), f32(0.4))
        burnt = f32(0.22) * _hashed(column, row, 108) - f32(0.05)
        burnt += f32(0.10) * _round(x, y, f32(6), per_px, 109)
        burnt += f32(0.09) * _round(x, y, f32(0.8), per_px, 110)
        mortar = f32(0.42) + f32(0.08) * _round(x, y, f32(0.7), per_px, 111)
        return face * burnt + (f32(1) - face) * mortar
    if kind == 9:
        # Dust that was wiped about: broad streaks, at an angle, within clouds.
        bend = f32(30) * _noise(x / f32(160), y / f32(160), 112)
        u = f32(0.97) * x + f32(0.24) * y
        v = f32(0.97) * y - f32(0.24) * x + bend
        streaks = f32(0.5) + f32(0.5) * _grain(u, v, f32(60), f32(2.2), per_px, 113)
        clouds = f32(0.5) + f32(0.5) * _noise(u / f32(70), v / f32(34), 114)
        dust = f32(0.75) + f32(0.5) * _round(x, y, f32(0.3), per_px, 115)
        return f32(0.30) * clouds * clouds * streaks * dust + f32(0.02)
    return f32(0)


@njit(parallel=True, fastmath=True, error_model="numpy", cache=True)
def surface(kind, left, top, width, height, per_px) -> Any:  # type: ignore[no-untyped-def]
    """Heights at the corners of pixels, (height + 1, width + 1), and tints, (height, width)."""
    corners = np.empty((height + 1, width + 1), np.float32)
    tint = np.empty((height, width), np.float32)
    half = f32(0.5)
    for row in prange(height + 1):
        y = f32(top + row) * per_px
        for column in range(width + 1):
            x = f32(left + column) * per_px
            # A difference between corners averages already.
            corners[row, column] = _height(kind, x, y, per_px * f32(0.55))
            if row < height and column < width:
                tint[row, column] = _tint(kind, x + half * per_px, y + half * per_px, per_px)
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
def runs(left, top, width, height, per_px, short, long) -> Any:  # type: ignore[no-untyped-def]
    """How far ink runs across and down, (height, width) each, -1..1, mostly a little."""
    across = np.empty((height, width), np.float32)
    down = np.empty((height, width), np.float32)
    half = f32(0.5)
    for row in prange(height):
        y = (f32(top + row) + half) * per_px
        for column in range(width):
            x = (f32(left + column) + half) * per_px
            one = _grain(x, y, long, short, per_px, 121)
            other = _grain(x, y, short, long, per_px, 122)
            across[row, column] = one * abs(one)
            down[row, column] = other * abs(other)
    return across, down
