"""Kernels of noise: what it is along a row of places, and fibres that lie scattered about.

Places are mm or cells of a lattice. Rows are worked out as a whole, so that a processor takes
many places at once: nothing in their loops is called that could not be compiled into them.
"""

from typing import Any

import numpy as np
from numba import njit

f32, i32, u32 = np.float32, np.int32, np.uint32
# What a step across, down, and another seed add to the number of a place.
ACROSS, DOWN, SEED = u32(0x0DA6B343), u32(0x18163841), u32(0x0B1AB31F)
# What a fibre is: its middle, its direction, half its length, its bend, how light it is.
FIBRE = 7


@njit(fastmath=True, error_model="numpy", cache=True)
def _mixed(n) -> Any:  # type: ignore[no-untyped-def]
    # 32 bits, each depending on all (after B. Jenkins, 1997).
    n = u32(u32(n ^ (n >> u32(16))) * u32(0x7FEB352D))
    n = u32(u32(n ^ (n >> u32(15))) * u32(0x846CA68B))
    return u32(n ^ (n >> u32(16)))


@njit(fastmath=True, error_model="numpy", cache=True)
def hashed(x, y, seed) -> Any:  # type: ignore[no-untyped-def]
    """A number -1..1 for a place of a lattice."""
    n = _mixed(u32(u32(x) * ACROSS + u32(y) * DOWN + u32(seed) * SEED))
    return f32(i32(n >> u32(8))) * f32(2.0 / 16777216.0) - f32(1.0)


@njit(fastmath=True, error_model="numpy", cache=True)
def _leaning(place, u, v) -> Any:  # type: ignore[no-untyped-def]
    # The height at (u, v) from a corner, of a plane that leans any way.
    n = _mixed(place)
    lean_x = f32(i32(i32(n & u32(0xFFFF)) - i32(32768)))
    lean_y = f32(i32(i32(n >> u32(16)) - i32(32768)))
    return lean_x * u + lean_y * v


@njit(fastmath=True, error_model="numpy", cache=True)
def below(value) -> Any:  # type: ignore[no-untyped-def]
    """The whole number below, as numpy.floor, which is a call of its own."""
    whole = f32(i32(value))
    return whole - f32(1) if whole > value else whole


@njit(fastmath=True, error_model="numpy", cache=True)
def _cell(value) -> Any:  # type: ignore[no-untyped-def]
    return i32(below(value))


@njit(fastmath=True, error_model="numpy", cache=True)
def add_noise(out, weight, x, y, way, seed) -> None:  # type: ignore[no-untyped-def]
    """Adds weight times gradient noise, about -1..1, to each of a row.

    out, x, y: (N,) float32. way: (a, b, c, d, e), to places on a lattice of cells of 1:
    a x + b y + e, c x + d y. seed: int32. K. Perlin, 1985; smooth in its second derivative: 2002.
    """
    a, b, c, d, e = way
    one = f32(1)
    weight = weight * f32(1.7 / 32768)
    for k in range(len(out)):
        across, down = a * x[k] + b * y[k] + e, c * x[k] + d * y[k]
        left, top = below(across), below(down)
        u, v = across - left, down - top
        place = u32(u32(i32(left)) * ACROSS + u32(i32(top)) * DOWN + u32(seed) * SEED)
        upper, lower = _leaning(place, u, v), _leaning(u32(place + DOWN), u, v - one)
        right = u32(place + ACROSS)
        upper_right = _leaning(right, u - one, v)
        lower_right = _leaning(u32(right + DOWN), u - one, v - one)
        u = u * u * u * (u * (u * f32(6) - f32(15)) + f32(10))
        v = v * v * v * (v * (v * f32(6) - f32(15)) + f32(10))
        upper += u * (upper_right - upper)
        lower += u * (lower_right - lower)
        out[k] += weight * (upper + v * (lower - upper))


@njit(fastmath=True, error_model="numpy", cache=True)
def kept(cell, per_px) -> Any:  # type: ignore[no-untyped-def]
    """What a pixel's average leaves of a wave two cells long: the first factors of its sine."""
    part = per_px * (f32(0.5) / cell)
    square = part * part
    one = f32(1)
    if square >= one:
        return f32(0)
    return (one - square) * (one - square * f32(1 / 4)) * (one - square * f32(1 / 9))


@njit(fastmath=True, error_model="numpy", cache=True)
def add_grain(out, weight, x, y, across, down, per_px, seed) -> None:  # type: ignore[no-untyped-def]
    """Adds noise of cells of mm; nothing where they are finer than pixels."""
    share = kept(min(across, down), per_px)
    if share > 0:
        # Off the lattice's own axes, so that no cells line up.
        off = f32(0.37) * f32(seed)
        way = (f32(1) / across, f32(0), f32(0), f32(1) / down, off)
        add_noise(out, weight * share, x, y, way, seed)


@njit(fastmath=True, error_model="numpy", cache=True)
def add_round(out, weight, x, y, cell, per_px, seed) -> None:  # type: ignore[no-untyped-def]
    """Adds noise of round cells, on a lattice that is turned."""
    share = kept(cell, per_px)
    if share > 0:
        c, s = f32(0.8) / cell, f32(0.6) / cell
        add_noise(out, weight * share, x, y, (c, -s, s, c, f32(0.37) * f32(seed)), seed)


@njit(fastmath=True, error_model="numpy", cache=True)
def waved(x, y, across, down, seed) -> Any:  # type: ignore[no-untyped-def]
    """Noise along a row, of cells of so many mm however large a pixel is."""
    out = np.zeros(len(x), np.float32)
    add_noise(out, f32(1), x, y, (f32(1) / across, f32(0), f32(0), f32(1) / down, f32(0)), seed)
    return out


@njit(fastmath=True, error_model="numpy", cache=True)
def wave(turns) -> Any:  # type: ignore[no-untyped-def]
    """The cosine of so many turns, within 2e-6; numpy.cos is a call of its own."""
    q = f32(0.25) - abs(turns - below(turns + f32(0.5)))
    s = q * q
    high = f32(-76.70586) + s * (f32(42.0587) + s * f32(-15.0946))
    return q * (f32(6.2831853) + s * (f32(-41.341702) + s * (f32(81.605249) + s * high)))


@njit(fastmath=True, error_model="numpy", cache=True)
def rise(value, low, high) -> Any:  # type: ignore[no-untyped-def]
    """From 0 at low to 1 at high, smoothly."""
    part = min(max((value - low) / (high - low), f32(0)), f32(1))
    return part * part * (f32(3) - f32(2) * part)


@njit(fastmath=True, error_model="numpy", cache=True)
def fibres_within(  # type: ignore[no-untyped-def]
    left, top, right, bottom, cell, length, seed
) -> Any:
    """Fibres that reach into a rectangle of mm, light and dark, one in each cell of mm.

    They lie any way, a little bent. float32 (rows, columns, FIBRE) of cells, and the first cell's
    row.
    """
    reach = f32(0.5) * length
    low_i, high_i = _cell((left - reach) / cell), _cell((right + reach) / cell)
    low_j, high_j = _cell((top - reach) / cell), _cell((bottom + reach) / cell)
    found = np.empty((high_j - low_j + 1, high_i - low_i + 1, FIBRE), np.float32)
    half = f32(0.5)
    for row in range(found.shape[0]):
        for column in range(found.shape[1]):
            i, j, fibre = i32(low_i + column), i32(low_j + row), found[row, column]
            fibre[0] = cell * (f32(i) + half + half * hashed(i, j, seed))
            fibre[1] = cell * (f32(j) + half + half * hashed(i, j, i32(seed + 1)))
            turn = f32(np.pi) * hashed(i, j, i32(seed + 2))
            fibre[2], fibre[3] = np.cos(turn), np.sin(turn)
            fibre[4] = length * (f32(0.3) + f32(0.2) * hashed(i, j, i32(seed + 3)))
            fibre[5] = f32(0.25) * hashed(i, j, i32(seed + 4)) / length
            fibre[6] = hashed(i, j, i32(seed + 5))
    return found, low_j


@njit(fastmath=True, error_model="numpy", cache=True)
def add_fibres(  # type: ignore[no-untyped-def]
    out, weight, x, y, per_px, fibres, low_j, cell, length, width
) -> None:
    """Adds fibres to a row of pixels: x (N,) at steps of per_px, all at one y, mm."""
    reach = f32(0.5) * length
    # What is thinner than a pixel covers as much less of it.
    broad = max(width, f32(0.7) * per_px)
    weight = weight * width / broad
    first, last = _cell((y - reach) / cell) - low_j, _cell((y + reach) / cell) - low_j
    for row in range(max(0, first), min(fibres.shape[0], last + 1)):
        for column in range(fibres.shape[1]):
            fibre = fibres[row, column]
            off_y = y - fibre[1]
            if abs(off_y) < fibre[4]:
                _add_fibre(out, weight * fibre[6], x, per_px, off_y, fibre, broad)


@njit(fastmath=True, error_model="numpy", cache=True)
def _add_fibre(out, weight, x, per_px, off_y, fibre, broad) -> None:  # type: ignore[no-untyped-def]
    middle, c, s, half, bend = fibre[0], fibre[2], fibre[3], fibre[4], fibre[5]
    # How far it may reach on this row, and which part of that its own width takes.
    across = np.sqrt(half * half - off_y * off_y)
    low, high = -across, across
    if abs(s) > f32(1e-3):
        side = (broad + abs(bend) * half * half) / abs(s)
        low, high = max(low, c * off_y / s - side), min(high, c * off_y / s + side)
    # Rounded places may lie a pixel beside.
    start = max(0, _cell((middle + low - x[0]) / per_px) - 1)
    end = min(len(out), _cell((middle + high - x[0]) / per_px) + 3)
    for k in range(start, end):
        off_x = x[k] - middle
        along, aside = c * off_x + s * off_y, c * off_y - s * off_x
        aside = abs(aside - along * along * bend)
        if aside < broad and off_x * off_x + off_y * off_y <= half * half:
            ending = f32(1) - rise(abs(along), half * f32(0.7), half)
            out[k] += weight * ending * (f32(1) - rise(aside, f32(0.3) * broad, broad))
